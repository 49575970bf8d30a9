/** Rules for a surface model, as the interface and files of them have them. */
import { z } from 'zod'
import { ONE_MAP_DEFAULTS, ONE_MAP_LEAST, ONE_MAP_MOST } from '../core/surfaces/one-map/options.ts'
import { nameSchema } from './options.ts'

export const surfaceValueSchema = z.union([
  z.number(),
  z.boolean(),
  z.string().max(200),
  z.array(z.number()).max(16),
])

const mapRuleSchema = z
  .object({
    file: z.string().min(1).max(1000),
    channel: z.enum(['rgb', 'r', 'g', 'b', 'a']).optional(),
    inverted: z.boolean().optional(),
    amount: z.number().min(0).max(1).optional(),
    times: z.boolean().optional(),
  })
  .strict()

/** Rules as `core/surfaces/remap/rules.ts` has them. */
export const remapRulesSchema = z
  .object({
    rules: z
      .array(
        z
          .object({
            material: z.string().max(500).optional(),
            parameter: z.string().min(1).max(200),
            value: surfaceValueSchema.optional(),
            map: mapRuleSchema.nullable().optional(),
          })
          .strict(),
      )
      .max(5000)
      .default([]),
    sets: z.record(z.string().max(500), z.string().max(500)).optional(),
    rename: z.record(z.string().max(500), z.string().max(500)).optional(),
    oneMap: z
      .object({
        set: z.string().max(500).nullable().default(ONE_MAP_DEFAULTS.set),
        size: z.number().int().min(ONE_MAP_LEAST).max(ONE_MAP_MOST).default(ONE_MAP_DEFAULTS.size),
        padding: z.number().int().min(0).max(256).default(ONE_MAP_DEFAULTS.padding),
        materials: z.string().max(500).default(ONE_MAP_DEFAULTS.materials),
        name: z.string().min(1).max(500).nullable().default(ONE_MAP_DEFAULTS.name),
      })
      .strict()
      .optional(),
    green: z.enum(['up', 'down']).optional(),
    naming: z
      .object({ pattern: z.string().min(1).max(300).nullable(), folder: z.string().max(200) })
      .strict()
      .optional(),
    ownModel: z
      .object({
        name: nameSchema,
        slots: z
          .array(
            z
              .object({
                name: z.string().min(1).max(200),
                from: z.string().max(60),
                kind: z.enum(['color', 'number', 'map']).optional(),
                times: z.number().optional(),
                inverted: z.boolean().optional(),
                unit: z.string().max(40).nullable().optional(),
              })
              .strict(),
          )
          .min(1)
          .max(200),
      })
      .strict()
      .optional(),
  })
  .strict()
export type RemapRulesDocument = z.infer<typeof remapRulesSchema>

/** Rules with the surface model that they are for, under a name. */
export const surfaceRulesSchema = z
  .object({ name: nameSchema, surface: z.string().max(60), rules: remapRulesSchema })
  .strict()
export type SurfaceRules = z.infer<typeof surfaceRulesSchema>
export const savedSurfaceRulesSchema = z.object({
  id: z.uuid(),
  name: z.string(),
  surface: z.string(),
  rules: remapRulesSchema,
  updatedAt: z.string(),
})
export type SavedSurfaceRules = z.infer<typeof savedSurfaceRulesSchema>
export const savedSurfaceRulesListSchema = z.object({ surfaceRules: z.array(savedSurfaceRulesSchema) })
