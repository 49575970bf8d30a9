import { z } from 'zod'
import type { Trait } from '../core/compare/traits/registry.ts'
import { STATES } from '../core/compare/traits/trait.ts'

/** A trait by its id; which there are is told by the descriptors. */
export const traitSchema = z.custom<Trait>((value) => typeof value === 'string' && value.length <= 60)

/** Where a difference lies: arrays of element numbers, fetched when they are to be shown. */
export const placesSchema = z.object({
  element: z.enum(['points', 'edges', 'faces', 'corners']),
  /** Hash of the array; null for none. */
  master: z.string().nullable(),
  returned: z.string().nullable(),
  /** How far each point moved, 32-bit floats, in the numbering of either side. */
  field: z.object({ master: z.string(), returned: z.string() }).nullish(),
})

export const cellSchema = z.object({
  state: z.enum(STATES),
  empty: z.boolean(),
  deviation: z.number().nullable(),
  changedCount: z.number(),
  totalCount: z.number(),
  note: z.string(),
  parameters: z.record(z.string(), z.union([z.string(), z.number()])),
  places: placesSchema.nullable(),
})

export const rowSchema = z.object({
  name: z.string(),
  masterNode: z.number().int(),
  returnedNode: z.number().int(),
  matchedBy: z.string(),
  correspondence: z.string(),
  faceCount: z.number().int(),
  cells: z.record(z.string(), cellSchema) as unknown as z.ZodType<
    Partial<Record<Trait, z.infer<typeof cellSchema>>>
  >,
})

/** A size, turn, mirror or move that all parts came back with. Ledgers from before may lack what is optional here. */
export const wholeChangeSchema = z.object({
  factor: z.number(),
  turn: z.object({ text: z.string() }).nullable(),
  mirror: z.string().nullish(),
  move: z.object({ text: z.string() }).nullish(),
  by: z.enum(['points', 'surfaces', 'boxes']).optional(),
})

export const ledgerSchema = z.object({
  rows: z.array(rowSchema),
  scene: cellSchema,
  whole: wholeChangeSchema.nullable().default(null),
  /** What was done to the layout of UVs of all of it. */
  layout: z.object({ text: z.string() }).nullish(),
  /** What was undone before the parts were compared. */
  undone: wholeChangeSchema.nullish(),
  layoutUndone: z.object({ text: z.string() }).nullish(),
})

/** A trait of a part that was changed in what came back and in the master since. */
export const conflictSchema = z.object({
  /** Id of the part's node; empty for the scene. */
  id: z.string(),
  name: z.string(),
  trait: traitSchema,
  /** Elements that both sides changed, each its own way; null: the trait as a whole. */
  elements: z.number().nullable(),
})
export type ConflictDocument = z.infer<typeof conflictSchema>

export type LedgerDocument = z.infer<typeof ledgerSchema>
export type LedgerRowDocument = z.infer<typeof rowSchema>
export type LedgerCellDocument = z.infer<typeof cellSchema>
