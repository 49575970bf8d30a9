/** Assets and their versions. */
import { and, asc, desc, eq, inArray, max, sql } from 'drizzle-orm'
import type { AssetDocument, AssetSummary, VersionSummary } from '../../contract/api.ts'
import { KelboError } from '../../core/base/messages/collector.ts'
import type { Db, Tx } from '../db/connection.ts'
import { lockAsset } from '../db/lock-asset.ts'
import { assets, scenes, trips, versions } from '../db/schema.ts'
import { OPEN_STATES, tripDocuments } from '../trips/trip-store.ts'

export async function createAsset(tx: Tx, name: string): Promise<string> {
  const [row] = await tx.insert(assets).values({ name }).returning({ id: assets.id })
  return row!.id
}

/** Adds a version behind the newest. */
export async function addVersion(
  tx: Tx,
  {
    basedOn,
    beside = null,
    ...version
  }: {
    assetId: string
    sceneId: string
    note: string
    /** Name of the account; null where nobody signs in. */
    madeBy: string | null
    /** The version that it was made from; null for the first. */
    basedOn: VersionRow | null
    /** A newer one that the artist knows of. */
    beside?: string | null
  },
): Promise<{ id: string; number: number }> {
  await lockAsset(tx, version.assetId)
  const newest = basedOn && (await standsOnNewest(tx, basedOn, beside))
  const number = (newest?.number ?? 0) + 1
  const [row] = await tx
    .insert(versions)
    .values({
      ...version,
      note:
        newest && newest.id !== basedOn.id
          ? `${version.note} (beside version ${newest.number})`
          : version.note,
      number,
      basedOn: basedOn?.id ?? null,
    })
    .returning({ id: versions.id })
  return { id: row!.id, number }
}

/**
 * Work on a version that is no longer the newest would put that one's change aside without a word.
 * @param beside the newest version, where the artist knows of it and wants it so.
 * @returns the newest version.
 * @throws KelboError `version.moved-on`.
 */
export async function standsOnNewest(
  db: Db | Tx,
  version: VersionRow,
  beside: string | null,
): Promise<VersionRow> {
  const [newest] = await db
    .select()
    .from(versions)
    .where(eq(versions.assetId, version.assetId))
    .orderBy(desc(versions.number))
    .limit(1)
  if (newest && newest.id !== version.id && newest.id !== beside)
    throw new KelboError('version.moved-on', { newest: newest.number, based: version.number })
  return newest ?? version
}

export interface VersionRow {
  readonly id: string
  readonly assetId: string
  readonly number: number
  readonly sceneId: string
}

export async function getVersion(db: Db | Tx, id: string): Promise<VersionRow | null> {
  const [row] = await db.select().from(versions).where(eq(versions.id, id))
  return row ?? null
}

export async function assetNameOf(db: Db | Tx, assetId: string): Promise<string> {
  const [row] = await db.select({ name: assets.name }).from(assets).where(eq(assets.id, assetId))
  return row?.name ?? 'model'
}

export const hasAsset = async (db: Db, id: string): Promise<boolean> =>
  (await db.select({ id: assets.id }).from(assets).where(eq(assets.id, id))).length > 0

/** @returns false without such an asset that is still called `from`. */
export async function renameAsset(db: Db, id: string, name: string, from: string): Promise<boolean> {
  const rows = await db
    .update(assets)
    .set({ name })
    .where(and(eq(assets.id, id), eq(assets.name, from)))
    .returning({ id: assets.id })
  return rows.length > 0
}

/** @returns false without such an asset. */
export async function removeAsset(db: Db, id: string): Promise<boolean> {
  const rows = await db.delete(assets).where(eq(assets.id, id)).returning({ id: assets.id })
  return rows.length > 0
}

export const hasAssets = async (db: Db): Promise<boolean> =>
  (await db.select({ id: assets.id }).from(assets).limit(1)).length > 0

/**
 * Puts marks beside those that are there; a part's own mark is replaced.
 * @param from the marks of these parts as they were seen; null: none.
 * @returns false without such an asset whose parts still have these marks.
 */
export async function markParts(
  db: Db,
  assetId: string,
  marks: object,
  from: Readonly<Record<string, object | null>>,
): Promise<boolean> {
  const seen = Object.fromEntries(Object.keys(marks).map((part) => [part, from[part] ?? null]))
  const rows = await db
    .update(assets)
    .set({ partMarks: sql`${assets.partMarks} || ${JSON.stringify(marks)}::jsonb` })
    .where(
      and(
        eq(assets.id, assetId),
        sql`not exists (
          select from jsonb_each(${JSON.stringify(seen)}::jsonb) as seen
          where coalesce(${assets.partMarks} -> seen.key, 'null'::jsonb) <> seen.value)`,
      ),
    )
    .returning({ id: assets.id })
  return rows.length > 0
}

/** A version as lists show it, from columns alone. */
const LISTED = {
  id: versions.id,
  assetId: versions.assetId,
  number: versions.number,
  note: versions.note,
  madeBy: versions.madeBy,
  sceneId: versions.sceneId,
  vertices: scenes.vertexCount,
  polygons: scenes.polygonCount,
  parts: scenes.partCount,
  createdAt: versions.createdAt,
}

const summarize = ({
  assetId: _assetId,
  createdAt,
  ...rest
}: { assetId: string; createdAt: Date } & Omit<VersionSummary, 'createdAt'>): VersionSummary => ({
  ...rest,
  createdAt: createdAt.toISOString(),
})

/** All assets with their newest version and the trips that are not settled, newest assets first. */
export async function listAssets(db: Db): Promise<AssetSummary[]> {
  const rows = await db
    .select({ id: assets.id, name: assets.name, createdAt: assets.createdAt })
    .from(assets)
    .orderBy(desc(assets.createdAt))
  // numbers first, so that of many versions only the newest are joined with their scenes
  const newest = db
    .select({ assetId: versions.assetId, number: max(versions.number).as('newest_number') })
    .from(versions)
    .groupBy(versions.assetId)
    .as('newest')
  const masters = await db
    .select(LISTED)
    .from(versions)
    .innerJoin(newest, and(eq(newest.assetId, versions.assetId), eq(newest.number, versions.number)))
    .innerJoin(scenes, eq(scenes.id, versions.sceneId))
  const tripCounts = await db
    .select({ assetId: trips.assetId, count: max(trips.number) })
    .from(trips)
    .groupBy(trips.assetId)
  const open = await tripDocuments(db, inArray(trips.state, [...OPEN_STATES]))
  const masterOf = new Map(masters.map((master) => [master.assetId, master]))
  const countOf = new Map(tripCounts.map(({ assetId, count }) => [assetId, count ?? 0]))
  return rows.flatMap(({ createdAt, ...asset }) => {
    const master = masterOf.get(asset.id)
    return master
      ? [
          {
            ...asset,
            createdAt: createdAt.toISOString(),
            master: summarize(master),
            versionCount: master.number,
            tripCount: countOf.get(asset.id) ?? 0,
            trips: open.filter((trip) => trip.assetId === asset.id),
          },
        ]
      : []
  })
}

/** One asset with all its versions and trips; null where there is none. */
export async function getAsset(db: Db | Tx, id: string): Promise<AssetDocument | null> {
  const [row] = await db.select().from(assets).where(eq(assets.id, id))
  if (!row) return null
  const versionRows = await db
    .select(LISTED)
    .from(versions)
    .innerJoin(scenes, eq(scenes.id, versions.sceneId))
    .where(eq(versions.assetId, id))
    .orderBy(asc(versions.number))
  return {
    id: row.id,
    name: row.name,
    partMarks: row.partMarks as AssetDocument['partMarks'],
    createdAt: row.createdAt.toISOString(),
    versions: versionRows.map(summarize),
    trips: await tripDocuments(db, eq(trips.assetId, id)),
  }
}
