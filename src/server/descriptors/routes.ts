import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod'
import { describeKinds } from '../../app/descriptors.ts'

/** What there is of formats, traits, checks, steps, stand-ins and surface models. */
export const descriptorRoutes: FastifyPluginAsyncZod = async (app) => {
  const text = JSON.stringify(describeKinds())
  app.get('/descriptors', async (_request, reply) =>
    reply
      .header('content-type', 'application/json; charset=utf-8')
      .header('cache-control', 'no-cache')
      .send(text),
  )
}
