import type { Database } from '../db/connection.ts'
import { sweepUnused } from '../content/sweep.ts'
import { describeError, errorDocument } from '../plugins/error-documents.ts'
import { createLog, type Log } from '../plugins/logging.ts'
import { HANDLERS } from './handlers/registry.ts'
import type { Handler, JobContext } from './handlers/handler.ts'
import {
  failJob,
  giveBackJob,
  JobGone,
  recoverLostJobs,
  reportProgress,
  takeJob,
  type TakenJob,
} from './job-store.ts'
import { listenToJobs } from './listen-to-jobs.ts'
import { openThreads } from './threads.ts'

export interface WorkerSettings {
  /** Seconds without a sign after which a running job's worker is taken for dead. */
  readonly lostAfterSeconds: number
}

/** Milliseconds between two sweeps of what nothing names any more. */
const SWEEP_EVERY = 3600 * 1000

export const WORKER_DEFAULTS: WorkerSettings = { lostAfterSeconds: 30 }

/** Why a running job is let go. */
class Stopping extends JobGone {}

/**
 * Works off jobs one after another until closed. Any number of workers, on any machines that reach the
 * database, may run side by side.
 */
export async function startWorker(
  database: Database,
  settings: WorkerSettings = WORKER_DEFAULTS,
  log: Log = createLog('worker'),
): Promise<{ close(): Promise<void> }> {
  const { db } = database
  const threads = openThreads()
  let closing = false
  let running: { job: TakenJob; abort: AbortController } | null = null
  let wake: () => void = () => {}
  let woken = false
  const look = async (job: TakenJob, share: number, stage: string): Promise<void> => {
    const mine = await reportProgress(db, job, share, stage)
    if (!mine && running?.job === job) running.abort.abort(new JobGone())
  }
  let latest: { share: number; stage: string } = { share: 0, stage: '' }
  const listener = listenToJobs(database.url, log, (jobId) => {
    if (running?.job.id === jobId) {
      // cancelled, perhaps; what the worker itself announced is told by the next sign of life anyway
      if (!reporting) cancelledPerhaps = true
    } else {
      woken = true
      wake()
    }
  })
  let reporting = false
  let cancelledPerhaps = false

  const runJob = async (job: TakenJob): Promise<void> => {
    const abort = new AbortController()
    running = { job, abort }
    latest = { share: 0, stage: '' }
    let told = latest
    // progress is written at most five times a second, and a sign of life at least every third of the time-out
    let lastSign = Date.now()
    const ticker = setInterval(() => {
      const quiet =
        latest === told && !cancelledPerhaps && Date.now() - lastSign < (settings.lostAfterSeconds * 1000) / 3
      if (quiet || reporting) return
      reporting = true
      cancelledPerhaps = false
      told = latest
      lastSign = Date.now()
      look(job, latest.share, latest.stage)
        .catch((error: unknown) => log.warn({ err: error, job: job.id }, 'telling progress'))
        .finally(() => (reporting = false))
    }, 200)
    const context: JobContext = {
      db,
      job,
      progress: (share, stage) => (latest = { share, stage }),
      signal: abort.signal,
      runTask: threads.run,
    }
    try {
      await (HANDLERS[job.kind] as Handler<unknown>)(context, job.input)
    } catch (error) {
      if (error instanceof Stopping) await giveBackJob(db, job)
      else if (!(error instanceof JobGone)) {
        const told = describeError(error)
        if (told.code === 'job.failed') log.error({ err: error, job: job.id, kind: job.kind }, 'a job failed')
        await failJob(db, job, told)
      }
    } finally {
      clearInterval(ticker)
      running = null
    }
  }

  const pause = (): Promise<void> =>
    new Promise((resolve) => {
      if (woken || closing) {
        woken = false
        return resolve()
      }
      const timer = setTimeout(resolve, 1000)
      wake = () => {
        woken = false
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
          await recoverLostJobs(db, settings.lostAfterSeconds, errorDocument('job.lost'))
        }
        if (Date.now() - lastSweep > SWEEP_EVERY) {
          lastSweep = Date.now()
          await sweepUnused(db, 60)
        }
        const job = await takeJob(db)
        if (job) await runJob(job)
        else await pause()
      } catch (error) {
        log.warn({ err: error }, 'worker')
        await pause()
      }
    }
  }
  const done = loop()
  return {
    async close() {
      closing = true
      running?.abort.abort(new Stopping())
      wake()
      await done
      await listener.close()
      await threads.close()
    },
  }
}
