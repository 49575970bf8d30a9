/** Puts what leaves into the folder of its destination. */
import { randomUUID } from 'node:crypto'
import { mkdir, rename, rm, stat, writeFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import { and, eq, isNull, sql } from 'drizzle-orm'
import { wrapsFiles } from '../../core/formats/package/read-package.ts'
import { readZip } from '../../core/formats/package/read-zip.ts'
import { fileWord } from '../../core/trips/split.ts'
import type { Db } from '../db/connection.ts'
import { assets, trips } from '../db/schema.ts'
import { getFiles } from '../content/file-store.ts'
import { zipLimits } from '../jobs/handlers/handler.ts'
import { getTrip } from '../trips/trip-store.ts'
import { folderOf, OUT, type HandOff } from './folders.ts'

/** The folder of a trip below its destination's: the asset and the trip's number, by which it is known when it comes home. */
export const tripFolder = (assetName: string, tripNumber: number): string =>
  `${fileWord(assetName)}_trip_${String(tripNumber).padStart(3, '0')}`

const exists = (path: string): Promise<boolean> =>
  stat(path).then(
    () => true,
    () => false,
  )

/**
 * Writes the files of every trip that is out and has not been handed over: all of it under a name that nobody looks at,
 * then in its place at once. What lies there already stays; it goes beside it.
 */
export async function writeOut(db: Db, handOff: HandOff): Promise<void> {
  const due = await db
    .select({ id: trips.id, number: trips.number, assetName: assets.name })
    .from(trips)
    .innerJoin(assets, eq(assets.id, trips.assetId))
    .where(and(eq(trips.state, 'out'), isNull(trips.handedOffAt)))
    .orderBy(trips.sentAt)
  for (const { id, number, assetName } of due) {
    // whoever gets the mark writes it; one that can't be written is tried again
    const [mine] = await db
      .update(trips)
      .set({ handedOffAt: sql`now()` })
      .where(and(eq(trips.id, id), isNull(trips.handedOffAt)))
      .returning({ id: trips.id })
    if (!mine) continue
    try {
      await writeTrip(db, handOff, id, tripFolder(assetName, number))
    } catch (error) {
      await db.update(trips).set({ handedOffAt: null }).where(eq(trips.id, id))
      throw error
    }
  }
}

async function writeTrip(db: Db, { root }: HandOff, tripId: string, name: string): Promise<void> {
  const trip = await getTrip(db, tripId)
  if (!trip) return
  const out = join(root, folderOf(trip.destination.name), OUT)
  // an asset of the same name may have left before: what lies there stays
  let place = join(out, name)
  for (let number = 2; await exists(place); number++) place = join(out, `${name}_${number}`)
  const half = join(out, `.${randomUUID()}`)
  try {
    const packed = await getFiles(db, [trip.sentFileId])
    for (const file of packed.flatMap((one) => (wrapsFiles(one) ? readZip(one, zipLimits()).files : [one]))) {
      // the folders that it is packed in say what this folder's name says
      const parts = file.name.split('/').filter((part) => part && part !== '.' && part !== '..')
      const inside = parts.length > 3 ? parts.slice(3) : parts.slice(-1)
      const path = join(half, ...inside)
      await mkdir(dirname(path), { recursive: true })
      await writeFile(path, file.bytes)
    }
    await rename(half, place)
  } finally {
    await rm(half, { recursive: true, force: true })
  }
}
