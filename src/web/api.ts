import { z } from 'zod'
import {
  assetSchema,
  assetsSchema,
  errorSchema,
  jobSchema,
  jobsSchema,
  landingsSchema,
  sceneSchema,
  startedJobSchema,
  tripDetailSchema,
  type ErrorDocument,
} from '../contract/api.ts'
import type { DescriptorsDocument } from '../app/descriptors.ts'
import { sessionSchema } from '../contract/accounts.ts'
import { recipesSchema, savedRecipeSchema, type PartMark } from '../contract/recipes.ts'
import type { ReconcileChoice } from '../contract/options.ts'
import {
  destinationsSchema,
  listedDestinationSchema,
  type DestinationFields,
} from '../contract/destinations.ts'
import type { HandPair } from '../core/compare/recognise/recognise-return.ts'
import type { OptionValues } from '../core/base/options/option.ts'
import { storedMapsSchema, type ImageWorkBody, type RemapBody } from '../contract/surfaces.ts'
import {
  savedSurfaceRulesListSchema,
  savedSurfaceRulesSchema,
  type SurfaceRules,
} from '../contract/surface-rules.ts'
import type { Recipe } from '../core/steps/recipe.ts'
import { parseLedgers } from './parse-ledgers.ts'

/** A refused request, in the server's own words. */
export class ApiError extends Error {
  readonly document: ErrorDocument
  /** The HTTP status; 0 where there was no answer, or a job says it. */
  readonly status: number
  constructor(document: ErrorDocument, status = 0) {
    super(document.message)
    this.document = document
    this.status = status
  }
}

/** Somebody else has written meanwhile. */
export const isConflict = (error: unknown): error is ApiError =>
  error instanceof ApiError && error.status === 409

const unreachable: ErrorDocument = {
  code: 'http.unreachable',
  message: 'Kelbo’s server does not answer.',
  advice: 'Check that it is still running; what you see stays as it is.',
}

const signedOut = new Set<() => void>()
/** Calls back when an answer says that nobody is signed in (any more). */
export const onSignedOut = (listen: () => void): void => void signedOut.add(listen)

function refusal(body: unknown, status: number): ApiError {
  const parsed = errorSchema.safeParse(body)
  if (parsed.success && parsed.data.code === 'http.not-signed-in') for (const listen of signedOut) listen()
  return new ApiError(parsed.success ? parsed.data : unreachable, status)
}

const failureOf = async (answer: Response): Promise<ApiError> =>
  refusal(await answer.json().catch(() => null), answer.status)

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

/** Sends files with progress, which fetch can't tell. @returns what the server answered. */
function send(
  path: string,
  files: readonly File[],
  fields: Record<string, string>,
  progress: (share: number) => void,
): Promise<unknown> {
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
      if (request.status < 300) return resolve(body)
      reject(refusal(body, request.status))
    }
    request.send(form)
  })
}

/** Sends files that a job is made of. */
async function upload(
  path: string,
  files: readonly File[],
  fields: Record<string, string>,
  progress: (share: number) => void,
): Promise<{ jobId: string }> {
  const started = startedJobSchema.safeParse(await send(path, files, fields, progress))
  if (started.success) return started.data
  throw new ApiError(unreachable)
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

const archiveImportedSchema = z.object({ assetId: z.uuid() })

const descriptorsSchema = z.custom<DescriptorsDocument>(
  (value) => value !== null && typeof value === 'object',
)

/** When what is to be changed was last changed, as far as the page knows: since then changed by others, 409. */
const fromOf = (from: string): string => new URLSearchParams({ from }).toString()

export const api = {
  session: () => ask(sessionSchema, '/session'),
  signIn: (name: string, password: string) =>
    ask(sessionSchema, '/session', json('POST', { name, password })),
  signOut: () => ask(null, '/session', { method: 'DELETE' }),
  changePassword: (password: string, next: string) =>
    ask(null, '/session/password', json('PUT', { password, next })),
  descriptors: () => ask(descriptorsSchema, '/descriptors'),
  assets: () => ask(assetsSchema, '/assets'),
  asset: (id: string) => ask(assetSchema, `/assets/${id}`),
  /** @param from what it is called as far as the page knows; where it isn't any more, the server refuses (409). */
  rename: (id: string, name: string, from: string) =>
    ask(null, `/assets/${id}`, json('PATCH', { name, from })),
  remove: (id: string) => ask(null, `/assets/${id}`, { method: 'DELETE' }),
  scene: (id: string) => ask(sceneSchema, `/scenes/${id}`),
  trip: async (id: string) =>
    parseLedgers(tripDetailSchema, await ask(z.unknown(), `/trips/${id}`), ['forecast', 'ledger']),
  jobs: () => ask(jobsSchema, '/jobs'),
  job: (id: string) => ask(jobSchema, `/jobs/${id}`),
  cancelJob: (id: string) => ask(null, `/jobs/${id}/cancel`, { method: 'POST' }),
  /** @param name of the one asset; null: an asset for each model, called as its file is. */
  importFiles: (
    files: readonly File[],
    name: string | null,
    options: ReadWish,
    progress: (share: number) => void,
  ) =>
    upload(
      '/assets',
      files,
      { ...(name === null ? { each: 'yes' } : { name }), options: JSON.stringify(options) },
      progress,
    ),
  returnFiles: (
    tripId: string,
    files: readonly File[],
    options: ReadWish,
    from: string | null,
    progress: (share: number) => void,
  ) =>
    upload(
      `/trips/${tripId}/return`,
      files,
      { options: JSON.stringify(options), from: from ?? '' },
      progress,
    ),
  forecast: (assetId: string, request: SendRequest) =>
    ask(startedJobSchema, `/assets/${assetId}/forecast`, json('POST', request)),
  send: (assetId: string, request: SendRequest) =>
    ask(startedJobSchema, `/assets/${assetId}/trips`, json('POST', request)),
  /** @param from the return that the page shows, here as in what follows; another one meanwhile: 409. */
  /** What came back once more: brought back to its size and place as a whole first, or with parts paired by hand. */
  readAgain: (
    tripId: string,
    how: { readonly undoWhole: boolean; readonly pairs: readonly HandPair[] },
    from: string | null,
  ) => ask(startedJobSchema, `/trips/${tripId}/reread`, json('POST', { options: {}, ...how, from })),
  destinations: () => ask(destinationsSchema, '/destinations'),
  addDestination: (fields: DestinationFields) =>
    ask(listedDestinationSchema, '/destinations', json('POST', fields)),
  changeDestination: (id: string, fields: DestinationFields, from: string) =>
    ask(listedDestinationSchema, `/destinations/${id}?${fromOf(from)}`, json('PUT', fields)),
  removeDestination: (id: string, from: string) =>
    ask(null, `/destinations/${id}?${fromOf(from)}`, { method: 'DELETE' }),
  destinationFileAddress: (id: string) => `/api/destinations/${id}/file`,
  reconcile: (
    tripId: string,
    choice: ReconcileChoice & {
      readonly from: string | null
      readonly onto: string | null
      readonly checkFirst: boolean
      readonly choices: Readonly<Record<string, Readonly<Record<string, 'there' | 'here'>>>>
    },
  ) => ask(startedJobSchema, `/trips/${tripId}/reconcile`, json('POST', choice)),
  /** @param from the return that the trip has; another one meanwhile: 409. */
  closeTrip: (tripId: string, closed: boolean, from: string | null) =>
    ask(null, `/trips/${tripId}`, json('PATCH', { closed, from })),
  practise: (tripId: string, standIn: string, options: OptionValues, from: string | null) =>
    ask(startedJobSchema, `/trips/${tripId}/practise`, json('POST', { standIn, options, from })),
  randomTrips: (tripId: string, count: number, seed: number) =>
    ask(startedJobSchema, `/trips/${tripId}/random-trips`, json('POST', { count, seed })),
  landings: () => ask(landingsSchema, '/landings'),
  /** @param from the return that the trip has; another one meanwhile: 409. */
  takeLanding: (id: string, tripId: string, from: string | null) =>
    ask(startedJobSchema, `/landings/${id}/take`, json('POST', { tripId, from })),
  setLandingAside: (id: string) => ask(null, `/landings/${id}/aside`, { method: 'POST' }),
  /** Images for an asset's materials. @returns the files as they lie on the server now. */
  addMaps: async (assetId: string, files: readonly File[], progress: (share: number) => void) => {
    const paths = files.map((file) => file.webkitRelativePath || file.name)
    const answer = await send(`/assets/${assetId}/maps`, files, { paths: JSON.stringify(paths) }, progress)
    return storedMapsSchema.parse(answer).files
  },
  /** @param body which version, for which surface model, with which maps and rules, and what is to be made of it. */
  remap: (assetId: string, body: RemapBody) =>
    ask(startedJobSchema, `/assets/${assetId}/remap`, json('POST', body)),
  /** An operation on maps that lie on the server. */
  workOnImages: (assetId: string, body: ImageWorkBody) =>
    ask(startedJobSchema, `/assets/${assetId}/images`, json('POST', body)),
  surfaceRules: () => ask(savedSurfaceRulesListSchema, '/surface-rules'),
  addSurfaceRules: (rules: SurfaceRules) =>
    ask(savedSurfaceRulesSchema, '/surface-rules', json('POST', rules)),
  changeSurfaceRules: (id: string, rules: SurfaceRules, from: string) =>
    ask(savedSurfaceRulesSchema, `/surface-rules/${id}?${fromOf(from)}`, json('PUT', rules)),
  removeSurfaceRules: (id: string, from: string) =>
    ask(null, `/surface-rules/${id}?${fromOf(from)}`, { method: 'DELETE' }),
  recipes: () => ask(recipesSchema, '/recipes'),
  addRecipe: (recipe: Recipe) => ask(savedRecipeSchema, '/recipes', json('POST', recipe)),
  changeRecipe: (id: string, recipe: Recipe, from: string) =>
    ask(savedRecipeSchema, `/recipes/${id}?${fromOf(from)}`, json('PUT', recipe)),
  removeRecipe: (id: string, from: string) =>
    ask(null, `/recipes/${id}?${fromOf(from)}`, { method: 'DELETE' }),
  /** @param beside a newer version that the artist knows of; one unknown: 409. */
  prepare: (assetId: string, versionId: string, recipe: Recipe, beside: string | null) =>
    ask(startedJobSchema, `/assets/${assetId}/prepare`, json('POST', { versionId, recipe, beside })),
  markParts: (
    assetId: string,
    marks: Record<string, PartMark>,
    from: Readonly<Record<string, PartMark | null>>,
  ) => ask(null, `/assets/${assetId}/parts`, json('PATCH', { marks, from })),
  /** Element numbers that a ledger names by hash. */
  async elements(hash: string): Promise<Uint32Array> {
    const answer = await fetch(`/api/blobs/${hash}`)
    if (!answer.ok) throw await failureOf(answer)
    return new Uint32Array(await answer.arrayBuffer())
  },
  /** Numbers that a ledger names by hash: how far points moved. */
  async field(hash: string): Promise<Float32Array> {
    const answer = await fetch(`/api/blobs/${hash}`)
    if (!answer.ok) throw await failureOf(answer)
    return new Float32Array(await answer.arrayBuffer())
  },
  pictureAddress: (sceneId: string) => `/api/scenes/${sceneId}/picture`,
  /** An asset with all its versions and trips, as one file. */
  archiveAddress: (assetId: string) => `/api/assets/${assetId}/archive`,
  importArchive: async (file: File): Promise<string> => {
    const form = new FormData()
    form.append('file', file, file.name)
    return (await ask(archiveImportedSchema, '/assets/archive', { method: 'POST', body: form })).assetId
  },
  fileAddress: (id: string) => `/api/files/${id}`,
}
