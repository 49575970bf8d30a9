/** Which start of this installation runs: a second one tells of it and leaves it alone. */
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

/** What runs already: its process and address; null where nothing does. */
export function whatRuns() {
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
 * Notes that this process runs Kelbo; of two that try at once one gets it.
 * @returns what runs already; null where this one may go on.
 */
export function claimRunning(address) {
  mkdirSync(stateFolder, { recursive: true })
  const note = JSON.stringify({ processId: process.pid, address, since: new Date().toISOString() })
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
