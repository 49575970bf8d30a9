/** Recipes and what an artist notes of parts. */
import { z } from 'zod'
import { nameSchema, nodeIdSchema, optionValuesSchema } from './options.ts'

export const recipeStepSchema = z
  .object({
    step: z.string().max(60),
    params: optionValuesSchema,
    parts: z.array(z.string().max(2000)).max(10000).optional(),
    nodes: z.array(nodeIdSchema).max(10000).optional(),
    only: z
      .array(
        z.object({
          node: nodeIdSchema,
          element: z.enum(['points', 'edges', 'faces', 'corners']),
          elements: z.array(z.number().int().nonnegative()).max(2000000),
        }),
      )
      .max(10000)
      .optional(),
  })
  .strict()

export const recipeSchema = z
  .object({ name: nameSchema, steps: z.array(recipeStepSchema).min(1).max(200) })
  .strict()

export const savedRecipeSchema = z.object({
  id: z.uuid(),
  name: z.string(),
  steps: z.array(recipeStepSchema),
  updatedAt: z.string(),
})
export type SavedRecipe = z.infer<typeof savedRecipeSchema>
export const recipesSchema = z.object({ recipes: z.array(savedRecipeSchema) })

export const prepareBodySchema = z
  .object({
    versionId: z.uuid(),
    recipe: recipeSchema,
    /** A newer version that the artist knows of, and which the new one is to stand in front of all the same. */
    beside: z.uuid().nullable().default(null),
  })
  .strict()

/** travels: goes along; reference: goes along to look at, and is not taken back; home: stays here. */
export const PART_ROLES = ['travels', 'reference', 'home'] as const
export type PartRole = (typeof PART_ROLES)[number]
export const PART_LABELS = ['none', 'rose', 'ochre', 'moss', 'teal', 'slate', 'plum'] as const
export type PartLabel = (typeof PART_LABELS)[number]

export const partMarkSchema = z.object({ role: z.enum(PART_ROLES), label: z.enum(PART_LABELS) }).strict()
export type PartMark = z.infer<typeof partMarkSchema>
/** By the id of the part's node. */
export const partMarksSchema = z.record(nodeIdSchema, partMarkSchema)
export const partMarksBodySchema = z
  .object({
    marks: partMarksSchema,
    /** The marks of the same parts as the artist saw them; null: none. */
    from: z.record(nodeIdSchema, partMarkSchema.nullable()),
  })
  .strict()
