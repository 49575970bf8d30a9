import { and, desc, eq, inArray, sql } from 'drizzle-orm'
import type { ErrorDocument, JobDocument } from '../../contract/api.ts'
import type { Db, Tx } from './database.ts'
import { jobs } from './schema.ts'

export type JobKind = JobDocument['kind']

/** Channel on which changed jobs are announced to every server and worker. */
export const JOBS_CHANNEL = 'kelbo_jobs'

export type JobRow = typeof jobs.$inferSelect

export const jobDocument = (row: JobRow): JobDocument => ({
  id: row.id,
  kind: row.kind as JobKind,
  title: row.title,
  state: row.state as JobDocument['state'],
  progress: row.progress,
  stage: row.stage,
  assetId: row.assetId,
  tripId: row.tripId,
  result: row.result as JobDocument['result'],
  error: row.error as ErrorDocument | null,
  createdAt: row.createdAt.toISOString(),
  startedAt: row.startedAt?.toISOString() ?? null,
  finishedAt: row.finishedAt?.toISOString() ?? null,
})

const announce = (db: Db | Tx, id: string): Promise<unknown> =>
  db.execute(sql`select pg_notify(${JOBS_CHANNEL}, ${id})`)

export async function createJob(
  tx: Tx,
  job: { kind: JobKind; title: string; input: unknown; assetId?: string | null; tripId?: string | null },
): Promise<string> {
  const [row] = await tx
    .insert(jobs)
    .values({ ...job, assetId: job.assetId ?? null, tripId: job.tripId ?? null, state: 'queued' })
    .returning({ id: jobs.id })
  await announce(tx, row!.id)
  return row!.id
}

export async function getJob(db: Db | Tx, id: string): Promise<JobRow | null> {
  const [row] = await db.select().from(jobs).where(eq(jobs.id, id))
  return row ?? null
}

export const listJobs = (db: Db): Promise<JobRow[]> =>
  db.select().from(jobs).orderBy(desc(jobs.createdAt)).limit(100)

/** Takes a queued job up; null where it was cancelled or another worker has it. */
export async function startJob(db: Db, id: string): Promise<JobRow | null> {
  const [row] = await db
    .update(jobs)
    .set({
      state: 'running',
      startedAt: sql`now()`,
      heartbeatAt: sql`now()`,
      attempts: sql`${jobs.attempts} + 1`,
      progress: 0,
    })
    .where(and(eq(jobs.id, id), eq(jobs.state, 'queued')))
    .returning()
  if (row) await announce(db, id)
  return row ?? null
}

export async function reportProgress(db: Db, id: string, progress: number, stage: string): Promise<void> {
  await db
    .update(jobs)
    .set({ progress, stage, heartbeatAt: sql`now()` })
    .where(and(eq(jobs.id, id), eq(jobs.state, 'running')))
  await announce(db, id)
}

/**
 * Closes a running job within the transaction that saves its work, so that both happen or neither does.
 * @throws JobGone where the job was cancelled meanwhile.
 */
export async function finishJob(
  tx: Tx,
  id: string,
  result: unknown,
  ids: { assetId?: string; tripId?: string } = {},
): Promise<void> {
  const rows = await tx
    .update(jobs)
    .set({ state: 'done', progress: 1, stage: '', result, finishedAt: sql`now()`, ...ids })
    .where(and(eq(jobs.id, id), eq(jobs.state, 'running')))
    .returning({ id: jobs.id })
  if (rows.length === 0) throw new JobGone()
  await announce(tx, id)
}

/** The job is no longer this worker's: it was cancelled, or taken for lost. */
export class JobGone extends Error {}

export async function failJob(db: Db, id: string, error: ErrorDocument): Promise<void> {
  await db
    .update(jobs)
    .set({ state: 'failed', error, finishedAt: sql`now()` })
    .where(and(eq(jobs.id, id), eq(jobs.state, 'running')))
  await announce(db, id)
}

/** A job that is over already stays as it ended. */
export async function cancelJob(db: Db, id: string, error: ErrorDocument): Promise<void> {
  await db
    .update(jobs)
    .set({ state: 'cancelled', error, finishedAt: sql`now()` })
    .where(and(eq(jobs.id, id), inArray(jobs.state, ['queued', 'running'])))
  await announce(db, id)
}

/**
 * Running jobs whose worker has not been heard of for `seconds` go back to the queue, or fail after the
 * third attempt (a file that ends its worker would else end all of them).
 * @returns ids to be queued again.
 */
export async function recoverLostJobs(db: Db, seconds: number, lost: ErrorDocument): Promise<string[]> {
  const silent = sql`${jobs.state} = 'running' and ${jobs.heartbeatAt} < now() - make_interval(secs => ${seconds})`
  const failed = await db
    .update(jobs)
    .set({ state: 'failed', error: lost, finishedAt: sql`now()` })
    .where(and(silent, sql`${jobs.attempts} >= 3`))
    .returning({ id: jobs.id })
  const again = await db
    .update(jobs)
    .set({ state: 'queued', progress: 0, stage: '' })
    .where(silent)
    .returning({ id: jobs.id })
  // a server that died between saving a job and queueing it leaves it waiting for nobody; queueing a job
  // twice does no harm, since only one worker can take it up
  const forgotten = await db
    .update(jobs)
    .set({ heartbeatAt: sql`now()` })
    .where(
      sql`${jobs.state} = 'queued' and coalesce(${jobs.heartbeatAt}, ${jobs.createdAt}) < now() - make_interval(secs => ${seconds})`,
    )
    .returning({ id: jobs.id })
  for (const { id } of [...failed, ...again]) await announce(db, id)
  return [...again, ...forgotten].map((row) => row.id)
}
