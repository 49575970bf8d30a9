import { asc, eq, sql } from 'drizzle-orm'
import {
  asDestination,
  destinationSchema,
  type DestinationFields,
  type ListedDestination,
} from '../../contract/destinations.ts'
import type { Destination } from '../../core/trips/destinations/destination.ts'
import { DESTINATIONS, destinationOf } from '../../core/trips/destinations/registry.ts'
import type { Db, Tx } from '../db/connection.ts'
import { destinations } from '../db/schema.ts'
import { unchangedSince } from '../db/unchanged.ts'

type DestinationRow = typeof destinations.$inferSelect

const ownDocument = (row: DestinationRow): ListedDestination => ({
  ...(row.document as DestinationFields),
  id: row.id,
  shipped: false,
  updatedAt: row.updatedAt.toISOString(),
})

const shippedDocument = (destination: Destination): ListedDestination => ({
  ...destinationSchema.parse(destination),
  shipped: true,
  updatedAt: null,
})

/** Those that ship, then the artist's own by name. */
export async function listDestinations(db: Db): Promise<ListedDestination[]> {
  const own = await db
    .select()
    .from(destinations)
    .orderBy(asc(destinations.name), asc(destinations.createdAt))
  return [...DESTINATIONS.map(shippedDocument), ...own.map(ownDocument)]
}

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i

/** One that ships, or the artist's own; null where there is none of this id. */
export async function findDestination(db: Db | Tx, id: string): Promise<Destination | null> {
  const shipped = destinationOf(id)
  if (shipped || !UUID.test(id)) return shipped
  const [row] = await db.select().from(destinations).where(eq(destinations.id, id))
  return row ? asDestination(destinationSchema.parse({ ...(row.document as object), id: row.id })) : null
}

export async function addDestination(db: Db | Tx, fields: DestinationFields): Promise<ListedDestination> {
  const [row] = await db.insert(destinations).values({ name: fields.name, document: fields }).returning()
  return ownDocument(row!)
}

export const hasDestination = async (db: Db, id: string): Promise<boolean> =>
  (await db.select({ id: destinations.id }).from(destinations).where(eq(destinations.id, id))).length > 0

/** @returns null where there is no such own destination that was not changed since `from`. */
export async function changeDestination(
  db: Db,
  id: string,
  fields: DestinationFields,
  from: string,
): Promise<ListedDestination | null> {
  const [row] = await db
    .update(destinations)
    .set({ name: fields.name, document: fields, updatedAt: sql`now()` })
    .where(unchangedSince(destinations, id, from))
    .returning()
  return row ? ownDocument(row) : null
}

/** @returns false where there is no such own destination that was not changed since `from`. */
export async function removeDestination(db: Db, id: string, from: string): Promise<boolean> {
  const gone = await db
    .delete(destinations)
    .where(unchangedSince(destinations, id, from))
    .returning({ id: destinations.id })
  return gone.length > 0
}
