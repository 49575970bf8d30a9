import pg from 'pg'
import { writeLog, type Log } from '../plugins/logging.ts'
import { JOBS_CHANNEL } from './job-store.ts'

/** Calls back with the id of every job that changes, on any machine; reconnects when the connection is lost. */
export function listenToJobs(
  databaseUrl: string,
  log: Log,
  onJob: (jobId: string) => void,
): { close(): Promise<void> } {
  let client: pg.Client | null = null
  let closed = false
  const connect = async (): Promise<void> => {
    if (closed) return
    const next = new pg.Client({ connectionString: databaseUrl })
    const again = (): void => {
      if (client === next && !closed) {
        client = null
        setTimeout(() => void connect(), 1000)
      }
    }
    client = next
    next.on('notification', (notification) => notification.payload && onJob(notification.payload))
    next.on('error', again)
    next.on('end', again)
    try {
      await next.connect()
      await next.query(`listen ${JOBS_CHANNEL}`)
    } catch (error) {
      writeLog(log, 'listening', { err: error })
      again()
    }
  }
  void connect()
  return {
    async close() {
      closed = true
      await client?.end().catch(() => undefined)
    },
  }
}
