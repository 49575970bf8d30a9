/** The command line: the core without the interface. JSON on standard output, words on standard error. */
import { runCommandLine } from './run-command-line.ts'

// who reads no further, as `head`, ends us quietly
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code !== 'EPIPE') throw error
  process.exit(0)
})
process.exitCode = await runCommandLine(process.argv.slice(2), {
  out: (text) => process.stdout.write(`${text}\n`),
  say: (text) => console.error(text),
})
