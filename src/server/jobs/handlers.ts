/** What each kind of job does: load, compute in a thread, save all in one transaction. */
import { eq, sql } from 'drizzle-orm'
import { packageFolder } from '../../core/trips/deliver.ts'
import type { Destination } from '../../core/trips/destinations/destination.ts'
import { asDestination } from '../../contract/destinations.ts'
import { describeFindings } from '../../core/inspect/inspect-scene.ts'
import type { Space } from '../../core/scene/scene.ts'
import { standInOf } from '../../core/practice/standins/registry.ts'
import type { StandInValue } from '../../core/practice/standins/standin.ts'
import type { Recipe } from '../../core/steps/recipe.ts'
import type { Trait } from '../../core/compare/traits/registry.ts'
import { readBackOptions, type ReadOptions, type WriteOptions } from '../../core/formats/registry.ts'
import type { Progress } from '../../app/tasks.ts'
import {
  addTrip,
  addVersion,
  createAsset,
  getTrip,
  getVersion,
  keepTripBlobs,
  sentTo,
  type TripRow,
} from '../db/asset-store.ts'
import type { Db } from '../db/database.ts'
import { getFiles, putFile } from '../db/files.ts'
import { createJob, finishJob, type JobKind, type JobRow } from '../db/job-store.ts'
import { getScene, putScene } from '../db/scene-store.ts'
import { trips } from '../db/schema.ts'
import { ZIP_LIMITS_DEFAULTS, type ZipLimits } from '../../core/formats/package/read-zip.ts'
import { storeLedger } from './ledger-document.ts'
import type { RunTask } from './threads.ts'

export interface JobContext {
  readonly db: Db
  readonly job: JobRow
  readonly progress: Progress
  readonly signal: AbortSignal
  readonly runTask: RunTask
  /** Queues a job that this one leads to. */
  readonly enqueue: (jobId: string) => Promise<void>
}

export interface JobInputs {
  import: { fileIds: string[]; name: string; options: ReadOptions }
  forecast: SendInput
  send: SendInput
  receive: { tripId: string; fileIds: string[]; options: ReadOptions; log?: string[] }
  reconcile: { tripId: string; take: Trait[]; takeByPart?: Record<string, Trait[]>; note?: string }
  practise: { tripId: string; standIn: string; options: Record<string, StandInValue> }
  prepare: { versionId: string; recipe: Recipe }
}

interface SendInput {
  versionId: string
  /** As it is when the job is made: a later change doesn't reach what was asked for. */
  destination: Destination
  options: WriteOptions
  withRecipe: boolean
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

async function writeAndForecast(context: JobContext, input: SendInput, assetName: string) {
  const version = await getVersion(context.db, input.versionId)
  if (!version) throw missing('the version')
  const scene = await getScene(context.db, version.sceneId)
  const result = await context.runTask(
    'send',
    {
      scene,
      assetName,
      versionNumber: version.number,
      tripNumber: await nextTripNumber(context.db, version.assetId),
      destination: input.destination,
      options: input.options,
      withRecipe: input.withRecipe,
    },
    context.progress,
    context.signal,
  )
  return { version, result }
}

async function nextTripNumber(db: Db, assetId: string): Promise<number> {
  const rows = await db.execute<{ number: number }>(
    sql`select coalesce(max(number), 0) + 1 as number from trips where asset_id = ${assetId}`,
  )
  return Number(rows.rows[0]!.number)
}

/** What is assumed of files of a trip: how it was sent, and how its destination's files are understood. */
function returnOptions(trip: TripRow): ReadOptions {
  const destination = asDestination(sentTo(trip))
  return {
    ...readBackOptions(trip.space as Space, {
      ...destination.writeOptions,
      ...(trip.options as WriteOptions),
    }),
    ...destination.readOptions,
  }
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
    const scene = await context.runTask(
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
        folder: result.folder,
        packedBytes: result.file.bytes.length,
        contents: result.contents,
        messages: describeFindings(result.findings),
        checks: result.checks,
        size: result.size,
        steps: result.records.map(({ step, changedCount, of }) => ({ step: step.step, changedCount, of })),
      })
    })
  },

  async send(context, input) {
    const { db, job } = context
    const assetId = job.assetId!
    const assetName = await assetNameOf(db, assetId)
    const { version, result } = await writeAndForecast(context, input, assetName)
    context.progress(0.97, 'Saving')
    await db.transaction(async (tx) => {
      const sentFileId = await putFile(tx, result.file)
      const { document, hashes } = await storeLedger(tx, result.forecast)
      const trip = await addTrip(
        tx,
        {
          assetId,
          destination: input.destination.id,
          destinationDocument: input.destination,
          versionId: version.id,
          options: input.options,
          space: result.space,
          sentFileId,
          contents: result.contents,
          forecast: document,
        },
        hashes,
      )
      // another trip may have been sent meanwhile: the folder inside keeps the number that was free before
      await finishJob(
        tx,
        job.id,
        {
          tripId: trip.id,
          fileId: sentFileId,
          folder: packageFolder(assetName, input.destination, trip.number),
        },
        { tripId: trip.id },
      )
    })
  },

  async receive(context, input) {
    const { db, job, progress, signal } = context
    const { trip, version } = await loadTrip(db, input.tripId)
    progress(0.01, 'Fetching the files')
    const files = await getFiles(db, input.fileIds)
    const master = await getScene(db, version.sceneId)
    const options = { ...returnOptions(trip), ...input.options }
    const { returned, ledger } = await context.runTask(
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
          returnedFileIds: input.fileIds,
          log: input.log ?? [],
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
    const { result } = await context.runTask(
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
    const { result, records } = await context.runTask(
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
    const { files: made, log } = await context.runTask(
      'practise',
      {
        standIn: input.standIn,
        files,
        options: input.options,
        readOptions: returnOptions(trip),
        limits: zipLimits(),
      },
      progress,
      signal,
    )
    const standIn = standInOf(input.standIn)!
    let nextJob = ''
    await db.transaction(async (tx) => {
      const [model, ...others] = made
      const fileIds = [
        await putFile(tx, { ...model!, name: model!.name.replace(/(\.\w+)$/, `${standIn.suffix}$1`) }),
      ]
      for (const file of others) fileIds.push(await putFile(tx, file))
      nextJob = await createJob(tx, {
        kind: 'receive',
        title: `Take back from ${standIn.name.toLowerCase()}`,
        assetId: trip.assetId,
        tripId: trip.id,
        input: { tripId: trip.id, fileIds, options: {}, log: [...log] } satisfies JobInputs['receive'],
      })
      await finishJob(tx, job.id, { fileId: fileIds[0]!, tripId: trip.id, nextJob, log })
    })
    await context.enqueue(nextJob)
  },
}

const withoutPlaces = <Cells extends Record<string, { places: unknown } | undefined>>(cells: Cells): Cells =>
  Object.fromEntries(
    Object.entries(cells).map(([trait, cell]) => [trait, cell && { ...cell, places: null }]),
  ) as Cells
