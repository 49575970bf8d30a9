import { asc, eq, sql } from 'drizzle-orm'
import type { SavedRecipe } from '../../contract/recipes.ts'
import type { Recipe } from '../../core/steps/recipe.ts'
import type { Db, Tx } from '../db/connection.ts'
import { recipes } from '../db/schema.ts'
import { unchangedSince } from '../db/unchanged.ts'

type RecipeRow = typeof recipes.$inferSelect

const document = (row: RecipeRow): SavedRecipe => ({
  id: row.id,
  name: row.name,
  steps: row.steps as SavedRecipe['steps'],
  updatedAt: row.updatedAt.toISOString(),
})

export const listRecipes = async (db: Db): Promise<SavedRecipe[]> =>
  (await db.select().from(recipes).orderBy(asc(recipes.name), asc(recipes.createdAt))).map(document)

export async function addRecipe(db: Db | Tx, recipe: Recipe): Promise<SavedRecipe> {
  const [row] = await db.insert(recipes).values({ name: recipe.name, steps: recipe.steps }).returning()
  return document(row!)
}

export const hasRecipe = async (db: Db, id: string): Promise<boolean> =>
  (await db.select({ id: recipes.id }).from(recipes).where(eq(recipes.id, id))).length > 0

/** @returns null where there is no such recipe that was not changed since `from`. */
export async function changeRecipe(
  db: Db,
  id: string,
  recipe: Recipe,
  from: string,
): Promise<SavedRecipe | null> {
  const [row] = await db
    .update(recipes)
    .set({ name: recipe.name, steps: recipe.steps, updatedAt: sql`now()` })
    .where(unchangedSince(recipes, id, from))
    .returning()
  return row ? document(row) : null
}

/** @returns false where there is no such recipe that was not changed since `from`. */
export async function removeRecipe(db: Db, id: string, from: string): Promise<boolean> {
  return (
    (
      await db
        .delete(recipes)
        .where(unchangedSince(recipes, id, from))
        .returning({ id: recipes.id })
    ).length > 0
  )
}
