import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod'
import {
  closeBodySchema,
  idSchema,
  practiseBodySchema,
  randomTripsBodySchema,
  reconcileBodySchema,
  rereadBodySchema,
  sendBodySchema,
  startedJobSchema,
  returnFieldsSchema,
  tripDetailSchema,
} from '../../contract/api.ts'
import { readOptionsSchema } from '../../contract/options.ts'
import { KelboError } from '../../core/base/messages/collector.ts'
import type { ReadOptions } from '../../core/formats/descriptor.ts'
import { isModelName } from '../../core/formats/package/read-package.ts'
import { standInOf } from '../../core/practice/standins/registry.ts'
import { nameOf } from '../accounts/require-account.ts'
import { getVersion, standsOnNewest } from '../assets/asset-store.ts'
import { keepUpload, prepareSpooledFile, putFile } from '../content/file-store.ts'
import { withUpload } from '../content/uploads.ts'
import { findDestination } from '../destinations/destination-store.ts'
import type { JobInputs } from '../jobs/inputs.ts'
import { createJob } from '../jobs/job-store.ts'
import { notFound, RequestRefused } from '../plugins/errors.ts'
import {
  checkReadOptions,
  checkTraits,
  checkWriteOptions,
  parseField,
  parseFields,
  type Services,
} from '../plugins/services.ts'
import { getTrip, getTripDetail, setClosed, type TripRow } from './trip-store.ts'

const nothingReturned = (): RequestRefused =>
  new RequestRefused(
    409,
    'trip.nothing-returned',
    'Nothing has come back from this trip yet.',
    'Drop the returned file first.',
  )

/** @throws KelboError `trip.other-return` where somebody's file came back that the one who asks has not seen. */
function sameReturn(trip: TripRow, from: string | null): void {
  if (trip.returnedSceneId !== from) throw new KelboError('trip.other-return')
}

export const tripRoutes =
  ({ database: { db } }: Services): FastifyPluginAsyncZod =>
  async (app) => {
    const tripOf = async (id: string): Promise<TripRow> => {
      const trip = await getTrip(db, id)
      if (!trip) throw notFound('This trip')
      return trip
    }
    const startedSchema = { params: idSchema, response: { 202: startedJobSchema } }

    for (const kind of ['forecast', 'send'] as const)
      app.post(
        `/assets/:id/${kind === 'send' ? 'trips' : 'forecast'}`,
        { schema: { ...startedSchema, body: sendBodySchema } },
        async (request, reply) => {
          const { versionId, options, selection, withRecipe } = request.body
          checkWriteOptions(options)
          const version = await getVersion(db, versionId)
          if (!version || version.assetId !== request.params.id) throw notFound('This version')
          const destination = await findDestination(db, request.body.destination)
          if (!destination) throw notFound('This destination')
          const jobId = await createJob(db, {
            kind,
            title: kind === 'send' ? `Send to ${destination.name}` : `Forecast for ${destination.name}`,
            assetId: version.assetId,
            askedBy: nameOf(request),
            input: { versionId, destination, options, selection, withRecipe } satisfies JobInputs['send'],
          })
          return reply.code(202).send({ jobId })
        },
      )

    app.get(
      '/trips/:id',
      { schema: { params: idSchema, response: { 200: tripDetailSchema } } },
      async (request) => {
        const detail = await getTripDetail(db, request.params.id)
        if (!detail) throw notFound('This trip')
        return detail
      },
    )

    app.patch(
      '/trips/:id',
      { schema: { params: idSchema, body: closeBodySchema } },
      async (request, reply) => {
        const trip = await tripOf(request.params.id)
        const { closed, from } = request.body
        await db.transaction((tx) => setClosed(tx, trip.id, closed, from))
        return reply.code(204).send()
      },
    )

    app.post('/trips/:id/return', { schema: startedSchema }, async (request, reply) => {
      const trip = await tripOf(request.params.id)
      const jobId = await withUpload(request, async ({ files, fields }) => {
        if (files.length === 0) throw new KelboError('package.no-model')
        const options = checkReadOptions(
          parseFields(readOptionsSchema, parseField(fields.options)) as ReadOptions,
        )
        const from = parseFields(returnFieldsSchema, { from: fields.from }).from || null
        sameReturn(trip, from)
        const model = files.findIndex((file) => isModelName(file.name))
        const ordered =
          model > 0 ? [files[model]!, ...files.filter((_file, index) => index !== model)] : files
        const prepared = await Promise.all(ordered.map(prepareSpooledFile))
        await Promise.all(ordered.map(keepUpload))
        return db.transaction(async (tx) => {
          const fileIds: string[] = []
          for (const file of prepared) fileIds.push(await putFile(tx, file))
          return createJob(tx, {
            kind: 'receive',
            title: `Take back ${ordered[0]!.name}`,
            assetId: trip.assetId,
            tripId: trip.id,
            askedBy: nameOf(request),
            input: { tripId: trip.id, fileIds, options, from } satisfies JobInputs['receive'],
          })
        })
      })
      return reply.code(202).send({ jobId })
    })

    app.post(
      '/trips/:id/reconcile',
      { schema: { ...startedSchema, body: reconcileBodySchema } },
      async (request, reply) => {
        const { take, takeByPart = {} } = request.body
        checkTraits([...take, ...Object.values(takeByPart).flat()])
        const trip = await tripOf(request.params.id)
        if (!trip.returnedSceneId) throw nothingReturned()
        sameReturn(trip, request.body.from)
        const sent = await getVersion(db, trip.versionId)
        if (sent) await standsOnNewest(db, sent, request.body.onto ?? request.body.beside)
        const jobId = await createJob(db, {
          kind: 'reconcile',
          title: `Reconcile trip ${trip.number}`,
          assetId: trip.assetId,
          tripId: trip.id,
          askedBy: nameOf(request),
          input: { tripId: trip.id, ...request.body } satisfies JobInputs['reconcile'],
        })
        return reply.code(202).send({ jobId })
      },
    )

    app.post(
      '/trips/:id/reread',
      { schema: { ...startedSchema, body: rereadBodySchema } },
      async (request, reply) => {
        const options = checkReadOptions(request.body.options as ReadOptions)
        const trip = await tripOf(request.params.id)
        if (trip.returnedFileIds.length === 0) throw nothingReturned()
        sameReturn(trip, request.body.from)
        const jobId = await createJob(db, {
          kind: 'receive',
          title: `Read trip ${trip.number} again`,
          assetId: trip.assetId,
          tripId: trip.id,
          askedBy: nameOf(request),
          input: {
            tripId: trip.id,
            fileIds: [...trip.returnedFileIds],
            // what was said of the files when they came still holds
            options: { ...trip.returnOptions, ...options },
            log: [...trip.log],
            from: request.body.from,
            undoWhole: request.body.undoWhole,
            pairs: request.body.pairs,
          } satisfies JobInputs['receive'],
        })
        return reply.code(202).send({ jobId })
      },
    )

    app.post(
      '/trips/:id/random-trips',
      { schema: { ...startedSchema, body: randomTripsBodySchema } },
      async (request, reply) => {
        const trip = await tripOf(request.params.id)
        const { count, seed } = request.body
        const jobId = await createJob(db, {
          kind: 'random-trips',
          title: `${count} random trips`,
          assetId: trip.assetId,
          tripId: trip.id,
          askedBy: nameOf(request),
          input: { tripId: trip.id, count, seed } satisfies JobInputs['random-trips'],
        })
        return reply.code(202).send({ jobId })
      },
    )

    app.post(
      '/trips/:id/practise',
      { schema: { ...startedSchema, body: practiseBodySchema } },
      async (request, reply) => {
        const trip = await tripOf(request.params.id)
        const standIn = standInOf(request.body.standIn)
        if (!standIn) throw notFound('This stand-in')
        sameReturn(trip, request.body.from)
        const jobId = await createJob(db, {
          kind: 'practise',
          title: `Practise with ${standIn.name.toLowerCase()}`,
          assetId: trip.assetId,
          tripId: trip.id,
          askedBy: nameOf(request),
          input: {
            tripId: trip.id,
            standIn: standIn.id,
            options: request.body.options,
            from: request.body.from,
          } satisfies JobInputs['practise'],
        })
        return reply.code(202).send({ jobId })
      },
    )
  }
