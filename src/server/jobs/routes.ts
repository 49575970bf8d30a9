import { writeLog } from '../plugins/logging.ts'
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod'
import { idSchema, jobSchema, jobsSchema } from '../../contract/api.ts'
import { tokenOf } from '../accounts/require-account.ts'
import { accountOfSession } from '../accounts/session-store.ts'
import { cancelJob, getJob, listJobs } from './job-store.ts'
import { errorDocument } from '../plugins/error-documents.ts'
import { notFound } from '../plugins/errors.ts'
import type { Services } from '../plugins/services.ts'

/** Milliseconds between two signs that the line still stands. */
const ALIVE_EVERY = 15_000

export const jobRoutes =
  ({ database: { db }, onJob }: Services): FastifyPluginAsyncZod =>
  async (app) => {
    app.get('/jobs', { schema: { response: { 200: jobsSchema } } }, async () => ({
      jobs: await listJobs(db),
    }))

    app.get('/jobs/:id', { schema: { params: idSchema, response: { 200: jobSchema } } }, async (request) => {
      const job = await getJob(db, request.params.id)
      if (!job) throw notFound('This job')
      return job
    })

    app.post('/jobs/:id/cancel', { schema: { params: idSchema } }, async (request, reply) => {
      if (!(await getJob(db, request.params.id))) throw notFound('This job')
      // one that has ended in the meantime stays as it ended: whoever cancels wanted it to be over
      await cancelJob(db, request.params.id, errorDocument('job.cancelled'))
      return reply.code(204).send()
    })

    // Server-sent events: one event for every job that changes
    app.get('/events', async (request, reply) => {
      reply.hijack()
      const { raw } = reply
      raw.writeHead(200, {
        'content-type': 'text/event-stream',
        'cache-control': 'no-store',
        'x-content-type-options': 'nosniff',
      })
      raw.write('retry: 1000\n\n')
      const stop = onJob((jobId) => {
        void getJob(db, jobId)
          .then((job) => job && raw.write(`event: job\ndata: ${JSON.stringify(job)}\n\n`))
          .catch((error: Error) => writeLog(request.log, 'events', { err: error }))
      })
      const token = request.account && tokenOf(request)
      const alive = setInterval(() => {
        raw.write(': alive\n\n')
        // who was signed out elsewhere hears nothing more
        if (token)
          void accountOfSession(db, token)
            .then((account) => account ?? raw.end())
            .catch((error: unknown) => writeLog(request.log, 'events', { err: error }))
      }, ALIVE_EVERY)
      request.raw.on('close', () => {
        clearInterval(alive)
        stop()
      })
    })
  }
