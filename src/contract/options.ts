import { z } from 'zod'
import { traitSchema } from './ledger.ts'

const axis = z.enum(['x', 'y', 'z', '-x', '-y', '-z'])

export const objReadOptionsSchema = z
  .object({
    unitMeters: z.number().positive().max(1e6).nullable(),
    upAxis: axis,
    frontAxis: axis,
    mirrored: z.boolean(),
    partsBy: z.enum(['object', 'group', 'material', 'one']),
    normals: z.enum(['file', 'smoothing', 'angle']),
    normalsAngle: z.number().min(0).max(180),
    materials: z.enum(['full', 'names', 'none']),
    flipV: z.boolean(),
    invertTransparency: z.boolean(),
  })
  .partial()
  .strict()

export const objWriteOptionsSchema = z
  .object({
    groups: z.boolean(),
    materials: z.enum(['full', 'names', 'none']),
    normals: z.boolean(),
    uvs: z.boolean(),
    smoothing: z.boolean(),
    creases: z.boolean(),
    colors: z.boolean(),
    selection: z.array(z.number().int().nonnegative()).max(100000).nullable(),
    unitMeters: z.number().positive().max(1e6).nullable(),
    upAxis: axis.nullable(),
    frontAxis: axis.nullable(),
    mirrored: z.boolean().nullable(),
    digits: z.number().int().min(1).max(17).nullable(),
    flipV: z.boolean(),
    maps: z.boolean(),
  })
  .partial()
  .strict()

export const sculptorOptionsSchema = z
  .object({
    strength: z.number().min(0).max(0.2),
    renumber: z.boolean(),
    seed: z.number().int().min(0).max(1e9),
    addGroups: z.boolean(),
    dropMaterials: z.boolean(),
  })
  .partial()
  .strict()

export const reconcileOptionsSchema = z
  .object({
    take: z.array(traitSchema),
    takeByPart: z.record(z.string().regex(/^\d+$/), z.array(traitSchema)).optional(),
  })
  .strict()

export type ReconcileChoice = z.infer<typeof reconcileOptionsSchema>
