/** What works on this installation's data: a start, a backup, a restore. A second one tells of it and leaves it alone. */
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { stateFolder } from './run.mjs'

const noteFile = join(stateFolder, 'running.json')

/** The process is there and is a Kelbo, not another one that got its number since. */
function isAlive(processId) {
  try {
    process.kill(processId, 0)
  } catch (error) {
    if (error.code !== 'EPERM') return false
  }
  try {
    return readFileSync(`/proc/${processId}/cmdline`, 'utf8').includes('kelbo')
  } catch {
    // no /proc here: its number is all there is to know
    return true
  }
}

/** What is done already: by which process, and where it answers if it is a start; null where nothing is. */
function whatRuns() {
  try {
    const note = JSON.parse(readFileSync(noteFile, 'utf8'))
    return Number.isInteger(note.processId) && note.processId !== process.pid && isAlive(note.processId)
      ? note
      : null
  } catch {
    return null
  }
}

/**
 * Notes what this process does; of two that try at once one gets it.
 * @param what `{ address }` of a start, or `{ doing }` in words.
 * @returns what is done already; null where this one may go on.
 */
export function claimRunning(what) {
  mkdirSync(stateFolder, { recursive: true })
  const note = JSON.stringify({ processId: process.pid, ...what, since: new Date().toISOString() })
  for (let attempt = 0; attempt < 2; attempt++)
    try {
      writeFileSync(noteFile, note, { flag: 'wx' })
      process.once('exit', () => rmSync(noteFile, { force: true }))
      return null
    } catch (error) {
      if (error.code !== 'EEXIST') throw error
      const other = whatRuns()
      if (other) return other
      // left by one that was ended so that it could not tidy up
      rmSync(noteFile, { force: true })
    }
  return whatRuns()
}

/** Why one has to wait, in words. */
export const inTheWay = ({ address, doing, processId, since }) =>
  address
    ? `Kelbo runs already, at ${address} (process ${processId}, since ${since}). Stop it there with Ctrl-C, or by: kill ${processId}`
    : `Wait for what is being done with the data: ${doing} (process ${processId}, since ${since}).`
