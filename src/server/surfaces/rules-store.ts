import { asc, eq, sql } from 'drizzle-orm'
import type { SavedSurfaceRules, SurfaceRules } from '../../contract/surface-rules.ts'
import type { Db } from '../db/connection.ts'
import { surfaceRules } from '../db/schema.ts'
import { unchangedSince } from '../db/unchanged.ts'

type RulesRow = typeof surfaceRules.$inferSelect

const document = (row: RulesRow): SavedSurfaceRules => ({
  id: row.id,
  name: row.name,
  surface: row.surface,
  rules: row.rules as SavedSurfaceRules['rules'],
  updatedAt: row.updatedAt.toISOString(),
})

export const listSurfaceRules = async (db: Db): Promise<SavedSurfaceRules[]> =>
  (await db.select().from(surfaceRules).orderBy(asc(surfaceRules.name), asc(surfaceRules.createdAt))).map(
    document,
  )

export async function addSurfaceRules(
  db: Db,
  { name, surface, rules }: SurfaceRules,
): Promise<SavedSurfaceRules> {
  const [row] = await db.insert(surfaceRules).values({ name, surface, rules }).returning()
  return document(row!)
}

export const hasSurfaceRules = async (db: Db, id: string): Promise<boolean> =>
  (await db.select({ id: surfaceRules.id }).from(surfaceRules).where(eq(surfaceRules.id, id))).length > 0

/** @returns null where there are no such rules that were not changed since `from`. */
export async function changeSurfaceRules(
  db: Db,
  id: string,
  { name, surface, rules }: SurfaceRules,
  from: string,
): Promise<SavedSurfaceRules | null> {
  const [row] = await db
    .update(surfaceRules)
    .set({ name, surface, rules, updatedAt: sql`now()` })
    .where(unchangedSince(surfaceRules, id, from))
    .returning()
  return row ? document(row) : null
}

/** @returns false where there are no such rules that were not changed since `from`. */
export const removeSurfaceRules = async (db: Db, id: string, from: string): Promise<boolean> =>
  (
    await db
      .delete(surfaceRules)
      .where(unchangedSince(surfaceRules, id, from))
      .returning({ id: surfaceRules.id })
  ).length > 0
