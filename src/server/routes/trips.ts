import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod'
import {
  idSchema,
  practiseBodySchema,
  reconcileBodySchema,
  rereadBodySchema,
  sendBodySchema,
  startedJobSchema,
  tripDetailSchema,
} from '../../contract/api.ts'
import { readOptionsSchema } from '../../contract/options.ts'
import { isModelName } from '../../core/formats/endings.ts'
import { KelboError } from '../../core/base/messages/collector.ts'
import { standInOf } from '../../core/practice/standins/registry.ts'
import { getTrip, getVersion, loadTripDetail } from '../db/asset-store.ts'
import { findDestination } from '../db/destination-store.ts'
import { putSpooledFile } from '../db/files.ts'
import { createJob } from '../db/job-store.ts'
import type { JobInputs } from '../jobs/handlers.ts'
import { notFound, RequestRefused } from '../plugins/errors.ts'
import { withUpload } from '../plugins/uploads.ts'
import { parseField, parseFields, type Services } from './services.ts'

const nothingReturned = (): RequestRefused =>
  new RequestRefused(
    409,
    'trip.nothing-returned',
    'Nothing has come back from this trip yet.',
    'Drop the returned file first.',
  )

export const tripRoutes =
  ({ database: { db }, queue }: Services): FastifyPluginAsyncZod =>
  async (app) => {
    for (const kind of ['forecast', 'send'] as const)
      app.post(
        `/assets/:id/${kind === 'send' ? 'trips' : 'forecast'}`,
        { schema: { params: idSchema, body: sendBodySchema, response: { 202: startedJobSchema } } },
        async (request, reply) => {
          const { versionId, options, withRecipe } = request.body
          const version = await getVersion(db, versionId)
          if (!version || version.assetId !== request.params.id) throw notFound('This version')
          const destination = await findDestination(db, request.body.destination)
          if (!destination) throw notFound('This destination')
          const jobId = await db.transaction((tx) =>
            createJob(tx, {
              kind,
              title: kind === 'send' ? `Send to ${destination.name}` : `Forecast for ${destination.name}`,
              assetId: version.assetId,
              input: { versionId, destination, options, withRecipe } satisfies JobInputs['send'],
            }),
          )
          await queue.enqueue(jobId)
          return reply.code(202).send({ jobId })
        },
      )

    app.get(
      '/trips/:id',
      { schema: { params: idSchema, response: { 200: tripDetailSchema } } },
      async (request) => {
        const detail = await loadTripDetail(db, request.params.id)
        if (!detail) throw notFound('This trip')
        return detail
      },
    )

    app.post(
      '/trips/:id/return',
      { schema: { params: idSchema, response: { 202: startedJobSchema } } },
      async (request, reply) => {
        const trip = await getTrip(db, request.params.id)
        if (!trip) throw notFound('This trip')
        const jobId = await withUpload(request, async ({ files, fields }) => {
          if (files.length === 0) throw new KelboError('package.no-model')
          const options = parseFields(readOptionsSchema, parseField(fields.options))
          const model = files.findIndex((file) => isModelName(file.name))
          const ordered =
            model > 0 ? [files[model]!, ...files.filter((_file, index) => index !== model)] : files
          return db.transaction(async (tx) => {
            const fileIds: string[] = []
            for (const file of ordered) fileIds.push(await putSpooledFile(tx, file))
            return createJob(tx, {
              kind: 'receive',
              title: `Take back ${ordered[0]!.name}`,
              assetId: trip.assetId,
              tripId: trip.id,
              input: { tripId: trip.id, fileIds, options } satisfies JobInputs['receive'],
            })
          })
        })
        await queue.enqueue(jobId)
        return reply.code(202).send({ jobId })
      },
    )

    app.post(
      '/trips/:id/reconcile',
      { schema: { params: idSchema, body: reconcileBodySchema, response: { 202: startedJobSchema } } },
      async (request, reply) => {
        const trip = await getTrip(db, request.params.id)
        if (!trip) throw notFound('This trip')
        if (!trip.returnedSceneId) throw nothingReturned()
        const jobId = await db.transaction((tx) =>
          createJob(tx, {
            kind: 'reconcile',
            title: `Reconcile trip ${trip.number}`,
            assetId: trip.assetId,
            tripId: trip.id,
            input: { tripId: trip.id, ...request.body } satisfies JobInputs['reconcile'],
          }),
        )
        await queue.enqueue(jobId)
        return reply.code(202).send({ jobId })
      },
    )

    app.post(
      '/trips/:id/reread',
      { schema: { params: idSchema, body: rereadBodySchema, response: { 202: startedJobSchema } } },
      async (request, reply) => {
        const trip = await getTrip(db, request.params.id)
        if (!trip) throw notFound('This trip')
        if (!trip.returnedFileId) throw nothingReturned()
        const held = trip.returnedFileIds as string[]
        const fileIds = held.length ? held : [trip.returnedFileId]
        const jobId = await db.transaction((tx) =>
          createJob(tx, {
            kind: 'receive',
            title: `Read trip ${trip.number} again`,
            assetId: trip.assetId,
            tripId: trip.id,
            input: {
              tripId: trip.id,
              fileIds,
              options: request.body.options,
              log: trip.log as string[],
            } satisfies JobInputs['receive'],
          }),
        )
        await queue.enqueue(jobId)
        return reply.code(202).send({ jobId })
      },
    )

    app.post(
      '/trips/:id/practise',
      { schema: { params: idSchema, body: practiseBodySchema, response: { 202: startedJobSchema } } },
      async (request, reply) => {
        const trip = await getTrip(db, request.params.id)
        if (!trip) throw notFound('This trip')
        const standIn = standInOf(request.body.standIn)
        if (!standIn) throw notFound('This stand-in')
        const jobId = await db.transaction((tx) =>
          createJob(tx, {
            kind: 'practise',
            title: `Practise with ${standIn.name.toLowerCase()}`,
            assetId: trip.assetId,
            tripId: trip.id,
            input: {
              tripId: trip.id,
              standIn: standIn.id,
              options: request.body.options,
            } satisfies JobInputs['practise'],
          }),
        )
        await queue.enqueue(jobId)
        return reply.code(202).send({ jobId })
      },
    )
  }
