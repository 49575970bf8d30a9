import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod'
import { idSchema, landingsSchema, startedJobSchema, takeLandingBodySchema } from '../../contract/api.ts'
import { KelboError } from '../../core/base/messages/collector.ts'
import { nameOf } from '../accounts/require-account.ts'
import { notFound } from '../plugins/errors.ts'
import type { Services } from '../plugins/services.ts'
import { getTrip } from '../trips/trip-store.ts'
import type { HandOff } from './folders.ts'
import { holdLanding, listLandings, openTrips, settleLanding } from './landing-store.ts'
import { receiveLanding } from './receive-landing.ts'

export const handOffRoutes =
  ({ database: { db } }: Services, handOff: HandOff | null): FastifyPluginAsyncZod =>
  async (app) => {
    app.get('/landings', { schema: { response: { 200: landingsSchema } } }, async () => {
      const landings = await listLandings(db)
      return {
        root: handOff?.root ?? null,
        landings,
        trips: landings.length ? await openTrips(db) : [],
      }
    })

    app.post(
      '/landings/:id/take',
      { schema: { params: idSchema, body: takeLandingBodySchema, response: { 202: startedJobSchema } } },
      async (request, reply) => {
        const trip = await getTrip(db, request.body.tripId)
        if (!trip) throw notFound('This trip')
        if (trip.returnedSceneId !== request.body.from) throw new KelboError('trip.other-return')
        const jobId = await db.transaction(async (tx) => {
          const landing = await holdLanding(tx, request.params.id)
          if (!landing || landing.fileIds.length === 0) throw notFound('What landed')
          return receiveLanding(tx, landing, landing.fileIds, trip, nameOf(request))
        })
        return reply.code(202).send({ jobId })
      },
    )

    app.post('/landings/:id/aside', { schema: { params: idSchema } }, async (request, reply) => {
      await db.transaction(async (tx) => {
        const landing = await holdLanding(tx, request.params.id)
        if (!landing) throw notFound('What landed')
        await settleLanding(tx, landing.id, { state: 'aside' })
      })
      return reply.code(204).send()
    })
  }
