/** Materials rewired for another surface model. */
import { z } from 'zod'
import { messageSchema } from './api.ts'
import { optionValuesSchema } from './options.ts'
import { remapRulesSchema, surfaceValueSchema } from './surface-rules.ts'

export const remapBodySchema = z
  .object({
    versionId: z.uuid(),
    /** Id of a surface model that ships. */
    surface: z.string().max(60),
    /** Images that were put on the server for this asset. */
    fileIds: z.array(z.uuid()).max(5000).default([]),
    rules: remapRulesSchema.default({ rules: [] }),
    /**
     * look: what would become of it; show: both as scenes to be drawn; keep: a new version; files: the model, its maps
     * and documents as one ZIP.
     */
    mode: z.enum(['look', 'show', 'keep', 'files']),
    /** Format of the model among the files. */
    format: z.string().max(20).nullable().default(null),
    /** A newer version that the artist knows of, and which the new one is to stand in front of all the same. */
    beside: z.uuid().nullable().default(null),
  })
  .strict()
export type RemapBody = z.input<typeof remapBodySchema>

export const sheetRowSchema = z.object({
  parameter: z.string(),
  slot: z.string().nullable(),
  value: surfaceValueSchema.nullable(),
  unit: z.string().nullable(),
  map: z.string().nullable(),
  source: z.object({ file: z.string(), channel: z.string(), inverted: z.boolean() }).nullish(),
  channel: z.string().nullable(),
  inverted: z.boolean(),
  colorSpace: z.string().nullable(),
  amount: z.number(),
  /** Older looks lack these. */
  times: z.boolean().optional(),
  drawnTimes: surfaceValueSchema.nullish(),
  drawnOver: surfaceValueSchema.nullish(),
  direction: z.string().nullable(),
  how: z.enum(['exact', 'approximate', 'none']),
  note: z.string(),
  from: z.enum(['material', 'folder', 'rule', 'standard']),
})
export type SheetRowDocument = z.infer<typeof sheetRowSchema>

export const materialSheetSchema = z.object({
  material: z.string(),
  polygons: z.number().int(),
  from: z.object({
    model: z.string(),
    title: z.string(),
    how: z.string(),
    share: z.number(),
    values: z.record(z.string(), surfaceValueSchema),
  }),
  surface: z.string(),
  parameters: z.array(sheetRowSchema),
  lost: z.array(z.object({ what: z.string(), note: z.string() })),
  drawnFrom: z.array(z.string()).optional(),
  drawnInto: z.object({ set: z.string(), tileCount: z.number() }).optional(),
})
export type MaterialSheetDocument = z.infer<typeof materialSheetSchema>

/** What a job of remapping makes. */
export const remapResultSchema = z.object({
  sheets: z.array(materialSheetSchema),
  sets: z.array(
    z.object({
      name: z.string(),
      files: z.number(),
      material: z.string().nullable(),
      likeness: z.number(),
      how: z.enum(['sure', 'only', 'doubtful', 'none', 'rule']),
      others: z.array(z.string()),
    }),
  ),
  doubtful: z.array(z.object({ file: z.string(), slot: z.string().nullable(), why: z.string() })),
  maps: z.array(z.object({ path: z.string(), copies: z.string().nullable(), done: z.string().nullable() })),
  messages: z.array(messageSchema),
  versionId: z.uuid().optional(),
  versionNumber: z.number().optional(),
  fileId: z.uuid().optional(),
})
export type RemapResultDocument = z.infer<typeof remapResultSchema>

/** Images that were put on the server. */
export const storedMapsSchema = z.object({
  files: z.array(z.object({ id: z.uuid(), name: z.string(), byteLength: z.number() })),
})

/** What a job of showing makes: two scenes whose materials are glTF's, kept for a day. */
export const shownSurfacesSchema = z.object({
  beforeSceneId: z.uuid(),
  afterSceneId: z.uuid(),
  /** What glTF has no place for, and so is not to be seen. */
  notDrawn: z.array(
    z.object({
      side: z.enum(['before', 'after']),
      material: z.string(),
      what: z.string(),
      note: z.string(),
    }),
  ),
})
export type ShownSurfacesDocument = z.infer<typeof shownSurfacesSchema>

/** An operation on images that were put on the server for an asset. */
export const imageWorkBodySchema = z
  .object({
    /** Id of an operation, and its options. */
    operation: z.string().max(60),
    options: optionValuesSchema.default({}),
    fileIds: z.array(z.uuid()).min(1).max(5000),
    /** The version whose islands an operation asks for. */
    versionId: z.uuid().nullable().default(null),
  })
  .strict()
export type ImageWorkBody = z.input<typeof imageWorkBodySchema>

/** What a job of such work makes: new images, kept for a day, and all of them as one ZIP. */
export const imageWorkSchema = z.object({
  files: storedMapsSchema.shape.files,
  refused: z.array(z.object({ file: z.string(), why: z.string() })),
  notes: z.array(z.string()).nullish(),
  /** Null where nothing was made. */
  fileId: z.uuid().nullable(),
  fileIds: z.array(z.uuid()),
})
export type ImageWorkDocument = z.infer<typeof imageWorkSchema>
