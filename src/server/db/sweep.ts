import { sql } from 'drizzle-orm'
import { lockBlobsForSweeping, sweepBlobs } from './blob-store.ts'
import type { Db } from './database.ts'

/**
 * Removes what nothing names any more: scenes without a version or trip, files that no trip and no open job
 * needs, old forecasts, and then the contents behind them.
 *
 * @param minutes how old a file must be: one that was just uploaded waits for its job.
 */
export async function sweepUnused(db: Db, minutes: number): Promise<void> {
  await db.transaction(async (tx) => {
    await lockBlobsForSweeping(tx)
    await tx.execute(sql`
      delete from scenes s
      where not exists (select 1 from versions v where v.scene_id = s.id)
        and not exists (select 1 from trips t where t.returned_scene_id = s.id)`)
    await tx.execute(sql`
      delete from files f
      where f.created_at < now() - make_interval(mins => ${minutes})
        and not exists (select 1 from trips t where t.sent_file_id = f.id or t.returned_file_id = f.id
            or t.returned_file_ids ? f.id::text)
        and not exists (
          select 1 from jobs j
          where j.state in ('queued', 'running') and j.input -> 'fileIds' ? f.id::text)`)
    await tx.execute(sql`
      delete from jobs where kind = 'forecast' and finished_at < now() - interval '1 day'`)
    await sweepBlobs(tx)
  })
}
