import { sql } from 'drizzle-orm'
import type { Db } from '../db/connection.ts'

/** Rows of one transaction: short, so that nobody waits for a sweep. */
const ROWS_AT_ONCE = 1000

/** Repeats a deletion of at most so many rows, a transaction each, until it finds nothing more. */
async function untilDone(remove: () => Promise<{ rowCount: number | null }>): Promise<number> {
  let removed = 0
  for (;;) {
    const { rowCount } = await remove()
    removed += rowCount ?? 0
    if ((rowCount ?? 0) < ROWS_AT_ONCE) return removed
  }
}

/**
 * Removes what nothing names any more: scenes without a version, trip or look, files that no trip and no open job
 * needs, old forecasts and looks at materials, and then the contents behind them.
 *
 * A content goes where its count of uses is 0. Whoever is about to name one holds its row until it is counted, so that
 * it is not taken from under them; one that is held now goes with the next sweep.
 *
 * @param minutes how old a file must be: one that was just uploaded waits for its job.
 * @returns how many contents were removed.
 */
export async function sweepUnused(db: Db, minutes: number): Promise<number> {
  await untilDone(() =>
    db.execute(sql`
      delete from scenes where id in (
        select s.id from scenes s
        where not exists (select 1 from versions v where v.scene_id = s.id)
          and not exists (select 1 from trips t where t.returned_scene_id = s.id)
          and not exists (select 1 from trips t where t.sent_scene_id = s.id)
          -- scenes that were made to be drawn are there as long as the job that names them
          and not exists (
            select 1 from jobs j
            where j.kind in ('look', 'remap') and j.created_at > now() - interval '1 day'
              and (j.result ->> 'beforeSceneId' = s.id::text or j.result ->> 'afterSceneId' = s.id::text))
        limit ${ROWS_AT_ONCE} for update skip locked)`),
  )
  await untilDone(() =>
    db.execute(sql`
      delete from files where id in (
        select f.id from files f
        where f.created_at < now() - make_interval(mins => ${minutes})
          and not exists (select 1 from trips t where t.sent_file_id = f.id)
          and not exists (select 1 from trips t where t.returned_file_ids @> array[f.id])
          and not exists (
            select 1 from landings l left join jobs j on j.id = l.job_id
            where l.file_ids @> array[f.id] and (l.state in ('looking', 'asks')
              or (l.state = 'taken' and j.state in ('failed', 'cancelled'))))
          and not exists (
            select 1 from jobs j
            where j.state in ('queued', 'running') and j.input -> 'fileIds' ? f.id::text)
          -- maps that were looked at, and files that were made, are there for a day
          and not exists (
            select 1 from jobs j
            where j.kind in ('look', 'remap', 'images') and j.created_at > now() - interval '1 day'
              and (j.input -> 'fileIds' ? f.id::text or j.result ->> 'fileId' = f.id::text
                or j.result -> 'fileIds' ? f.id::text))
        limit ${ROWS_AT_ONCE} for update skip locked)`),
  )
  await db.execute(sql`
    delete from jobs
    where (kind in ('forecast', 'look') or (kind = 'remap' and input ->> 'mode' = 'look'))
      and finished_at < now() - interval '1 day'`)
  return untilDone(() =>
    db.execute(sql`
      delete from blobs where hash in (
        select hash from blobs where uses = 0 limit ${ROWS_AT_ONCE} for update skip locked)
      and uses = 0`),
  )
}
