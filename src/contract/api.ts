/** Shapes of the HTTP interface, shared by server and page. */
import { z } from 'zod'
import type { SceneInspection } from '../core/inspect/inspect-scene.ts'
import { ledgerSchema } from './ledger.ts'
import { partMarksSchema } from './recipes.ts'
import { destinationSchema } from './destinations.ts'
import {
  nodeIdSchema,
  optionValuesSchema,
  readOptionsSchema,
  reconcileOptionsSchema,
  nameSchema,
} from './options.ts'

export const idSchema = z.object({ id: z.uuid() })

export const messageSchema = z.object({
  code: z.string(),
  severity: z.enum(['error', 'warning', 'info']),
  message: z.string(),
  where: z.string(),
  total: z.number(),
})
export type MessageDocument = z.infer<typeof messageSchema>

/** What every failed request answers. */
export const errorSchema = z.object({ code: z.string(), message: z.string(), advice: z.string() })
export type ErrorDocument = z.infer<typeof errorSchema>

export const jobStateSchema = z.enum(['queued', 'running', 'done', 'failed', 'cancelled'])
export const jobSchema = z.object({
  id: z.uuid(),
  kind: z.enum([
    'import',
    'forecast',
    'send',
    'receive',
    'reconcile',
    'practise',
    'prepare',
    'land',
    'random-trips',
    'remap',
    'look',
    'images',
  ]),
  title: z.string(),
  state: jobStateSchema,
  progress: z.number(),
  stage: z.string(),
  assetId: z.uuid().nullable(),
  tripId: z.uuid().nullable(),
  /** Name of the account that asked for it; null where nobody signs in. */
  askedBy: z.string().nullable(),
  /** What the job made: ids, or a forecast. */
  result: z.record(z.string(), z.unknown()).nullable(),
  error: errorSchema.nullable(),
  createdAt: z.string(),
  startedAt: z.string().nullable(),
  finishedAt: z.string().nullable(),
})
export type JobDocument = z.infer<typeof jobSchema>
export const jobsSchema = z.object({ jobs: z.array(jobSchema) })

/** Settled: a version was made of it; closed: it is over without one. */
export const tripStateSchema = z.enum(['out', 'back', 'settled', 'closed'])
export const tripSchema = z.object({
  id: z.uuid(),
  assetId: z.uuid(),
  number: z.number().int(),
  /** The destination as it was when the trip was sent. */
  destination: destinationSchema,
  state: tripStateSchema,
  versionId: z.uuid(),
  versionNumber: z.number().int(),
  sentFileId: z.uuid(),
  sentFileName: z.string(),
  sentBytes: z.number(),
  returnedFileName: z.string().nullable(),
  /** What came back, as a scene: who writes says by it which return they had seen. */
  returnedSceneId: z.uuid().nullable(),
  resultVersionId: z.uuid().nullable(),
  resultVersionNumber: z.number().int().nullable(),
  /** Names of accounts; null where nobody signs in. */
  sentBy: z.string().nullable(),
  returnedBy: z.string().nullable(),
  sentAt: z.string(),
  returnedAt: z.string().nullable(),
})
export type TripDocument = z.infer<typeof tripSchema>

export const versionSummarySchema = z.object({
  id: z.uuid(),
  number: z.number().int(),
  note: z.string(),
  /** Name of the account; null where nobody signs in. */
  madeBy: z.string().nullable(),
  sceneId: z.uuid(),
  vertices: z.number(),
  polygons: z.number(),
  parts: z.number(),
  createdAt: z.string(),
})
export type VersionSummary = z.infer<typeof versionSummarySchema>

export const assetSchema = z.object({
  id: z.uuid(),
  name: z.string(),
  createdAt: z.string(),
  partMarks: partMarksSchema,
  versions: z.array(versionSummarySchema),
  trips: z.array(tripSchema),
})
export type AssetDocument = z.infer<typeof assetSchema>
/** An asset as lists show it. */
export const assetSummarySchema = z.object({
  id: z.uuid(),
  name: z.string(),
  createdAt: z.string(),
  master: versionSummarySchema,
  versionCount: z.number().int(),
  tripCount: z.number().int(),
  /** Those that are out, and those that came back and wait. */
  trips: z.array(tripSchema),
})
export type AssetSummary = z.infer<typeof assetSummarySchema>
export const assetsSchema = z.object({ assets: z.array(assetSummarySchema) })

/** What pages show of a scene before its arrays have come. */
export const sceneSchema = z.object({
  id: z.uuid(),
  inspection: z.custom<SceneInspection>((value) => value !== null && typeof value === 'object'),
})
export type SceneDocument = z.infer<typeof sceneSchema>

export const tripDetailSchema = z.object({
  trip: tripSchema,
  forecast: ledgerSchema.nullable(),
  ledger: ledgerSchema.nullable(),
  sentSceneId: z.uuid(),
  returnedSceneId: z.uuid().nullable(),
  returnedMessages: z.array(messageSchema),
  /** Metres in one unit of the returned file as it was understood; null: unknown. */
  contents: z.array(z.object({ name: z.string(), byteLength: z.number() })),
  /** What a stand-in said of the file. */
  log: z.array(z.string()),
})
export type TripDetail = z.infer<typeof tripDetailSchema>

export const startedJobSchema = z.object({ jobId: z.uuid() })

export const importFieldsSchema = z.object({
  name: nameSchema.optional(),
  options: readOptionsSchema,
  /** An asset for each model; else all are parts of one. */
  each: z.enum(['yes', 'no']).default('no'),
})
/** What an import of an asset each has made, in the order of the files. */
export const importedEachSchema = z.object({
  assets: z.array(z.object({ assetId: z.uuid(), name: z.string() })),
  /** Files that could not be read, a sentence or two each. */
  left: z.array(z.string()),
})
export const sendBodySchema = z
  .object({
    versionId: z.uuid(),
    destination: z.string().max(60),
    options: optionValuesSchema,
    /** Parts that leave, by the ids of their nodes; null: all. */
    selection: z.array(nodeIdSchema).max(100000).nullable().default(null),
    /** Run the destination's recipe on what leaves. */
    withRecipe: z.boolean().default(true),
  })
  .strict()
/** When what is to be changed was last changed, as far as the one who changes it knows. */
export const fromQuerySchema = z.object({ from: z.iso.datetime() })

/** The return that a trip has, as far as the one who writes knows; null: none. */
const fromReturn = { from: z.uuid().nullable() }
/** Fields of what comes back, beside its files. */
export const returnFieldsSchema = z.object({ from: z.union([z.uuid(), z.literal('')]) })
/** Parts that are the same though nothing shows it: the id of the master's node, and the place and name of the returned one's. */
export const handPairsSchema = z
  .array(
    z
      .object({
        part: z.string().min(1).max(60),
        returnedNode: z.number().int().min(0),
        name: z.string().max(1000),
      })
      .strict(),
  )
  .max(5000)
/** A trip is over without a version, or is waited for again. */
export const closeBodySchema = z.object({ closed: z.boolean(), ...fromReturn }).strict()
export const rereadBodySchema = z
  .object({
    options: readOptionsSchema,
    undoWhole: z.boolean().default(false),
    pairs: handPairsSchema.default([]),
    ...fromReturn,
  })
  .strict()
export const reconcileBodySchema = reconcileOptionsSchema.extend({
  ...fromReturn,
  note: z.string().max(300).optional(),
  /** The newest version, where what came back is to be brought together with it. */
  onto: z.uuid().nullable().default(null),
  /** Whose side stands where both changed a trait: by the id of the part's node and the trait. */
  choices: z.record(z.string().max(60), z.record(z.string().max(60), z.enum(['there', 'here']))).default({}),
  /** A newer version that the artist knows of, and which the new one is to stand in front of all the same. */
  beside: z.uuid().nullable().default(null),
  /** Where the result would have something wrong that the master has not, that is told and nothing is made. */
  checkFirst: z.boolean().default(false),
})
/** What a result would have wrong that the master has not. */
export const worseSchema = z.object({
  severity: z.enum(['error', 'warning', 'info']),
  message: z.string(),
  advice: z.string(),
  part: z.string().nullable(),
})
export type WorseDocument = z.infer<typeof worseSchema>
export const practiseBodySchema = z
  .object({ standIn: z.string().max(60), options: optionValuesSchema, ...fromReturn })
  .strict()
/** Files that landed in the hand-off folder and that somebody has to say something of. */
export const landingSchema = z.object({
  id: z.uuid(),
  /** Below the hand-off folder. */
  place: z.string(),
  files: z.array(z.object({ name: z.string(), byteLength: z.number() })),
  /** Why it asks, and what to do. */
  message: z.string(),
  advice: z.string(),
  /** Trips that it may be of, the likeliest first. */
  likely: z.array(z.uuid()),
  landedAt: z.string(),
})
export type LandingDocument = z.infer<typeof landingSchema>
/** A trip that something may still come home from. */
export const openTripSchema = z.object({
  id: z.uuid(),
  number: z.number().int(),
  assetId: z.uuid(),
  assetName: z.string(),
  destinationName: z.string(),
  returnedSceneId: z.uuid().nullable(),
})
export type OpenTripDocument = z.infer<typeof openTripSchema>
export const landingsSchema = z.object({
  /** Where the hand-off folder lies on the server's disk; null: there is none. */
  root: z.string().nullable(),
  landings: z.array(landingSchema),
  trips: z.array(openTripSchema),
})
export const takeLandingBodySchema = z.object({ tripId: z.uuid(), ...fromReturn }).strict()
export const MOST_RANDOM_TRIPS = 1000
export const randomTripsBodySchema = z
  .object({
    count: z.number().int().min(1).max(MOST_RANDOM_TRIPS),
    seed: z.number().int().min(0).max(1e9),
  })
  .strict()
/** What a job of random trips makes. */
export const randomTripsResultSchema = z.object({
  trips: z.array(
    z.object({
      seed: z.number(),
      done: z.array(z.string()),
      found: z.array(z.string()),
      right: z.number(),
      undecided: z.number(),
      wrong: z.number(),
    }),
  ),
})
export type RandomTripDocument = z.infer<typeof randomTripsResultSchema>['trips'][number]
export const renameBodySchema = z.object({ name: nameSchema, from: z.string().max(200) }).strict()

export const sizeSchema = z.object({
  meters: z.number().nullable(),
  statedUnit: z.number().nullable(),
  rootScale: z.number(),
  pointsHeight: z.number(),
  height: z.number(),
  seenMeters: z.number().nullable(),
  factor: z.number().nullable(),
})

export const checkResultSchema = z.object({
  check: z.string(),
  severity: z.enum(['error', 'warning', 'info']),
  message: z.string(),
  part: z.string().nullable(),
  count: z.number(),
  mustBeClean: z.boolean(),
  mended: z.boolean(),
})
export type CheckResultDocument = z.infer<typeof checkResultSchema>

export const forecastResultSchema = z.object({
  forecast: ledgerSchema,
  /** Folder that the files lie in, inside the ZIP. */
  folder: z.string(),
  contents: z.array(z.object({ name: z.string(), byteLength: z.number() })),
  messages: z.array(messageSchema),
  checks: z.array(checkResultSchema),
  size: sizeSchema,
  /** What the recipe's steps did. */
  steps: z.array(z.object({ step: z.string(), changedCount: z.number(), of: z.string() })),
})
export type ForecastResult = z.infer<typeof forecastResultSchema>
