/**
 * Jobs: the table is the queue. A job is recorded and queued by one statement in the transaction of what asks for it,
 * and a worker takes it by `for update skip locked`, so that each has one owner.
 *
 * pg-boss 10 was tried as the queue beside the table: it has no heartbeat, and its time-out counts from a job's start,
 * so that a worker that died was noticed only after the longest time a job may take; its later versions, which have
 * one, declare Node 22. Two owners of truth had to be brought together by a repair pass.
 */
import { and, desc, eq, inArray, or, sql } from 'drizzle-orm'
import type { ErrorDocument, JobDocument } from '../../contract/api.ts'
import type { Db, Tx } from '../db/connection.ts'
import { jobs } from '../db/schema.ts'

export type JobKind = JobDocument['kind']

/** Channel on which changed jobs are announced to every server and worker. */
export const JOBS_CHANNEL = 'kelbo_jobs'

/** Tries after which a job is given up: a file that ends its worker would else end all of them. */
const MOST_TRIES = 3

type StoredJob = typeof jobs.$inferSelect

/** A job as its worker needs it. */
export interface TakenJob {
  readonly id: string
  readonly kind: JobKind
  readonly assetId: string | null
  readonly tripId: string | null
  readonly input: unknown
  /** Name of the account that asked for it; null where nobody signs in. */
  readonly askedBy: string | null
  /** This try among all of them: what a worker has to have for what it says of the job to count. */
  readonly attempt: number
}

const document = (row: StoredJob): JobDocument => ({
  id: row.id,
  kind: row.kind as JobKind,
  title: row.title,
  state: row.state as JobDocument['state'],
  progress: row.progress,
  stage: row.stage,
  assetId: row.assetId,
  tripId: row.tripId,
  askedBy: row.askedBy,
  result: row.result as JobDocument['result'],
  error: row.error as ErrorDocument | null,
  createdAt: row.createdAt.toISOString(),
  startedAt: row.startedAt?.toISOString() ?? null,
  finishedAt: row.finishedAt?.toISOString() ?? null,
})

const announce = (db: Db | Tx, id: string): Promise<unknown> =>
  db.execute(sql`select pg_notify(${JOBS_CHANNEL}, ${id})`)

/** Bytes to be read, and polygons of an asset, from which on a job counts as long: some ten seconds. */
const LONG_BYTES = 20_000_000
const LONG_POLYGONS = 250_000

/** Judged by what there is to be read and by the asset's largest version. */
const isLong = (job: { input: unknown; assetId?: string | null }) => {
  const { fileIds } = job.input as { fileIds?: readonly string[] }
  return sql<boolean>`(
    coalesce((select sum(byte_length) from files where id = any(${sql.param(fileIds ?? [])}::uuid[])), 0) > ${LONG_BYTES}
    or coalesce((select max(scenes.polygon_count) from versions join scenes on scenes.id = versions.scene_id
      where versions.asset_id = ${job.assetId ?? null}::uuid), 0) > ${LONG_POLYGONS})`
}

export async function createJob(
  db: Db | Tx,
  job: {
    kind: JobKind
    title: string
    input: unknown
    askedBy: string | null
    assetId?: string | null
    tripId?: string | null
  },
): Promise<string> {
  const [row] = await db
    .insert(jobs)
    .values({
      ...job,
      assetId: job.assetId ?? null,
      tripId: job.tripId ?? null,
      state: 'queued',
      long: isLong(job),
    })
    .returning({ id: jobs.id })
  await announce(db, row!.id)
  return row!.id
}

export async function getJob(db: Db | Tx, id: string): Promise<JobDocument | null> {
  const [row] = await db.select().from(jobs).where(eq(jobs.id, id))
  return row ? document(row) : null
}

/** How many jobs that are over are listed. */
const LISTED = 100

/** Everything that waits or runs, however many newer ones there are, and the newest of what is over. */
export async function listJobs(db: Db): Promise<JobDocument[]> {
  const open = await db
    .select()
    .from(jobs)
    .where(inArray(jobs.state, ['queued', 'running']))
  const over = await db
    .select()
    .from(jobs)
    // whoever looked has seen what came of it
    .where(
      sql`${jobs.state} not in ('queued', 'running') and not (${jobs.kind} = 'look' and ${jobs.state} = 'done')`,
    )
    .orderBy(desc(jobs.createdAt))
    .limit(LISTED)
  return [...open, ...over].sort((a, b) => b.createdAt.getTime() - a.createdAt.getTime()).map(document)
}

/**
 * Takes the oldest waiting job; null where none waits. Whoever gets it has it alone.
 * @param onlyShort long ones are left to other workers.
 */
export async function takeJob(db: Db, onlyShort = false): Promise<TakenJob | null> {
  const { rows } = await db.execute<{
    id: string
    kind: JobKind
    asset_id: string | null
    trip_id: string | null
    input: unknown
    asked_by: string | null
    attempts: number
  }>(sql`
    update jobs set state = 'running', started_at = now(), heartbeat_at = now(), attempts = attempts + 1,
      progress = 0, stage = ''
    where id = (
      select id from jobs where state = 'queued' ${onlyShort ? sql`and not long` : sql``} order by created_at limit 1 for update skip locked)
    returning id, kind, asset_id, trip_id, input, asked_by, attempts`)
  const [row] = rows
  if (!row) return null
  await announce(db, row.id)
  return {
    id: row.id,
    kind: row.kind,
    assetId: row.asset_id,
    tripId: row.trip_id,
    input: row.input,
    askedBy: row.asked_by,
    attempt: row.attempts,
  }
}

/** The job is still this worker's, on this try. */
const isMine = (job: Pick<TakenJob, 'id' | 'attempt'>) =>
  and(eq(jobs.id, job.id), eq(jobs.state, 'running'), eq(jobs.attempts, job.attempt))

/** A sign of life. @returns false where the job is no longer this worker's. */
export async function reportProgress(
  db: Db,
  job: Pick<TakenJob, 'id' | 'attempt'>,
  progress: number,
  stage: string,
): Promise<boolean> {
  const rows = await db
    .update(jobs)
    .set({ progress, stage, heartbeatAt: sql`now()` })
    .where(isMine(job))
    .returning({ id: jobs.id })
  if (rows.length) await announce(db, job.id)
  return rows.length > 0
}

/** The job is no longer this worker's: it was cancelled, or taken for lost. */
export class JobGone extends Error {}

/**
 * Closes a running job within the transaction that saves its work, so that both happen or neither does.
 * @throws JobGone where the job was cancelled meanwhile, or another worker has it.
 */
export async function finishJob(
  tx: Tx,
  job: Pick<TakenJob, 'id' | 'attempt'>,
  result: unknown,
  ids: { assetId?: string; tripId?: string } = {},
): Promise<void> {
  const rows = await tx
    .update(jobs)
    .set({ state: 'done', progress: 1, stage: '', result, finishedAt: sql`now()`, ...ids })
    .where(isMine(job))
    .returning({ id: jobs.id })
  if (rows.length === 0) throw new JobGone()
  await announce(tx, job.id)
}

export async function failJob(
  db: Db,
  job: Pick<TakenJob, 'id' | 'attempt'>,
  error: ErrorDocument,
): Promise<void> {
  const rows = await db
    .update(jobs)
    .set({ state: 'failed', error, finishedAt: sql`now()` })
    .where(isMine(job))
    .returning({ id: jobs.id })
  if (rows.length) await announce(db, job.id)
}

/** A worker that is asked to stop gives its job back at once; that is no failed try. */
export async function giveBackJob(db: Db, job: Pick<TakenJob, 'id' | 'attempt'>): Promise<void> {
  const rows = await db
    .update(jobs)
    .set({ state: 'queued', progress: 0, stage: '', attempts: job.attempt - 1 })
    .where(isMine(job))
    .returning({ id: jobs.id })
  if (rows.length) await announce(db, job.id)
}

/**
 * A job whose try was broken off by the database waits for the next one; that counts as a try, as it may be what the
 * job does to the database.
 * @returns false where there is no further try, or the job is no longer this worker's.
 */
export async function tryAgain(db: Db, job: Pick<TakenJob, 'id' | 'attempt'>): Promise<boolean> {
  if (job.attempt >= MOST_TRIES) return false
  const rows = await db
    .update(jobs)
    .set({ state: 'queued', progress: 0, stage: '' })
    .where(isMine(job))
    .returning({ id: jobs.id })
  if (rows.length) await announce(db, job.id)
  return rows.length > 0
}

/** A job that is over already stays as it ended. */
export async function cancelJob(db: Db, id: string, error: ErrorDocument): Promise<void> {
  await db
    .update(jobs)
    .set({ state: 'cancelled', error, finishedAt: sql`now()` })
    .where(and(eq(jobs.id, id), or(eq(jobs.state, 'queued'), eq(jobs.state, 'running'))))
  await announce(db, id)
}

/** Running jobs whose worker has not been heard of for `seconds` wait again, or fail after the third try. */
export async function recoverLostJobs(db: Db, seconds: number, lost: ErrorDocument): Promise<void> {
  const silent = sql`${jobs.state} = 'running' and ${jobs.heartbeatAt} < now() - make_interval(secs => ${seconds})`
  const failed = await db
    .update(jobs)
    .set({ state: 'failed', error: lost, finishedAt: sql`now()` })
    .where(and(silent, sql`${jobs.attempts} >= ${MOST_TRIES}`))
    .returning({ id: jobs.id })
  const again = await db
    .update(jobs)
    .set({ state: 'queued', progress: 0, stage: '' })
    .where(silent)
    .returning({ id: jobs.id })
  for (const { id } of [...failed, ...again]) await announce(db, id)
}
