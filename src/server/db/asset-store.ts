import { asc, desc, eq, inArray, max, sql } from 'drizzle-orm'
import { destinationSchema } from '../../contract/destinations.ts'
import { DESTINATIONS, destinationOf } from '../../core/trips/destinations/registry.ts'
import type { SceneInspection } from '../../core/inspect/inspect-scene.ts'
import type { AssetDocument, TripDetail, TripDocument, VersionSummary } from '../../contract/api.ts'
import type { LedgerDocument } from '../../contract/ledger.ts'
import type { Db, Tx } from './database.ts'
import { assets, files, scenes, tripBlobs, trips, versions } from './schema.ts'

export async function createAsset(tx: Tx, name: string): Promise<string> {
  const [row] = await tx.insert(assets).values({ name }).returning({ id: assets.id })
  return row!.id
}

/** Adds a version behind the newest; the asset's row is locked, so that numbers have no gaps and no doubles. */
export async function addVersion(
  tx: Tx,
  version: { assetId: string; sceneId: string; note: string },
): Promise<{ id: string; number: number }> {
  await tx.execute(sql`select id from assets where id = ${version.assetId} for update`)
  const [newest] = await tx
    .select({ number: max(versions.number) })
    .from(versions)
    .where(eq(versions.assetId, version.assetId))
  const number = (newest?.number ?? 0) + 1
  const [row] = await tx
    .insert(versions)
    .values({ ...version, number })
    .returning({ id: versions.id })
  return { id: row!.id, number }
}

export async function addTrip(
  tx: Tx,
  trip: Omit<typeof trips.$inferInsert, 'number' | 'state'>,
  blobHashes: readonly string[],
): Promise<{ id: string; number: number }> {
  await tx.execute(sql`select id from assets where id = ${trip.assetId} for update`)
  const [newest] = await tx
    .select({ number: max(trips.number) })
    .from(trips)
    .where(eq(trips.assetId, trip.assetId))
  const number = (newest?.number ?? 0) + 1
  const [row] = await tx
    .insert(trips)
    .values({ ...trip, number, state: 'out' })
    .returning({ id: trips.id })
  await keepTripBlobs(tx, row!.id, blobHashes)
  return { id: row!.id, number }
}

export async function keepTripBlobs(tx: Tx, tripId: string, hashes: readonly string[]): Promise<void> {
  const distinct = [...new Set(hashes)]
  for (let at = 0; at < distinct.length; at += 1000)
    await tx
      .insert(tripBlobs)
      .values(distinct.slice(at, at + 1000).map((hash) => ({ tripId, hash })))
      .onConflictDoNothing()
}

const summarize = (row: typeof versions.$inferSelect, inspection: SceneInspection): VersionSummary => {
  let vertices = 0
  let polygons = 0
  let parts = 0
  for (const node of inspection.nodes) {
    if (node.mesh === null) continue
    const mesh = inspection.meshes[node.mesh]!
    vertices += mesh.vertices
    polygons += mesh.faces['3'] + mesh.faces['4'] + mesh.faces.n
    parts++
  }
  return {
    id: row.id,
    number: row.number,
    note: row.note,
    sceneId: row.sceneId,
    vertices,
    polygons,
    parts,
    createdAt: row.createdAt.toISOString(),
  }
}

/** Assets with their versions and trips, newest first; all, or those asked for. */
export async function loadAssets(db: Db, ids: readonly string[] | null = null): Promise<AssetDocument[]> {
  if (ids?.length === 0) return []
  const rows = await db
    .select()
    .from(assets)
    .where(ids ? inArray(assets.id, [...ids]) : undefined)
    .orderBy(desc(assets.createdAt))
  const versionRows = await db
    .select({ version: versions, inspection: scenes.inspection })
    .from(versions)
    .innerJoin(scenes, eq(scenes.id, versions.sceneId))
    .where(ids ? inArray(versions.assetId, [...ids]) : undefined)
    .orderBy(asc(versions.number))
  const tripRows = await db
    .select()
    .from(trips)
    .where(ids ? inArray(trips.assetId, [...ids]) : undefined)
    .orderBy(asc(trips.number))
  const fileIds = tripRows.flatMap((trip) => [trip.sentFileId, trip.returnedFileId ?? []].flat())
  const fileRows = fileIds.length ? await db.select().from(files).where(inArray(files.id, fileIds)) : []
  const numberOf = new Map(versionRows.map(({ version }) => [version.id, version.number]))
  return rows.map((asset) => ({
    id: asset.id,
    name: asset.name,
    partMarks: asset.partMarks as AssetDocument['partMarks'],
    createdAt: asset.createdAt.toISOString(),
    versions: versionRows
      .filter(({ version }) => version.assetId === asset.id)
      .map(({ version, inspection }) => summarize(version, inspection as SceneInspection)),
    trips: tripRows
      .filter((trip) => trip.assetId === asset.id)
      .map((trip): TripDocument => {
        const sent = fileRows.find((file) => file.id === trip.sentFileId)!
        return {
          id: trip.id,
          assetId: trip.assetId,
          number: trip.number,
          destination: sentTo(trip),
          state: trip.state as TripDocument['state'],
          versionId: trip.versionId,
          versionNumber: numberOf.get(trip.versionId) ?? 0,
          sentFileId: trip.sentFileId,
          sentFileName: sent.name,
          sentBytes: sent.byteLength,
          returnedFileName: fileRows.find((file) => file.id === trip.returnedFileId)?.name ?? null,
          resultVersionId: trip.resultVersionId,
          resultVersionNumber: trip.resultVersionId ? (numberOf.get(trip.resultVersionId) ?? null) : null,
          sentAt: trip.sentAt.toISOString(),
          returnedAt: trip.returnedAt?.toISOString() ?? null,
        }
      }),
  }))
}

export type TripRow = typeof trips.$inferSelect

/** The destination as it was when the trip was sent. */
export function sentTo(trip: TripRow): TripDocument['destination'] {
  if (trip.destinationDocument) return destinationSchema.parse(trip.destinationDocument)
  const shipped = destinationOf(trip.destination) ?? { ...DESTINATIONS[0]!, name: trip.destination }
  return destinationSchema.parse(shipped)
}

export async function getTrip(db: Db | Tx, id: string): Promise<TripRow | null> {
  const [row] = await db.select().from(trips).where(eq(trips.id, id))
  return row ?? null
}

export async function getVersion(db: Db | Tx, id: string): Promise<typeof versions.$inferSelect | null> {
  const [row] = await db.select().from(versions).where(eq(versions.id, id))
  return row ?? null
}

export async function loadTripDetail(db: Db, id: string): Promise<TripDetail | null> {
  const row = await getTrip(db, id)
  if (!row) return null
  const [asset] = await loadAssets(db, [row.assetId])
  const version = await getVersion(db, row.versionId)
  let returnedMessages: TripDetail['returnedMessages'] = []
  let returnedUnitMeters: number | null = null
  if (row.returnedSceneId) {
    const [scene] = await db
      .select({ inspection: scenes.inspection })
      .from(scenes)
      .where(eq(scenes.id, row.returnedSceneId))
    const inspection = scene!.inspection as SceneInspection
    returnedMessages = [...inspection.messages]
    returnedUnitMeters = inspection.unitMeters
  }
  return {
    trip: asset!.trips.find((trip) => trip.id === id)!,
    forecast: row.forecast as LedgerDocument,
    ledger: row.ledger as LedgerDocument | null,
    sentSceneId: version!.sceneId,
    returnedSceneId: row.returnedSceneId,
    returnedMessages,
    returnedUnitMeters,
    log: row.log as string[],
    contents: row.contents as TripDetail['contents'],
  }
}
