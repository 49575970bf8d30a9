import PgBoss from 'pg-boss'
import pg from 'pg'
import type { Database } from '../db/database.ts'
import { JOBS_CHANNEL } from '../db/job-store.ts'

const QUEUE = 'kelbo-work'

/** The queue in PostgreSQL: ids of jobs whose rows say what to do. */
export interface Queue {
  enqueue(jobId: string): Promise<void>
  /** The next job's id, or null; whoever got it has it alone. */
  take(): Promise<string | null>
  close(): Promise<void>
}

export async function openQueue(database: Database): Promise<Queue> {
  const boss = new PgBoss({ connectionString: database.url, max: 3, schedule: false })
  boss.on('error', (error) => console.error(`queue: ${error.message}`))
  await boss.start()
  await boss.createQueue(QUEUE)
  return {
    async enqueue(jobId) {
      // a lost worker is noticed by its heartbeat (see worker.ts), sooner than a queue's own time-out could
      await boss.send(QUEUE, { jobId }, { retryLimit: 0 })
      // idle workers look at once instead of at their next turn
      await database.pool.query('select pg_notify($1, $2)', [JOBS_CHANNEL, jobId])
    },
    async take() {
      const [entry] = await boss.fetch<{ jobId: string }>(QUEUE, { batchSize: 1 })
      if (!entry) return null
      await boss.complete(QUEUE, entry.id)
      return entry.data.jobId
    },
    close: () => boss.stop({ graceful: false, wait: false }),
  }
}

/** Calls back with the id of every job that changes, on any machine; reconnects when the connection is lost. */
export function listenToJobs(
  databaseUrl: string,
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
      console.error(`listening for jobs: ${(error as Error).message}`)
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
