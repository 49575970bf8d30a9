import { writeLog } from '../plugins/logging.ts'
import { Readable } from 'node:stream'
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod'
import {
  assetSchema,
  assetsSchema,
  idSchema,
  importFieldsSchema,
  renameBodySchema,
  startedJobSchema,
} from '../../contract/api.ts'
import { z } from 'zod'
import { partMarksBodySchema } from '../../contract/recipes.ts'
import { KelboError } from '../../core/base/messages/collector.ts'
import type { ReadOptions } from '../../core/formats/descriptor.ts'
import { fileWord } from '../../core/trips/split.ts'
import { stemOf } from '../../core/formats/package/package-file.ts'
import { isModelName } from '../../core/formats/package/read-package.ts'
import { nameOf } from '../accounts/require-account.ts'
import { keepUpload, prepareSpooledFile, putFile } from '../content/file-store.ts'
import { sweepUnused } from '../content/sweep.ts'
import { withPlainUpload, withUpload } from '../content/uploads.ts'
import type { JobInputs } from '../jobs/inputs.ts'
import { createJob } from '../jobs/job-store.ts'
import { changedMeanwhile, notFound } from '../plugins/errors.ts'
import { checkReadOptions, parseField, parseFields, type Services } from '../plugins/services.ts'
import { ARCHIVE_ENDING, exportAsset, importAsset } from './archive.ts'
import { getAsset, hasAsset, listAssets, markParts, removeAsset, renameAsset } from './asset-store.ts'

export const assetRoutes =
  ({ database: { db } }: Services): FastifyPluginAsyncZod =>
  async (app) => {
    app.get('/assets', { schema: { response: { 200: assetsSchema } } }, async () => ({
      assets: await listAssets(db),
    }))

    const notChangeable = async (id: string, what: string) =>
      (await hasAsset(db, id)) ? changedMeanwhile(what) : notFound('This asset')

    app.get(
      '/assets/:id',
      { schema: { params: idSchema, response: { 200: assetSchema } } },
      async (request) => {
        const asset = await getAsset(db, request.params.id)
        if (!asset) throw notFound('This asset')
        return asset
      },
    )

    app.post('/assets', { schema: { response: { 202: startedJobSchema } } }, async (request, reply) => {
      const jobId = await withUpload(request, async ({ files, fields }) => {
        if (files.length === 0) throw new KelboError('package.no-model')
        const {
          name,
          options: given,
          each,
        } = parseFields(importFieldsSchema, {
          name: fields.name || undefined,
          options: parseField(fields.options),
          each: fields.each || undefined,
        })
        const options = checkReadOptions(given as ReadOptions)
        const model = files.find((file) => isModelName(file.name)) ?? files[0]!
        const prepared = files.map(prepareSpooledFile)
        await Promise.all(files.map(keepUpload))
        return db.transaction(async (tx) => {
          const fileIds: string[] = []
          for (const file of prepared) fileIds.push(await putFile(tx, file))
          const assetName = name ?? stemOf(model.name)
          return createJob(tx, {
            kind: 'import',
            title: each === 'yes' ? `Import ${assetName} and more` : `Import ${assetName}`,
            askedBy: nameOf(request),
            input: { fileIds, name: assetName, options, each: each === 'yes' } satisfies JobInputs['import'],
          })
        })
      })
      return reply.code(202).send({ jobId })
    })

    app.get('/assets/:id/archive', { schema: { params: idSchema } }, async (request, reply) => {
      const archive = await exportAsset(db, request.params.id)
      if (!archive) throw notFound('This asset')
      const name = `${fileWord(archive.name).toLowerCase()}${ARCHIVE_ENDING}`
      return reply
        .header('content-type', 'application/octet-stream')
        .header(
          'content-disposition',
          `attachment; filename="${name.replace(/[^\x20-\x7e]|["\\]/g, '_')}"; filename*=UTF-8''${encodeURIComponent(name)}`,
        )
        .send(Readable.from(archive.bytes, { objectMode: false }))
    })

    app.post(
      '/assets/archive',
      { schema: { response: { 201: z.object({ assetId: z.uuid() }) } } },
      async (request, reply) => {
        const assetId = await withPlainUpload(request, ([file]) => {
          if (!file) throw new KelboError('archive.broken')
          return importAsset(db, file.path)
        })
        return reply.code(201).send({ assetId })
      },
    )

    app.patch(
      '/assets/:id',
      { schema: { params: idSchema, body: renameBodySchema } },
      async (request, reply) => {
        const { name, from } = request.body
        if (!(await renameAsset(db, request.params.id, name, from)))
          throw await notChangeable(request.params.id, 'The name')
        return reply.code(204).send()
      },
    )

    app.patch(
      '/assets/:id/parts',
      { schema: { params: idSchema, body: partMarksBodySchema } },
      async (request, reply) => {
        const { marks, from } = request.body
        if (!(await markParts(db, request.params.id, marks, from)))
          throw await notChangeable(request.params.id, 'This mark')
        return reply.code(204).send()
      },
    )

    app.delete('/assets/:id', { schema: { params: idSchema } }, async (request, reply) => {
      if (!(await removeAsset(db, request.params.id))) throw notFound('This asset')
      // it is gone whatever becomes of what it leaves behind, which the next sweep takes too
      await sweepUnused(db, 0).catch((error: unknown) => writeLog(request.log, 'sweep', { err: error }))
      return reply.code(204).send()
    })
  }
