/** What landed in the hand-off folder, and what became of it. */
import { and, eq, inArray, sql } from 'drizzle-orm'
import type { LandingDocument, OpenTripDocument } from '../../contract/api.ts'
import type { MessageParameters } from '../../core/base/messages/catalogue.ts'
import type { FolderEntry } from '../../core/trips/hand-off/settled-files.ts'
import type { RankedTrip } from '../../core/trips/hand-off/choose-trip.ts'
import type { Db, Tx } from '../db/connection.ts'
import { assets, files, jobs, landings, trips } from '../db/schema.ts'
import { errorDocument } from '../plugins/error-documents.ts'
import { OPEN_STATES, tripDocuments } from '../trips/trip-store.ts'

/** Why somebody is asked. */
export interface LandingReason {
  readonly code:
    | 'landing.no-trip'
    | 'landing.several-trips'
    | 'landing.already-back'
    | 'landing.unreadable'
    | 'upload.too-large'
  readonly parameters: MessageParameters
}

export interface NewLanding {
  readonly place: string
  /** Of the destination; empty: the shared one. */
  readonly folder: string
  readonly entries: readonly FolderEntry[]
  readonly fileIds: readonly string[]
  readonly state: 'looking' | 'asks'
  readonly why: LandingReason | null
}

export async function addLanding(tx: Db | Tx, landing: NewLanding): Promise<string> {
  const [row] = await tx
    .insert(landings)
    .values({ ...landing, fileIds: [...landing.fileIds] })
    .returning({ id: landings.id })
  return row!.id
}

export interface LandingRow {
  readonly id: string
  readonly place: string
  readonly folder: string
  readonly entries: readonly FolderEntry[]
  readonly fileIds: readonly string[]
  readonly state: string
}

export async function getLanding(db: Db | Tx, id: string): Promise<LandingRow | null> {
  const [row] = await db.select().from(landings).where(eq(landings.id, id))
  return row ? { ...row, entries: row.entries as readonly FolderEntry[] } : null
}

/** Files that have been seen, as they were then. */
export async function seenEntries(db: Db): Promise<{ place: string; entries: readonly FolderEntry[] }[]> {
  const rows = await db.select({ place: landings.folder, entries: landings.entries }).from(landings)
  return rows.map(({ place, entries }) => ({ place, entries: entries as readonly FolderEntry[] }))
}

/** A landing that still asks, held until the transaction ends; null where somebody has answered meanwhile. */
export async function holdLanding(tx: Tx, id: string): Promise<LandingRow | null> {
  await tx.execute(sql`select 1 from landings where id = ${id} for update`)
  const [asking] = await askingRows(tx, id)
  return asking ? getLanding(tx, id) : null
}

export const settleLanding = (
  tx: Db | Tx,
  id: string,
  became: {
    readonly state: 'looking' | 'asks' | 'taken' | 'aside'
    readonly jobId?: string | null
    readonly why?: LandingReason | null
    readonly ranked?: readonly RankedTrip[]
    readonly fileIds?: readonly string[]
  },
): Promise<unknown> =>
  tx
    .update(landings)
    .set({ ...became, fileIds: became.fileIds && [...became.fileIds] })
    .where(eq(landings.id, id))

/** Earlier ones of the same place that ask: what lies there now takes their place. */
export const setEarlierAside = (tx: Tx, place: string): Promise<unknown> =>
  tx
    .update(landings)
    .set({ state: 'aside' })
    .where(and(eq(landings.place, place), eq(landings.state, 'asks')))

/** Those that ask, also since the work on them failed. */
const askingRows = (db: Db | Tx, id: string | null = null) =>
  db
    .select({ landing: landings, jobState: jobs.state, error: jobs.error })
    .from(landings)
    .leftJoin(jobs, eq(jobs.id, landings.jobId))
    .where(
      and(
        sql`(${landings.state} = 'asks' or (${landings.state} in ('looking', 'taken') and ${jobs.state} in ('failed', 'cancelled')))`,
        id === null ? undefined : eq(landings.id, id),
      ),
    )
    .orderBy(sql`${landings.landedAt} desc`)

export async function listLandings(db: Db): Promise<LandingDocument[]> {
  const rows = await askingRows(db)
  const ids = rows.flatMap(({ landing }) => landing.fileIds)
  const named = new Map(
    (ids.length
      ? await db
          .select({ id: files.id, name: files.name, byteLength: files.byteLength })
          .from(files)
          .where(inArray(files.id, ids))
      : []
    ).map((file) => [file.id, file]),
  )
  return rows.map(({ landing, error }) => {
    const why = landing.why as LandingReason | null
    const told =
      landing.state === 'asks' && why
        ? errorDocument(why.code, why.parameters)
        : ((error as { message: string; advice: string } | null) ?? errorDocument('job.failed'))
    return {
      id: landing.id,
      place: landing.place,
      files: landing.fileIds.flatMap((id) => {
        const file = named.get(id)
        return file ? [{ name: file.name, byteLength: file.byteLength }] : []
      }),
      message: told.message,
      advice: told.advice,
      likely: (landing.ranked as readonly RankedTrip[]).map(({ id }) => id),
      landedAt: landing.landedAt.toISOString(),
    }
  })
}

/** Trips that something may still come home from, the newest first. */
export async function openTrips(db: Db | Tx): Promise<OpenTripDocument[]> {
  const documents = await tripDocuments(db, inArray(trips.state, [...OPEN_STATES]))
  const names = new Map(
    (await db.select({ id: assets.id, name: assets.name }).from(assets)).map(({ id, name }) => [id, name]),
  )
  return documents
    .sort((a, b) => b.sentAt.localeCompare(a.sentAt))
    .map((trip) => ({
      id: trip.id,
      number: trip.number,
      assetId: trip.assetId,
      assetName: names.get(trip.assetId)!,
      destinationName: trip.destination.name,
      returnedSceneId: trip.returnedSceneId,
    }))
}
