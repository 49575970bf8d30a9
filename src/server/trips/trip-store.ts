/** Trips: what was sent, what came back, and what became of it. */
import { and, asc, eq, inArray, max, ne, sql, type SQL } from 'drizzle-orm'
import { destinationSchema } from '../../contract/destinations.ts'
import type { TripDetail, TripDocument } from '../../contract/api.ts'
import type { LedgerDocument } from '../../contract/ledger.ts'
import type { ReadOptions } from '../../core/formats/descriptor.ts'
import type { SceneInspection } from '../../core/inspect/inspect-scene.ts'
import type { PackedScene } from '../../core/scene/pack-scene.ts'
import type { Space } from '../../core/scene/scene.ts'
import type { Destination } from '../../core/trips/destinations/destination.ts'
import { DESTINATIONS, destinationOf } from '../../core/trips/destinations/registry.ts'
import { getPacked } from '../content/scene-store.ts'
import { KelboError } from '../../core/base/messages/collector.ts'
import type { Db, Tx } from '../db/connection.ts'
import { lockAsset } from '../db/lock-asset.ts'
import { files, scenes, trips, versions } from '../db/schema.ts'

export const OPEN_STATES = ['out', 'back'] as const

/** A trip as the work on it needs it. */
export interface TripRow {
  readonly id: string
  readonly assetId: string
  readonly number: number
  readonly versionId: string
  /** Scene that left: the version's, or what a recipe made of it. */
  readonly sceneId: string
  readonly destination: TripDocument['destination']
  readonly options: Readonly<Record<string, unknown>>
  readonly space: Space
  readonly sentFileId: string
  readonly returnedFileIds: readonly string[]
  readonly returnedSceneId: string | null
  /** How the returned files were said to be meant. */
  readonly returnOptions: ReadOptions
  readonly log: readonly string[]
  /** Parts that left, by the ids of their nodes; null: all. */
  readonly selection: readonly string[] | null
}

type StoredTrip = typeof trips.$inferSelect

/** The destination as it was when the trip was sent. */
function sentTo(trip: Pick<StoredTrip, 'destination' | 'destinationDocument'>): TripDocument['destination'] {
  if (trip.destinationDocument) return destinationSchema.parse(trip.destinationDocument)
  const shipped = destinationOf(trip.destination) ?? { ...DESTINATIONS[0]!, name: trip.destination }
  return destinationSchema.parse(shipped)
}

/** Adds a trip behind the newest of its asset; `make` is told its number. */
export async function addTrip(
  tx: Tx,
  trip: {
    readonly assetId: string
    readonly versionId: string
    readonly destination: Destination
    readonly options: Readonly<Record<string, unknown>>
    readonly selection: readonly string[] | null
    readonly space: Space
    /** What a recipe made of the version's scene; null: nothing. */
    readonly sentSceneId: string | null
    readonly contents: readonly { name: string; byteLength: number }[]
    readonly forecast: LedgerDocument
    readonly forecastManifest: Buffer | null
    /** Name of the account; null where nobody signs in. */
    readonly sentBy: string | null
  },
  sentFileOf: (tripNumber: number) => Promise<string>,
): Promise<{ id: string; number: number; sentFileId: string }> {
  await lockAsset(tx, trip.assetId)
  const number = await nextTripNumber(tx, trip.assetId)
  const sentFileId = await sentFileOf(number)
  const [row] = await tx
    .insert(trips)
    .values({
      ...trip,
      destination: trip.destination.id,
      destinationDocument: trip.destination,
      sentFileId,
      number,
      state: 'out',
    })
    .returning({ id: trips.id })
  return { id: row!.id, number, sentFileId }
}

export async function nextTripNumber(db: Db | Tx, assetId: string): Promise<number> {
  const [newest] = await db
    .select({ number: max(trips.number) })
    .from(trips)
    .where(eq(trips.assetId, assetId))
  return (newest?.number ?? 0) + 1
}

/**
 * Locks a trip and sees to it that what came back is still what the one who writes had seen.
 * @throws KelboError `trip.other-return`.
 */
export async function holdReturn(tx: Tx, tripId: string, from: string | null): Promise<void> {
  const [row] = await tx
    .select({ returned: trips.returnedSceneId })
    .from(trips)
    .where(eq(trips.id, tripId))
    .for('update')
  if (row && row.returned !== from) throw new KelboError('trip.other-return')
}

/** What came back takes the place of what came back before; arrays of an earlier ledger are freed. */
export async function setReturn(
  tx: Tx,
  tripId: string,
  came: {
    readonly fileIds: readonly string[]
    readonly options: ReadOptions
    readonly log: readonly string[]
    readonly sceneId: string
    readonly ledger: LedgerDocument
    readonly ledgerManifest: Buffer | null
    readonly matching: unknown
    readonly matchingManifest: Buffer
    /** Name of the account; null where nobody signs in. */
    readonly returnedBy: string | null
  },
): Promise<void> {
  await tx
    .update(trips)
    .set({
      state: 'back',
      returnedFileIds: [...came.fileIds],
      log: came.log,
      returnedSceneId: came.sceneId,
      returnOptions: came.options,
      ledger: came.ledger,
      ledgerManifest: came.ledgerManifest,
      matching: came.matching,
      matchingManifest: came.matchingManifest,
      returnedBy: came.returnedBy,
      resultVersionId: null,
      returnedAt: sql`now()`,
    })
    .where(eq(trips.id, tripId))
}

export const settleTrip = (tx: Tx, tripId: string, versionId: string): Promise<unknown> =>
  tx.update(trips).set({ state: 'settled', resultVersionId: versionId }).where(eq(trips.id, tripId))

/**
 * Ends a trip without a version, where nothing is to come back or nothing of what came is wanted; or has it waited for
 * again. What came back stays with it.
 * @throws KelboError `trip.other-return`; `trip.settled` where a version was made of it.
 */
export async function setClosed(tx: Tx, tripId: string, closed: boolean, from: string | null): Promise<void> {
  await holdReturn(tx, tripId, from)
  const open = from === null ? 'out' : 'back'
  const changed = await tx
    .update(trips)
    .set({ state: closed ? 'closed' : open })
    .where(and(eq(trips.id, tripId), ne(trips.state, 'settled')))
    .returning({ id: trips.id })
  if (changed.length === 0) throw new KelboError('trip.settled')
}

export async function getTrip(db: Db | Tx, id: string): Promise<TripRow | null> {
  const [row] = await db
    .select({ trip: trips, sceneId: versions.sceneId })
    .from(trips)
    .innerJoin(versions, eq(versions.id, trips.versionId))
    .where(eq(trips.id, id))
  if (!row) return null
  const { trip, sceneId } = row
  return {
    id: trip.id,
    assetId: trip.assetId,
    number: trip.number,
    versionId: trip.versionId,
    sceneId: trip.sentSceneId ?? sceneId,
    destination: sentTo(trip),
    options: trip.options as TripRow['options'],
    space: trip.space as Space,
    sentFileId: trip.sentFileId,
    returnedFileIds: trip.returnedFileIds,
    returnedSceneId: trip.returnedSceneId,
    returnOptions: trip.returnOptions as ReadOptions,
    log: trip.log as string[],
    selection: trip.selection as readonly string[] | null,
  }
}

/** Which element is which, as receiving worked it out; null where it was not kept. */
export async function getMatching(db: Db | Tx, tripId: string): Promise<PackedScene | null> {
  const [row] = await db
    .select({ matching: trips.matching, manifest: trips.matchingManifest })
    .from(trips)
    .where(eq(trips.id, tripId))
  return row?.matching && row.manifest ? getPacked(db, row.matching, row.manifest) : null
}

/** Trips as pages show them, by their numbers. */
export async function tripDocuments(db: Db | Tx, where: SQL | undefined): Promise<TripDocument[]> {
  const rows = await db
    .select({
      id: trips.id,
      assetId: trips.assetId,
      number: trips.number,
      destination: trips.destination,
      destinationDocument: trips.destinationDocument,
      state: trips.state,
      versionId: trips.versionId,
      versionNumber: versions.number,
      sentFileId: trips.sentFileId,
      returnedFileIds: trips.returnedFileIds,
      returnedSceneId: trips.returnedSceneId,
      resultVersionId: trips.resultVersionId,
      sentBy: trips.sentBy,
      returnedBy: trips.returnedBy,
      sentAt: trips.sentAt,
      returnedAt: trips.returnedAt,
    })
    .from(trips)
    .innerJoin(versions, eq(versions.id, trips.versionId))
    .where(where)
    .orderBy(asc(trips.number))
  const fileIds = rows.flatMap((trip) => [trip.sentFileId, ...trip.returnedFileIds.slice(0, 1)])
  const resultIds = rows.flatMap((trip) => trip.resultVersionId ?? [])
  const fileOf = new Map(
    (fileIds.length
      ? await db
          .select({ id: files.id, name: files.name, byteLength: files.byteLength })
          .from(files)
          .where(inArray(files.id, fileIds))
      : []
    ).map((file) => [file.id, file]),
  )
  const numberOf = new Map(
    (resultIds.length
      ? await db
          .select({ id: versions.id, number: versions.number })
          .from(versions)
          .where(inArray(versions.id, resultIds))
      : []
    ).map((version) => [version.id, version.number]),
  )
  return rows.map((trip) => ({
    id: trip.id,
    assetId: trip.assetId,
    number: trip.number,
    destination: sentTo(trip),
    state: trip.state as TripDocument['state'],
    versionId: trip.versionId,
    versionNumber: trip.versionNumber,
    sentFileId: trip.sentFileId,
    sentFileName: fileOf.get(trip.sentFileId)?.name ?? '',
    sentBytes: fileOf.get(trip.sentFileId)?.byteLength ?? 0,
    returnedFileName: fileOf.get(trip.returnedFileIds[0] ?? '')?.name ?? null,
    returnedSceneId: trip.returnedSceneId,
    resultVersionId: trip.resultVersionId,
    resultVersionNumber: trip.resultVersionId ? (numberOf.get(trip.resultVersionId) ?? null) : null,
    sentBy: trip.sentBy,
    returnedBy: trip.returnedBy,
    sentAt: trip.sentAt.toISOString(),
    returnedAt: trip.returnedAt?.toISOString() ?? null,
  }))
}

export async function getTripDetail(db: Db | Tx, id: string): Promise<TripDetail | null> {
  const [trip] = await tripDocuments(db, eq(trips.id, id))
  if (!trip) return null
  const [row] = await db
    .select({
      forecast: trips.forecast,
      ledger: trips.ledger,
      log: trips.log,
      contents: trips.contents,
      returnedSceneId: trips.returnedSceneId,
      sceneId: sql<string>`coalesce(${trips.sentSceneId}, ${versions.sceneId})`,
      messages: sql<SceneInspection['messages'] | null>`${scenes.inspection} -> 'messages'`,
    })
    .from(trips)
    .innerJoin(versions, eq(versions.id, trips.versionId))
    .leftJoin(scenes, eq(scenes.id, trips.returnedSceneId))
    .where(eq(trips.id, id))
  return {
    trip,
    forecast: row!.forecast as LedgerDocument,
    ledger: row!.ledger as LedgerDocument | null,
    sentSceneId: row!.sceneId,
    returnedSceneId: row!.returnedSceneId,
    returnedMessages: [...(row!.messages ?? [])],
    log: row!.log as string[],
    contents: row!.contents as TripDetail['contents'],
  }
}
