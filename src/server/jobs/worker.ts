import type { Database } from '../db/database.ts'
import {
  failJob,
  getJob,
  JobGone,
  recoverLostJobs,
  reportProgress,
  startJob,
  type JobKind,
} from '../db/job-store.ts'
import { sweepUnused } from '../db/sweep.ts'
import { describeError, errorDocument } from './errors.ts'
import { HANDLERS, type JobContext } from './handlers.ts'
import { listenToJobs, openQueue } from './queue.ts'
import { openThreads } from './threads.ts'

export interface WorkerSettings {
  /** Seconds without a sign after which a running job's worker is taken for dead. */
  readonly lostAfterSeconds: number
}

/** Milliseconds between two sweeps of what nothing names any more. */
const SWEEP_EVERY = 3600 * 1000

export const WORKER_DEFAULTS: WorkerSettings = { lostAfterSeconds: 30 }

/**
 * Works off jobs one after another until closed. Any number of workers, on any machines that reach the
 * database, may run side by side.
 */
export async function startWorker(
  database: Database,
  settings: WorkerSettings = WORKER_DEFAULTS,
): Promise<{ close(): Promise<void> }> {
  const queue = await openQueue(database)
  const threads = openThreads()
  let closing = false
  let running: { jobId: string; abort: AbortController } | null = null
  let wake: () => void = () => {}
  const listener = listenToJobs(database.url, (jobId) => {
    if (running?.jobId === jobId) void stopIfCancelled(jobId)
    else wake()
  })
  const stopIfCancelled = async (jobId: string): Promise<void> => {
    const job = await getJob(database.db, jobId)
    if (job?.state !== 'running' && running?.jobId === jobId) running.abort.abort(new JobGone())
  }

  const runJob = async (jobId: string): Promise<void> => {
    const job = await startJob(database.db, jobId)
    if (!job) return
    const abort = new AbortController()
    running = { jobId, abort }
    let latest: { share: number; stage: string } = { share: 0, stage: '' }
    let told = latest
    // progress is written at most five times a second, and a sign of life at least every third of the time-out
    let lastSign = Date.now()
    let writing = false
    const ticker = setInterval(() => {
      const quiet = latest === told && Date.now() - lastSign < (settings.lostAfterSeconds * 1000) / 3
      if (quiet || writing) return
      writing = true
      told = latest
      lastSign = Date.now()
      reportProgress(database.db, jobId, latest.share, latest.stage)
        .catch((error: Error) => console.error(`progress of ${jobId}: ${error.message}`))
        .finally(() => (writing = false))
    }, 200)
    const context: JobContext = {
      db: database.db,
      job,
      progress: (share, stage) => (latest = { share, stage }),
      signal: abort.signal,
      runTask: threads.run,
      enqueue: (next) => queue.enqueue(next),
    }
    try {
      const handler = HANDLERS[job.kind as JobKind] as (context: JobContext, input: unknown) => Promise<void>
      await handler(context, job.input)
    } catch (error) {
      if (!(error instanceof JobGone)) {
        const document = describeError(error)
        if (document.code === 'job.failed') console.error(`job ${jobId} (${job.kind}):`, error)
        await failJob(database.db, jobId, document)
      }
    } finally {
      clearInterval(ticker)
      running = null
    }
  }

  const pause = (): Promise<void> =>
    new Promise((resolve) => {
      const timer = setTimeout(resolve, 1000)
      wake = () => {
        clearTimeout(timer)
        resolve()
      }
    })

  let lastRecovery = 0
  let lastSweep = Date.now()
  const loop = async (): Promise<void> => {
    while (!closing) {
      try {
        if (Date.now() - lastRecovery > (settings.lostAfterSeconds * 1000) / 2) {
          lastRecovery = Date.now()
          for (const jobId of await recoverLostJobs(
            database.db,
            settings.lostAfterSeconds,
            errorDocument('job.lost'),
          ))
            await queue.enqueue(jobId)
        }
        if (Date.now() - lastSweep > SWEEP_EVERY) {
          lastSweep = Date.now()
          await sweepUnused(database.db, 60)
        }
        const jobId = await queue.take()
        if (jobId) await runJob(jobId)
        else await pause()
      } catch (error) {
        console.error(`worker: ${(error as Error).message}`)
        await pause()
      }
    }
  }
  const done = loop()
  return {
    async close() {
      closing = true
      running?.abort.abort(new JobGone())
      wake()
      await done
      await listener.close()
      await queue.close()
      await threads.close()
    },
  }
}
