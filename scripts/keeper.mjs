/**
 * Ends what its parent leaves behind. The parent holds the other end of standard input: when it is gone, however it
 * ended, the commands that were left here are run. In a session of its own, so that Ctrl-C doesn't end it too.
 */
import { spawnSync } from 'node:child_process'
import { createInterface } from 'node:readline'

const left = new Map()
const lines = createInterface({ input: process.stdin })
lines.on('line', (line) => {
  const { id, command } = JSON.parse(line)
  if (command) left.set(id, command)
  else left.delete(id)
})
lines.on('close', () => {
  for (const [program, ...args] of [...left.values()].reverse())
    spawnSync(program, args, { stdio: 'ignore', cwd: '/' })
})
