import { existsSync } from 'node:fs'
import helmet from '@fastify/helmet'
import multipart from '@fastify/multipart'
import fastifyStatic from '@fastify/static'
import Fastify, { type FastifyInstance } from 'fastify'
import { serializerCompiler, validatorCompiler } from 'fastify-type-provider-zod'
import type { Database } from './db/database.ts'
import { listenToJobs, openQueue, type Queue } from './jobs/queue.ts'
import { handleErrors, notFound } from './plugins/errors.ts'
import { allowedHosts, guardOrigin } from './plugins/guard.ts'
import { fileLimit } from './plugins/uploads.ts'
import { assetRoutes } from './routes/assets.ts'
import { jobRoutes } from './routes/jobs.ts'
import { destinationRoutes } from './routes/destinations.ts'
import { recipeRoutes } from './routes/recipes.ts'
import { sceneRoutes } from './routes/scenes.ts'
import type { Services } from './routes/services.ts'
import { tripRoutes } from './routes/trips.ts'

export interface App {
  readonly server: FastifyInstance
  readonly queue: Queue
  close(): Promise<void>
}

/**
 * Builds the server without listening.
 * @param pageFolder the built page; without it only the interface answers.
 */
export async function buildApp(database: Database, pageFolder: string | null, port: number): Promise<App> {
  const queue = await openQueue(database)
  const listeners = new Set<(jobId: string) => void>()
  const listener = listenToJobs(database.url, (jobId) => {
    for (const listen of listeners) listen(jobId)
  })
  const services: Services = {
    database,
    queue,
    onJob(listen) {
      listeners.add(listen)
      return () => listeners.delete(listen)
    },
  }
  const server = Fastify({ bodyLimit: 2 ** 20, forceCloseConnections: true })
  server.setValidatorCompiler(validatorCompiler)
  server.setSerializerCompiler(serializerCompiler)
  handleErrors(server, `${Math.round(fileLimit() / 2 ** 20)} MB`)
  const hosts = allowedHosts(port)
  guardOrigin(server, () => hosts)
  await server.register(helmet, {
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'"],
        workerSrc: ["'self'"],
        // the interface kit sets element styles from script
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'data:', 'blob:'],
        fontSrc: ["'self'"],
        connectSrc: ["'self'"],
        baseUri: ["'none'"],
        formAction: ["'none'"],
        frameAncestors: ["'none'"],
      },
    },
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
    strictTransportSecurity: false,
  })
  await server.register(multipart, {
    limits: { fileSize: fileLimit(), files: 500, fields: 10, fieldSize: 2 ** 16 },
  })
  await server.register(
    async (api) => {
      await api.register(assetRoutes(services))
      await api.register(sceneRoutes(services))
      await api.register(tripRoutes(services))
      await api.register(recipeRoutes(services))
      await api.register(destinationRoutes(services))
      await api.register(jobRoutes(services))
      api.get('/health', async () => {
        await database.pool.query('select 1')
        return { ready: true }
      })
    },
    { prefix: '/api' },
  )
  if (pageFolder && existsSync(pageFolder)) {
    await server.register(fastifyStatic, {
      root: pageFolder,
      setHeaders: (reply, path) =>
        void reply.header(
          'cache-control',
          path.includes('/assets/') ? 'public, max-age=31536000, immutable' : 'no-cache',
        ),
    })
    // the page's own addresses all give the page
    server.setNotFoundHandler((request, reply) =>
      request.method === 'GET' && !request.url.startsWith('/api/')
        ? reply.header('cache-control', 'no-cache').sendFile('index.html')
        : reply.code(404).send(notFound('This address').document),
    )
  }
  return {
    server,
    queue,
    async close() {
      await server.close()
      await listener.close()
      await queue.close()
    },
  }
}
