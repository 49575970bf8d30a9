import type { Progress } from '../../../app/host.ts'
import { ZIP_LIMITS_DEFAULTS, type ZipLimits } from '../../../core/formats/package/read-zip.ts'
import type { Db } from '../../db/connection.ts'
import type { TakenJob } from '../job-store.ts'
import type { RunTask } from '../threads.ts'

export interface JobContext {
  readonly db: Db
  readonly job: TakenJob
  readonly progress: Progress
  readonly signal: AbortSignal
  readonly runTask: RunTask
}

/** What a kind of job does: load, compute in a thread, make ready, save all in one transaction. */
export type Handler<Input> = (context: JobContext, input: Input) => Promise<void>

export const missing = (what: string): Error => new Error(`${what} is gone`)

/** Limits of unpacking, which an installation may set. */
export const zipLimits = (): ZipLimits => ({
  ...ZIP_LIMITS_DEFAULTS,
  ...(process.env.KELBO_ZIP_LIMIT ? { unpackedBytes: Number(process.env.KELBO_ZIP_LIMIT) } : {}),
})
