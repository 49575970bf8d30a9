/** Destinations as the interface and files of them have them. */
import { z } from 'zod'
import type { CheckSettings } from '../core/checks/settings.ts'
import { DESTINATION_KINDS, type Destination } from '../core/trips/destinations/destination.ts'
import { traitSchema } from './ledger.ts'
import { nameSchema, optionValuesSchema } from './options.ts'
import { recipeSchema } from './recipes.ts'
import { surfaceRulesSchema } from './surface-rules.ts'

const traits = z.array(traitSchema).max(60)
const amount = z.number().min(0).max(1e12)

/** What a model is held against; what is left out takes its default. */
export const checkSettingsSchema = z
  .object({
    wantQuads: z.boolean(),
    weldDistance: amount.nullable(),
    triangleBudget: amount.nullable(),
    aspectLimit: amount,
    areaRatioLimit: amount,
    bendLimit: amount,
    mapSize: amount,
    paddingPixels: amount,
    tiles: z.boolean(),
    densitySpread: amount,
    stretchLimit: amount,
    uvSetNames: z.array(z.string().max(200)).max(100),
    smoothingForm: z.enum(['groups', 'masks', 'edges']),
    normalLimit: amount,
    heightMeters: amount.nullable(),
    unitMeters: amount.nullable(),
    upAxis: z.enum(['x', 'y', 'z', '-x', '-y', '-z']).nullable(),
    nameLength: amount,
    oneMaterial: z.boolean(),
    leastMapSize: amount,
    wantRoot: z.boolean(),
    wantPartsOnFloor: z.boolean(),
    wantPanels: z.boolean(),
    leastPanel: amount,
  } satisfies Record<keyof CheckSettings, z.ZodType>)
  .partial()
  .strict()

/** A destination without its id, as an artist writes it and as JSON files hold it. */
export const destinationFieldsSchema = z
  .object({
    name: nameSchema,
    kind: z.enum(DESTINATION_KINDS),
    description: z.string().max(600),
    format: z.string().max(40),
    writeOptions: optionValuesSchema,
    readOptions: optionValuesSchema,
    size: z
      .object({ unit: z.enum(['stated', 'numbers']), unitMeters: z.number().positive().max(1e6) })
      .strict(),
    polygons: z.enum(['any', 'quads', 'triangles']),
    polygonBudget: z.number().int().positive().max(1e9).nullable(),
    normalMapGreen: z.enum(['up', 'down']),
    neverTravels: traits,
    naming: z
      .object({
        letters: z.enum(['any', 'plain']),
        longest: z.number().int().min(4).max(1000).nullable(),
        prefix: z.string().max(40),
        suffix: z.string().max(40),
      })
      .strict(),
    split: z.enum(['one', 'parts', 'materials']),
    checkSettings: checkSettingsSchema,
    mustBeClean: z.array(z.string().max(60)).max(200),
    recipe: recipeSchema.nullable(),
    // absent in documents from before there was such a thing
    surfaces: surfaceRulesSchema.nullable().default(null),
    purpose: traits,
    changesOnReturn: traits,
    standIn: z.string().max(60).nullable(),
  })
  .strict()
export type DestinationFields = z.infer<typeof destinationFieldsSchema>

export const destinationSchema = destinationFieldsSchema.extend({ id: z.string().max(60) })

/** Ships with Kelbo and can't be changed, or the artist's own. */
export const listedDestinationSchema = destinationSchema.extend({
  shipped: z.boolean(),
  /** When it was last changed; null for one that ships. */
  updatedAt: z.string().nullable(),
})
export type ListedDestination = z.infer<typeof listedDestinationSchema>
export const destinationsSchema = z.object({ destinations: z.array(listedDestinationSchema) })

/** What a file of a destination says it is. */
export const DESTINATION_FILE = 'kelbo-destination' as const
export const destinationFileSchema = z
  .object({ type: z.literal(DESTINATION_FILE), version: z.literal(1), destination: destinationFieldsSchema })
  .strict()

/** A destination as a file of its own. */
export const destinationFile = (destination: Destination): z.infer<typeof destinationFileSchema> => {
  const { id: _id, ...fields } = destination
  return { type: DESTINATION_FILE, version: 1, destination: destinationFieldsSchema.parse(fields) }
}

/** The core's destination from one that has passed the schema. */
export const asDestination = (document: z.infer<typeof destinationSchema>): Destination =>
  document as Destination

/** Where a document is wrong, in words: the first place. */
export function schemaComplaint(error: z.ZodError): string {
  const [first] = error.issues
  if (!first) return 'it has another form'
  const place = first.path.join('.')
  const unknown = first.code === 'unrecognized_keys' ? `“${first.keys.join('”, “')}” is not known here` : null
  return `${place ? `“${place}”: ` : ''}${unknown ?? first.message}`
}
