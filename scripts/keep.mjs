/** Leaves commands to the keeper, which runs them should this process end without having run them itself. */
import { spawn } from 'node:child_process'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { root } from './run.mjs'

let keeper = null
let count = 0

const tell = (message) => {
  if (!keeper) {
    const script = join(dirname(fileURLToPath(import.meta.url)), 'keeper.mjs')
    keeper = spawn(process.execPath, [script], { detached: true, stdio: ['pipe', 'ignore', 'ignore'] })
    // one that was ended by somebody else is no reason to end too
    keeper.stdin.on('error', () => undefined)
    keeper.on('error', () => undefined)
    keeper.unref()
    keeper.stdin.unref?.()
  }
  keeper.stdin.write(`${JSON.stringify(message)}\n`)
}

/** @returns a function that takes the command back: what it ends has ended. */
export function keep(command) {
  const id = String(++count)
  tell({ id, command })
  return () => tell({ id })
}

/**
 * Runs one of the installed packages' programs with this Node in a process group of its own, which the keeper ends
 * should this process end first. What is idle gives way to everything else that asks for a processor.
 * @returns its exit status.
 */
export function nodeKept(script, args, { isIdle = false, ...options } = {}) {
  const command = [process.execPath, join(root, script), ...args]
  const [program, ...words] = isIdle ? ['nice', '-n', '15', ...command] : command
  const child = spawn(program, words, {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    detached: true,
    ...options,
  })
  const forget = keep(['kill', '-TERM', '--', `-${child.pid}`])
  return new Promise((resolve, reject) => {
    child.once('error', reject)
    child.once('exit', (code) => {
      forget()
      resolve(code ?? 1)
    })
  })
}
