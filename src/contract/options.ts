import { z } from 'zod'
import { traitSchema } from './ledger.ts'

const axis = z.enum(['x', 'y', 'z', '-x', '-y', '-z'])

/** How a file is to be understood, whatever its format; a format takes what it knows. */
export const plainReadOptionsSchema = z
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
    creaseScale: z.number().positive().max(1000),
    creaseExponent: z.number().min(0.1).max(10),
  })
  .partial()
  .strict()

/** How files are understood: what is asked of all, and what is assumed of a format's where nothing else is. */
export const readOptionsSchema = plainReadOptionsSchema
  .extend({
    assumed: z.object({ obj: plainReadOptionsSchema, fbx: plainReadOptionsSchema }).partial().strict(),
  })
  .partial()
  .strict()

/** What is written of a model and how, whatever the format; a format takes what it knows. */
export const writeOptionsSchema = z
  .object({
    groups: z.boolean(),
    materials: z.enum(['full', 'names', 'none']),
    normals: z.boolean(),
    uvs: z.boolean(),
    smoothing: z.boolean(),
    creases: z.boolean(),
    colors: z.boolean(),
    selection: z.array(z.number().int().nonnegative()).max(100000).nullable(),
    visibleOnly: z.boolean(),
    triangulate: z.boolean(),
    unitMeters: z.number().positive().max(1e6).nullable(),
    upAxis: axis.nullable(),
    frontAxis: axis.nullable(),
    mirrored: z.boolean().nullable(),
    scale: z.number().positive().max(1e9),
    maps: z.boolean(),
    // OBJ
    digits: z.number().int().min(1).max(17).nullable(),
    flipV: z.boolean(),
    // FBX
    version: z.union([z.literal(7400), z.literal(7500)]),
    form: z.enum(['binary', 'text']),
    tangents: z.boolean(),
    uvSetNames: z.string().max(1000),
    smoothingForm: z.enum(['own', 'edges', 'polygons']),
    creaseScale: z.number().positive().max(1000),
    creaseExponent: z.number().min(0.1).max(10),
    groupsAs: z.enum(['sets', 'materials']),
    embedMaps: z.boolean(),
    packAll: z.boolean(),
    shapes: z.boolean(),
    cameras: z.boolean(),
    lights: z.boolean(),
    unitAs: z.enum(['metadata', 'roots', 'points']),
    axesAs: z.enum(['metadata', 'points']),
  })
  .partial()
  .strict()

/** Settings of a stand-in, by its own parameters. */
export const standInOptionsSchema = z.record(
  z.string().max(60),
  z.union([z.string().max(200), z.number(), z.boolean()]),
)

export const reconcileOptionsSchema = z
  .object({
    take: z.array(traitSchema),
    takeByPart: z.record(z.string().regex(/^\d+$/), z.array(traitSchema)).optional(),
  })
  .strict()

export type ReconcileChoice = z.infer<typeof reconcileOptionsSchema>
