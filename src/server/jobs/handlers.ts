/** What each kind of job does: load, compute in a thread, save all in one transaction. */
import { eq, sql } from 'drizzle-orm'
import { destinationOf } from '../../core/destinations/destination.ts'
import type { ObjReadOptions, ObjWriteOptions } from '../../core/formats/obj/options.ts'
import { describeFindings } from '../../core/inspect/inspect-scene.ts'
import type { Space } from '../../core/scene/scene.ts'
import type { SculptorOptions } from '../../core/standins/sculptor.ts'
import type { Recipe } from '../../core/steps/recipe.ts'
import type { Trait } from '../../core/traits/trait.ts'
import { readBackOptions } from '../../core/formats/registry.ts'
import type { Progress } from '../../tasks/tasks.ts'
import { addTrip, addVersion, createAsset, getTrip, getVersion, keepTripBlobs } from '../db/asset-store.ts'
import type { Db } from '../db/database.ts'
import { getFiles, putFile } from '../db/files.ts'
import { createJob, finishJob, type JobKind, type JobRow } from '../db/job-store.ts'
import { getScene, putScene } from '../db/scene-store.ts'
import { trips } from '../db/schema.ts'
import { ZIP_LIMITS_DEFAULTS, type ZipLimits } from '../../core/formats/zip/read-zip.ts'
import { storeLedger } from './ledger-document.ts'
import { runTask } from './run-task.ts'

export interface JobContext {
  readonly db: Db
  readonly job: JobRow
  readonly progress: Progress
  readonly signal: AbortSignal
  /** Queues a job that this one leads to. */
  readonly enqueue: (jobId: string) => Promise<void>
}

export interface JobInputs {
  import: { fileIds: string[]; name: string; options: Partial<ObjReadOptions> }
  forecast: { versionId: string; destination: string; options: Partial<ObjWriteOptions> }
  send: { versionId: string; destination: string; options: Partial<ObjWriteOptions> }
  receive: { tripId: string; fileIds: string[]; options: Partial<ObjReadOptions> }
  reconcile: { tripId: string; take: Trait[]; takeByPart?: Record<string, Trait[]>; note?: string }
  practise: { tripId: string; options: Partial<SculptorOptions> }
  prepare: { versionId: string; recipe: Recipe }
}

/** Limits of unpacking, which an installation may set. */
export const zipLimits = (): ZipLimits => ({
  ...ZIP_LIMITS_DEFAULTS,
  ...(process.env.KELBO_ZIP_LIMIT ? { unpackedBytes: Number(process.env.KELBO_ZIP_LIMIT) } : {}),
})

type Handler<Kind extends JobKind> = (context: JobContext, input: JobInputs[Kind]) => Promise<void>

const missing = (what: string): Error => new Error(`${what} is gone`)

async function loadTrip(db: Db, tripId: string) {
  const trip = await getTrip(db, tripId)
  const version = trip && (await getVersion(db, trip.versionId))
  if (!trip || !version) throw missing('the trip')
  return { trip, version }
}

const fileStem = (name: string): string =>
  name
    .trim()
    .replace(/[^\p{L}\p{N}._-]+/gu, '_')
    .replace(/^[._]+/, '') || 'model'

async function writeAndForecast(context: JobContext, input: JobInputs['send'], assetName: string) {
  const version = await getVersion(context.db, input.versionId)
  if (!version) throw missing('the version')
  const fileName = `${fileStem(assetName)}_v${version.number}.obj`
  const scene = await getScene(context.db, version.sceneId)
  const result = await runTask(
    'send',
    { scene, fileName, options: input.options },
    context.progress,
    context.signal,
  )
  return { version, result }
}

async function assetNameOf(db: Db, assetId: string): Promise<string> {
  const rows = await db.execute<{ name: string }>(sql`select name from assets where id = ${assetId}`)
  return rows.rows[0]?.name ?? 'model'
}

export const HANDLERS: { readonly [Kind in JobKind]: Handler<Kind> } = {
  async import(context, input) {
    const { db, job, progress, signal } = context
    progress(0.01, 'Fetching the files')
    const files = await getFiles(db, input.fileIds)
    const scene = await runTask(
      'read',
      { files, options: input.options, limits: zipLimits() },
      progress,
      signal,
    )
    progress(0.9, 'Saving')
    await db.transaction(async (tx) => {
      const sceneId = await putScene(tx, scene)
      const assetId = await createAsset(tx, input.name)
      const version = await addVersion(tx, {
        assetId,
        sceneId,
        note: `Imported ${files.map((f) => f.name).join(', ')}`,
      })
      await finishJob(tx, job.id, { assetId, versionId: version.id }, { assetId })
    })
  },

  async forecast(context, input) {
    const { result } = await writeAndForecast(
      context,
      input,
      await assetNameOf(context.db, context.job.assetId!),
    )
    // a forecast is looked at and forgotten: its places are not kept
    const strip = {
      ...result.forecast,
      rows: result.forecast.rows.map((row) => ({ ...row, cells: withoutPlaces(row.cells) })),
    }
    await context.db.transaction(async (tx) => {
      const { document } = await storeLedger(tx, { ...strip, scene: { ...strip.scene, places: null } })
      await finishJob(tx, context.job.id, {
        forecast: document,
        modelBytes: result.modelBytes,
        contents: result.contents,
        messages: describeFindings(result.findings),
      })
    })
  },

  async send(context, input) {
    const { db, job } = context
    const assetId = job.assetId!
    const { version, result } = await writeAndForecast(context, input, await assetNameOf(db, assetId))
    context.progress(0.95, 'Saving')
    await db.transaction(async (tx) => {
      const sentFileId = await putFile(tx, result.file)
      const { document, hashes } = await storeLedger(tx, result.forecast)
      const trip = await addTrip(
        tx,
        {
          assetId,
          destination: input.destination,
          versionId: version.id,
          options: input.options,
          space: result.space,
          sentFileId,
          contents: result.contents,
          forecast: document,
        },
        hashes,
      )
      await finishJob(tx, job.id, { tripId: trip.id, fileId: sentFileId }, { tripId: trip.id })
    })
  },

  async receive(context, input) {
    const { db, job, progress, signal } = context
    const { trip, version } = await loadTrip(db, input.tripId)
    progress(0.01, 'Fetching the files')
    const files = await getFiles(db, input.fileIds)
    const master = await getScene(db, version.sceneId)
    const options = {
      ...readBackOptions(trip.space as Space, trip.options as Partial<ObjWriteOptions>),
      ...destinationOf(trip.destination)?.readOptions,
      ...input.options,
    }
    const { returned, ledger } = await runTask(
      'receive',
      { master, files, options, limits: zipLimits() },
      progress,
      signal,
    )
    progress(0.92, 'Saving')
    await db.transaction(async (tx) => {
      const returnedSceneId = await putScene(tx, returned)
      const { document, hashes } = await storeLedger(tx, ledger)
      await keepTripBlobs(tx, trip.id, hashes)
      await tx
        .update(trips)
        .set({
          state: 'back',
          returnedFileId: input.fileIds[0]!,
          returnedSceneId,
          ledger: document,
          resultVersionId: null,
          returnedAt: sql`now()`,
        })
        .where(eq(trips.id, trip.id))
      await finishJob(tx, job.id, { tripId: trip.id })
    })
  },

  async reconcile(context, input) {
    const { db, job, progress, signal } = context
    const { trip, version } = await loadTrip(db, input.tripId)
    if (!trip.returnedSceneId) throw missing('the returned file')
    const takeByPart = Object.fromEntries(
      Object.entries(input.takeByPart ?? {}).map(([node, traits]) => [Number(node), traits]),
    )
    const { result } = await runTask(
      'reconcile',
      {
        master: await getScene(db, version.sceneId),
        returned: await getScene(db, trip.returnedSceneId),
        options: { take: input.take, takeByPart },
      },
      progress,
      signal,
    )
    progress(0.9, 'Saving')
    await db.transaction(async (tx) => {
      const sceneId = await putScene(tx, result)
      const taken = [...new Set([...input.take, ...Object.values(input.takeByPart ?? {}).flat()])]
      const note =
        input.note?.trim() ||
        `Trip ${trip.number}: ${taken.length ? `took ${taken.join(', ')}` : 'took nothing'}`
      const added = await addVersion(tx, { assetId: trip.assetId, sceneId, note })
      await tx.update(trips).set({ state: 'settled', resultVersionId: added.id }).where(eq(trips.id, trip.id))
      await finishJob(tx, job.id, { versionId: added.id, versionNumber: added.number })
    })
  },

  async prepare(context, input) {
    const { db, job, progress, signal } = context
    const version = await getVersion(db, input.versionId)
    if (!version) throw missing('the version')
    const { result, records } = await runTask(
      'prepare',
      { scene: await getScene(db, version.sceneId), recipe: input.recipe },
      progress,
      signal,
    )
    progress(0.9, 'Saving')
    await db.transaction(async (tx) => {
      const sceneId = await putScene(tx, result)
      const added = await addVersion(tx, {
        assetId: version.assetId,
        sceneId,
        note: `${input.recipe.name}: ${records.length} ${records.length === 1 ? 'step' : 'steps'} on version ${version.number}`,
      })
      await finishJob(tx, job.id, {
        versionId: added.id,
        versionNumber: added.number,
        records: records.map(({ step, changedCount, of, notes }) => ({
          step: step.step,
          changedCount,
          of,
          notes,
        })),
      })
    })
  },

  async practise(context, input) {
    const { db, job, progress, signal } = context
    const { trip } = await loadTrip(db, input.tripId)
    const files = await getFiles(db, [trip.sentFileId])
    const options = readBackOptions(trip.space as Space, trip.options as Partial<ObjWriteOptions>)
    const { files: made } = await runTask(
      'practise',
      { files, options: input.options, readOptions: options, limits: zipLimits() },
      progress,
      signal,
    )
    let nextJob = ''
    await db.transaction(async (tx) => {
      const fileId = await putFile(tx, {
        ...made[0]!,
        name: made[0]!.name.replace(/\.obj$/i, '_sculpted.obj'),
      })
      nextJob = await createJob(tx, {
        kind: 'receive',
        title: 'Take back from the sculptor',
        assetId: trip.assetId,
        tripId: trip.id,
        input: { tripId: trip.id, fileIds: [fileId], options: {} } satisfies JobInputs['receive'],
      })
      await finishJob(tx, job.id, { fileId, tripId: trip.id, nextJob })
    })
    await context.enqueue(nextJob)
  },
}

const withoutPlaces = <Cells extends Record<string, { places: unknown } | undefined>>(cells: Cells): Cells =>
  Object.fromEntries(
    Object.entries(cells).map(([trait, cell]) => [trait, cell && { ...cell, places: null }]),
  ) as Cells
