import { KelboError } from '../../core/base/messages/collector.ts'
import { isConnectionLost } from '../db/faults.ts'
import type { Database } from '../db/connection.ts'
import { sweepUnused } from '../content/sweep.ts'
import { describeError, errorDocument } from '../plugins/error-documents.ts'
import { createLog, writeLog, type Log } from '../plugins/logging.ts'
import { HANDLERS } from './handlers/registry.ts'
import type { Handler, JobContext } from './handlers/handler.ts'
import {
  failJob,
  giveBackJob,
  JobGone,
  recoverLostJobs,
  reportProgress,
  takeJob,
  tryAgain,
  type TakenJob,
} from './job-store.ts'
import { listenToJobs } from './listen-to-jobs.ts'
import { openThreads } from './threads.ts'

export interface WorkerSettings {
  /** Seconds without a sign after which a running job's worker is taken for dead. */
  readonly lostAfterSeconds: number
  /** Seconds without progress after which a job is ended. */
  readonly stalledAfterSeconds: number
  /** Takes short jobs only, so that they are not behind long ones. */
  readonly onlyShort: boolean
}

/** Milliseconds between two sweeps of what nothing names any more. */
const SWEEP_EVERY = 3600 * 1000

export const WORKER_DEFAULTS: WorkerSettings = {
  lostAfterSeconds: 30,
  stalledAfterSeconds: 600,
  onlyShort: false,
}

/** Milliseconds for which a job is given back to a database that doesn't answer; then the next worker notices. */
const GIVING_BACK_FOR = 60_000

/** Rejects with the signal's reason. */
const aborted = (signal: AbortSignal): Promise<never> =>
  new Promise((_resolve, reject) =>
    signal.addEventListener('abort', () => reject(signal.reason as Error), { once: true }),
  )

/** Why a running job is let go. */
class Stopping extends JobGone {}

/**
 * Works off jobs one after another until closed. Any number of workers, on any machines that reach the
 * database, may run side by side.
 */
export async function startWorker(
  database: Database,
  given: Partial<WorkerSettings> = {},
  log: Log = createLog('worker'),
): Promise<{ close(): Promise<void> }> {
  const { db } = database
  const settings = { ...WORKER_DEFAULTS, ...given }
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

  /** What becomes of a job that did not come to its end. */
  const settle = async (job: TakenJob, error: unknown): Promise<void> => {
    if (error instanceof Stopping) return giveBackJob(db, job)
    if (error instanceof JobGone) return
    const told = describeError(error)
    if (told.code === 'job.failed') writeLog(log, 'job-failed', { err: error, job: job.id, kind: job.kind })
    if (!isConnectionLost(error)) return failJob(db, job, told)
    writeLog(log, 'job-lost-database', { err: error, job: job.id, kind: job.kind })
    const until = Date.now() + GIVING_BACK_FOR
    for (;;)
      try {
        if (!(await tryAgain(db, job))) await failJob(db, job, told)
        return
      } catch (again) {
        if (!isConnectionLost(again) || closing || Date.now() > until) throw again
        await new Promise((resolve) => setTimeout(resolve, 500))
      }
  }

  const runJob = async (job: TakenJob): Promise<void> => {
    const abort = new AbortController()
    running = { job, abort }
    latest = { share: 0, stage: '' }
    let told = latest
    // progress is written at most five times a second, and a sign of life at least every third of the time-out
    let lastSign = Date.now()
    let lastProgress = Date.now()
    const ticker = setInterval(() => {
      if (latest !== told) lastProgress = Date.now()
      else if (Date.now() - lastProgress > settings.stalledAfterSeconds * 1000)
        abort.abort(
          new KelboError('job.stalled', {
            minutes: Math.max(1, Math.round(settings.stalledAfterSeconds / 60)),
          }),
        )
      const quiet =
        latest === told && !cancelledPerhaps && Date.now() - lastSign < (settings.lostAfterSeconds * 1000) / 3
      if (quiet || reporting) return
      reporting = true
      cancelledPerhaps = false
      told = latest
      lastSign = Date.now()
      look(job, latest.share, latest.stage)
        .catch((error: unknown) => writeLog(log, 'no-progress-told', { err: error, job: job.id }))
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
      // what hangs is left alone: whatever it saves later counts only while the job is still its own
      await Promise.race([
        (HANDLERS[job.kind] as Handler<unknown>)(context, job.input),
        aborted(abort.signal),
      ])
    } catch (error) {
      await settle(job, error)
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
        const job = await takeJob(db, settings.onlyShort)
        // asked to stop while the job was being taken: nobody has told what would do it
        if (job) await (closing ? giveBackJob(db, job) : runJob(job))
        else await pause()
      } catch (error) {
        writeLog(log, 'worker', { err: error })
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
