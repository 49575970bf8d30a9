/** Starting programs, and the places that all scripts share. */
import { spawn, spawnSync } from 'node:child_process'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'

export const root = join(dirname(fileURLToPath(import.meta.url)), '..')
/** What belongs to this copy of the program: its build, results of tests. */
export const workFolder = join(root, '.kelbo')
/** Where the database and its password lie. */
export const stateFolder = process.env.KELBO_STATE ? resolve(process.env.KELBO_STATE) : workFolder
export const isRoot = process.getuid?.() === 0

/** Runs a program to its end. @returns its exit status. */
export const run = (program, args, options = {}) =>
  spawnSync(program, args, { cwd: root, stdio: 'inherit', ...options }).status ?? 1

/** Runs a program quietly. @returns status and output. */
export function capture(program, args, options = {}) {
  const result = spawnSync(program, args, { cwd: root, encoding: 'utf8', ...options })
  return { status: result.status ?? 1, output: `${result.stdout ?? ''}${result.stderr ?? ''}` }
}

/** Runs one of the installed packages' programs with this Node. */
export const node = (script, args, options) => run(process.execPath, [join(root, script), ...args], options)

export const start = (args, options = {}) =>
  spawn(process.execPath, args, { cwd: root, stdio: ['ignore', 'pipe', 'inherit'], ...options })
