import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod'
import { z } from 'zod'
import { fromQuerySchema, idSchema } from '../../contract/api.ts'
import {
  asDestination,
  destinationFieldsSchema,
  destinationFile,
  destinationFileSchema,
  destinationsSchema,
  listedDestinationSchema,
  type DestinationFields,
} from '../../contract/destinations.ts'
import { complainOfDestination } from '../../app/check-destination.ts'
import { fileWord } from '../../core/trips/split.ts'
import {
  addDestination,
  changeDestination,
  findDestination,
  hasDestination,
  listDestinations,
  removeDestination,
} from './destination-store.ts'
import { changedMeanwhile, notFound } from '../plugins/errors.ts'
import { malformed, type Services } from '../plugins/services.ts'

/** @throws RequestRefused where it names what there isn't. */
function sound(fields: DestinationFields): DestinationFields {
  const complaint = complainOfDestination(asDestination({ ...fields, id: '' }))
  if (complaint) throw malformed(complaint)
  return fields
}

export const destinationRoutes =
  ({ database: { db } }: Services): FastifyPluginAsyncZod =>
  async (app) => {
    const notChangeable = async (id: string) =>
      (await hasDestination(db, id)) ? changedMeanwhile('This destination') : notFound('This destination')

    app.get('/destinations', { schema: { response: { 200: destinationsSchema } } }, async () => ({
      destinations: await listDestinations(db),
    }))

    app.post(
      '/destinations',
      { schema: { body: destinationFieldsSchema, response: { 201: listedDestinationSchema } } },
      async (request, reply) => reply.code(201).send(await addDestination(db, sound(request.body))),
    )

    app.put(
      '/destinations/:id',
      {
        schema: {
          params: idSchema,
          querystring: fromQuerySchema,
          body: destinationFieldsSchema,
          response: { 200: listedDestinationSchema },
        },
      },
      async (request) => {
        const changed = await changeDestination(
          db,
          request.params.id,
          sound(request.body),
          request.query.from,
        )
        if (!changed) throw await notChangeable(request.params.id)
        return changed
      },
    )

    app.delete(
      '/destinations/:id',
      { schema: { params: idSchema, querystring: fromQuerySchema } },
      async (request, reply) => {
        if (!(await removeDestination(db, request.params.id, request.query.from)))
          throw await notChangeable(request.params.id)
        return reply.code(204).send()
      },
    )

    app.get(
      '/destinations/:id/file',
      {
        schema: {
          params: z.object({ id: z.string().max(60) }),
          response: { 200: destinationFileSchema },
        },
      },
      async (request, reply) => {
        const destination = await findDestination(db, request.params.id)
        if (!destination) throw notFound('This destination')
        const name = `${fileWord(destination.name).toLowerCase()}.json`
        reply.header('content-disposition', `attachment; filename="${name}"`)
        return destinationFile(destination)
      },
    )
  }
