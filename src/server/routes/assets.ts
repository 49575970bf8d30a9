import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod'
import { eq } from 'drizzle-orm'
import {
  assetSchema,
  assetsSchema,
  idSchema,
  importFieldsSchema,
  renameBodySchema,
  startedJobSchema,
} from '../../contract/api.ts'
import { KelboError } from '../../core/base/messages/collector.ts'
import { stemOf } from '../../core/formats/package/package-file.ts'
import { isModelName } from '../../core/formats/endings.ts'
import { loadAssets } from '../db/asset-store.ts'
import { putSpooledFile } from '../db/files.ts'
import { sweepUnused } from '../db/sweep.ts'
import { createJob } from '../db/job-store.ts'
import { assets } from '../db/schema.ts'
import type { JobInputs } from '../jobs/handlers.ts'
import { notFound } from '../plugins/errors.ts'
import { withUpload } from '../plugins/uploads.ts'
import { parseField, parseFields, type Services } from './services.ts'

export const assetRoutes =
  ({ database, queue }: Services): FastifyPluginAsyncZod =>
  async (app) => {
    const { db } = database

    app.get('/assets', { schema: { response: { 200: assetsSchema } } }, async () => ({
      assets: await loadAssets(db),
    }))

    app.get(
      '/assets/:id',
      { schema: { params: idSchema, response: { 200: assetSchema } } },
      async (request) => {
        const [asset] = await loadAssets(db, [request.params.id])
        if (!asset) throw notFound('This asset')
        return asset
      },
    )

    app.post('/assets', { schema: { response: { 202: startedJobSchema } } }, async (request, reply) => {
      const jobId = await withUpload(request, async ({ files, fields }) => {
        if (files.length === 0) throw new KelboError('package.no-model')
        const { name, options } = parseFields(importFieldsSchema, {
          name: fields.name || undefined,
          options: parseField(fields.options),
        })
        const model = files.find((file) => isModelName(file.name)) ?? files[0]!
        return db.transaction(async (tx) => {
          const fileIds: string[] = []
          for (const file of files) fileIds.push(await putSpooledFile(tx, file))
          const assetName = name ?? stemOf(model.name)
          return createJob(tx, {
            kind: 'import',
            title: `Import ${assetName}`,
            input: { fileIds, name: assetName, options } satisfies JobInputs['import'],
          })
        })
      })
      await queue.enqueue(jobId)
      return reply.code(202).send({ jobId })
    })

    app.patch(
      '/assets/:id',
      { schema: { params: idSchema, body: renameBodySchema } },
      async (request, reply) => {
        const rows = await db
          .update(assets)
          .set({ name: request.body.name })
          .where(eq(assets.id, request.params.id))
          .returning({ id: assets.id })
        if (rows.length === 0) throw notFound('This asset')
        return reply.code(204).send()
      },
    )

    app.delete('/assets/:id', { schema: { params: idSchema } }, async (request, reply) => {
      const rows = await db
        .delete(assets)
        .where(eq(assets.id, request.params.id))
        .returning({ id: assets.id })
      if (rows.length === 0) throw notFound('This asset')
      await sweepUnused(db, 0)
      return reply.code(204).send()
    })
  }
