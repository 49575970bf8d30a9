import { randomUUID } from 'node:crypto'
import { existsSync } from 'node:fs'
import cookie from '@fastify/cookie'
import helmet from '@fastify/helmet'
import multipart from '@fastify/multipart'
import rateLimit from '@fastify/rate-limit'
import fastifyStatic from '@fastify/static'
import Fastify, { type FastifyBaseLogger, type FastifyInstance } from 'fastify'
import { serializerCompiler, validatorCompiler } from 'fastify-type-provider-zod'
import type { Database } from './db/connection.ts'
import { listenToJobs } from './jobs/listen-to-jobs.ts'
import { storableValue } from './plugins/sound-text.ts'
import { createLog } from './plugins/logging.ts'
import { handleErrors, notFound } from './plugins/errors.ts'
import { guardOrigin } from './plugins/guard.ts'
import type { Access } from './accounts/access.ts'
import { requireAccount } from './accounts/require-account.ts'
import { accountRoutes, tooMany } from './accounts/routes.ts'
import { fileLimit, MOST_FILES } from './content/uploads.ts'
import { assetRoutes } from './assets/routes.ts'
import type { HandOff } from './hand-off/folders.ts'
import { handOffRoutes } from './hand-off/routes.ts'
import { jobRoutes } from './jobs/routes.ts'
import { destinationRoutes } from './destinations/routes.ts'
import { recipeRoutes } from './recipes/routes.ts'
import { surfaceRoutes } from './surfaces/routes.ts'
import { surfaceRulesRoutes } from './surfaces/rules-routes.ts'
import { contentRoutes } from './content/routes.ts'
import { descriptorRoutes } from './descriptors/routes.ts'
import type { Services } from './plugins/services.ts'
import { tripRoutes } from './trips/routes.ts'

export interface App {
  readonly server: FastifyInstance
  close(): Promise<void>
}

/** Requests of one address a minute, where others than this machine can ask: far above what a studio needs. */
const MOST_REQUESTS = 6000

/**
 * Builds the server without listening.
 * @param pageFolder the built page; without it only the interface answers.
 * @param access from where it may be reached, and whether one signs in.
 * @param handOff where files are handed over on this machine's disk; null: nowhere.
 */
export async function buildApp(
  database: Database,
  pageFolder: string | null,
  access: Access,
  handOff: HandOff | null = null,
): Promise<App> {
  const log = createLog('server')
  const listeners = new Set<(jobId: string) => void>()
  const listener = listenToJobs(database.url, log, (jobId) => {
    for (const listen of listeners) listen(jobId)
  })
  const services: Services = {
    database,
    accounts: access.accounts,
    onJob(listen) {
      listeners.add(listen)
      return () => listeners.delete(listen)
    },
  }
  const server = Fastify({
    bodyLimit: 2 ** 20,
    forceCloseConnections: true,
    loggerInstance: log as FastifyBaseLogger,
    genReqId: () => randomUUID().slice(0, 8),
    ...(access.certificate ? { https: access.certificate } : {}),
    trustProxy: access.proxies.length ? [...access.proxies] : false,
  }) as FastifyInstance
  // who reports a fault can say which request it was
  server.addHook('onSend', async (request, reply) => void reply.header('x-request-id', request.id))
  server.addHook('preValidation', async (request) => {
    if (request.body !== undefined && request.body !== null) request.body = storableValue(request.body)
  })
  server.setValidatorCompiler(validatorCompiler)
  server.setSerializerCompiler(serializerCompiler)
  handleErrors(server, `${Math.round(fileLimit() / 2 ** 20)} MB`)
  guardOrigin(server, access.hosts)
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
    strictTransportSecurity: access.certificate ? { maxAge: 180 * 86_400, includeSubDomains: false } : false,
  })
  await server.register(cookie)
  await server.register(multipart, {
    limits: { fileSize: fileLimit(), files: MOST_FILES, fields: 10, fieldSize: 2 ** 16 },
  })
  await server.register(
    async (api) => {
      await api.register(rateLimit, {
        global: access.accounts,
        max: MOST_REQUESTS,
        timeWindow: 60_000,
        hook: 'onRequest',
        keyGenerator: (request) => request.ip,
        errorResponseBuilder: (_request, { ttl }) => tooMany('requests from here', Math.ceil(ttl / 1000)),
      })
      requireAccount(api, database.db, access.accounts)
      await api.register(accountRoutes(services))
      await api.register(assetRoutes(services))
      await api.register(contentRoutes(services))
      await api.register(tripRoutes(services))
      await api.register(recipeRoutes(services))
      await api.register(surfaceRoutes(services))
      await api.register(surfaceRulesRoutes(services))
      await api.register(destinationRoutes(services))
      await api.register(handOffRoutes(services, handOff))
      await api.register(jobRoutes(services))
      await api.register(descriptorRoutes)
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
    async close() {
      await server.close()
      await listener.close()
    },
  }
}
