import { z } from 'zod'
import {
  assetSchema,
  assetsSchema,
  errorSchema,
  jobSchema,
  jobsSchema,
  sceneSchema,
  startedJobSchema,
  tripDetailSchema,
  type ErrorDocument,
} from '../contract/api.ts'
import type { DescriptorsDocument } from '../app/descriptors.ts'
import { recipesSchema, savedRecipeSchema, type PartMark } from '../contract/recipes.ts'
import type { ReconcileChoice } from '../contract/options.ts'
import {
  destinationsSchema,
  listedDestinationSchema,
  type DestinationFields,
} from '../contract/destinations.ts'
import type { OptionValues } from '../core/base/options/option.ts'
import type { Recipe } from '../core/steps/recipe.ts'
import { parseLedgers } from './parse-ledgers.ts'

/** A refused request, in the server's own words. */
export class ApiError extends Error {
  readonly document: ErrorDocument
  constructor(document: ErrorDocument) {
    super(document.message)
    this.document = document
  }
}

const unreachable: ErrorDocument = {
  code: 'http.unreachable',
  message: 'Kelbo’s server does not answer.',
  advice: 'Check that it is still running; what you see stays as it is.',
}

async function failureOf(answer: Response): Promise<ApiError> {
  const parsed = errorSchema.safeParse(await answer.json().catch(() => null))
  return new ApiError(parsed.success ? parsed.data : unreachable)
}

async function ask<Schema extends z.ZodType>(
  schema: Schema | null,
  path: string,
  init: RequestInit = {},
): Promise<z.output<Schema>> {
  let answer: Response
  try {
    answer = await fetch(`/api${path}`, init)
  } catch {
    throw new ApiError(unreachable)
  }
  if (!answer.ok) throw await failureOf(answer)
  return (schema ? schema.parse(await answer.json()) : undefined) as z.output<Schema>
}

const json = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(body),
})

/** Milliseconds between two words on progress: each is painted, where painting may be done by the processor. */
const TELL_EVERY = 400

/** Sends files with progress, which fetch can't tell. */
function upload(
  path: string,
  files: readonly File[],
  fields: Record<string, string>,
  progress: (share: number) => void,
): Promise<{ jobId: string }> {
  const form = new FormData()
  for (const [name, value] of Object.entries(fields)) form.append(name, value)
  for (const file of files) form.append('file', file, file.name)
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest()
    request.open('POST', `/api${path}`)
    let told = 0
    request.upload.onprogress = (event) => {
      const now = performance.now()
      if (!event.lengthComputable || now - told < TELL_EVERY) return
      told = now
      progress(event.loaded / event.total)
    }
    request.onerror = () => reject(new ApiError(unreachable))
    request.onload = () => {
      let body: unknown = null
      try {
        body = JSON.parse(request.responseText)
      } catch {
        // the answer is judged by its shape below
      }
      const started = startedJobSchema.safeParse(body)
      if (request.status < 300 && started.success) return resolve(started.data)
      const refused = errorSchema.safeParse(body)
      reject(new ApiError(refused.success ? refused.data : unreachable))
    }
    request.send(form)
  })
}

/** How files are understood: of all, and of those of a format where nothing else is said. */
export type ReadWish = OptionValues | { readonly assumed: Readonly<Record<string, OptionValues>> }

/** What leaves, and for where. */
export interface SendRequest {
  readonly versionId: string
  readonly destination: string
  readonly options: OptionValues
  /** Parts that leave, by the ids of their nodes; null: all. */
  readonly selection: readonly string[] | null
  readonly withRecipe: boolean
}

const descriptorsSchema = z.custom<DescriptorsDocument>(
  (value) => value !== null && typeof value === 'object',
)

export const api = {
  descriptors: () => ask(descriptorsSchema, '/descriptors'),
  assets: () => ask(assetsSchema, '/assets'),
  asset: (id: string) => ask(assetSchema, `/assets/${id}`),
  rename: (id: string, name: string) => ask(null, `/assets/${id}`, json('PATCH', { name })),
  remove: (id: string) => ask(null, `/assets/${id}`, { method: 'DELETE' }),
  scene: (id: string) => ask(sceneSchema, `/scenes/${id}`),
  trip: async (id: string) =>
    parseLedgers(tripDetailSchema, await ask(z.unknown(), `/trips/${id}`), ['forecast', 'ledger']),
  jobs: () => ask(jobsSchema, '/jobs'),
  job: (id: string) => ask(jobSchema, `/jobs/${id}`),
  cancelJob: (id: string) => ask(null, `/jobs/${id}/cancel`, { method: 'POST' }),
  importFiles: (files: readonly File[], name: string, options: ReadWish, progress: (share: number) => void) =>
    upload('/assets', files, { name, options: JSON.stringify(options) }, progress),
  returnFiles: (
    tripId: string,
    files: readonly File[],
    options: ReadWish,
    progress: (share: number) => void,
  ) => upload(`/trips/${tripId}/return`, files, { options: JSON.stringify(options) }, progress),
  forecast: (assetId: string, request: SendRequest) =>
    ask(startedJobSchema, `/assets/${assetId}/forecast`, json('POST', request)),
  send: (assetId: string, request: SendRequest) =>
    ask(startedJobSchema, `/assets/${assetId}/trips`, json('POST', request)),
  reread: (tripId: string, options: OptionValues) =>
    ask(startedJobSchema, `/trips/${tripId}/reread`, json('POST', { options })),
  destinations: () => ask(destinationsSchema, '/destinations'),
  addDestination: (fields: DestinationFields) =>
    ask(listedDestinationSchema, '/destinations', json('POST', fields)),
  changeDestination: (id: string, fields: DestinationFields) =>
    ask(listedDestinationSchema, `/destinations/${id}`, json('PUT', fields)),
  removeDestination: (id: string) => ask(null, `/destinations/${id}`, { method: 'DELETE' }),
  destinationFileAddress: (id: string) => `/api/destinations/${id}/file`,
  reconcile: (tripId: string, choice: ReconcileChoice) =>
    ask(startedJobSchema, `/trips/${tripId}/reconcile`, json('POST', choice)),
  practise: (tripId: string, standIn: string, options: OptionValues) =>
    ask(startedJobSchema, `/trips/${tripId}/practise`, json('POST', { standIn, options })),
  recipes: () => ask(recipesSchema, '/recipes'),
  addRecipe: (recipe: Recipe) => ask(savedRecipeSchema, '/recipes', json('POST', recipe)),
  changeRecipe: (id: string, recipe: Recipe) => ask(savedRecipeSchema, `/recipes/${id}`, json('PUT', recipe)),
  removeRecipe: (id: string) => ask(null, `/recipes/${id}`, { method: 'DELETE' }),
  prepare: (assetId: string, versionId: string, recipe: Recipe) =>
    ask(startedJobSchema, `/assets/${assetId}/prepare`, json('POST', { versionId, recipe })),
  markParts: (assetId: string, marks: Record<string, PartMark>) =>
    ask(null, `/assets/${assetId}/parts`, json('PATCH', { marks })),
  /** Element numbers that a ledger names by hash. */
  async elements(hash: string): Promise<Uint32Array> {
    const answer = await fetch(`/api/blobs/${hash}`)
    if (!answer.ok) throw await failureOf(answer)
    return new Uint32Array(await answer.arrayBuffer())
  },
  fileAddress: (id: string) => `/api/files/${id}`,
}
