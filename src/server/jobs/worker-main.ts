/** A worker process. Starts with the application; more may be started on other machines. */
import { constants, setPriority } from 'node:os'
import { endPolitely } from '../../host/stopping.ts'
import { openDatabase } from '../db/connection.ts'
import { startWorker, WORKER_DEFAULTS } from './worker.ts'

const url = process.env.KELBO_DATABASE_URL
if (!url) {
  console.error('KELBO_DATABASE_URL is not set: a worker needs the address of the database.')
  process.exit(2)
}
// where the page runs on the same machine, it answers first
setPriority(constants.priority.PRIORITY_BELOW_NORMAL)
const database = openDatabase(url, 4)
const worker = await startWorker(database, {
  lostAfterSeconds: Number(process.env.KELBO_LOST_AFTER ?? WORKER_DEFAULTS.lostAfterSeconds),
  stalledAfterSeconds: Number(process.env.KELBO_STALLED_AFTER ?? WORKER_DEFAULTS.stalledAfterSeconds),
  onlyShort: process.env.KELBO_ONLY_SHORT === 'yes',
})
console.log('worker ready')
endPolitely(async () => {
  await worker.close()
  await database.close()
})
