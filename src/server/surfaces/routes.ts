import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod'
import { z } from 'zod'
import { idSchema, startedJobSchema } from '../../contract/api.ts'
import { imageWorkBodySchema, remapBodySchema, storedMapsSchema } from '../../contract/surfaces.ts'
import { checkOptions, OptionRefusal } from '../../core/base/options/check-options.ts'
import { defaultsOf, type OptionValues } from '../../core/base/options/option.ts'
import type { ImageOperation } from '../../core/image/operations/operation.ts'
import { imageOperation } from '../../core/image/operations/registry.ts'
import type { RemapRules } from '../../core/surfaces/remap/rules.ts'
import { nameOf } from '../accounts/require-account.ts'
import { getVersion, hasAsset, standsOnNewest } from '../assets/asset-store.ts'
import { getFileRow, keepUpload, prepareSpooledFile, putFile } from '../content/file-store.ts'
import { MOST_FILES, withUpload } from '../content/uploads.ts'
import type { JobInputs } from '../jobs/inputs.ts'
import { createJob } from '../jobs/job-store.ts'
import { soundTarget } from './sound-target.ts'
import { notFound, RequestRefused } from '../plugins/errors.ts'
import { parseField, parseFields, type Services } from '../plugins/services.ts'
import { soundFileName } from '../plugins/sound-text.ts'

/** Where each file lay in what was dropped; absent: all beside each other. */
const pathsSchema = z.union([
  z.array(z.string().max(2000)).max(MOST_FILES),
  z.object({}).transform((): string[] => []),
])

const TITLES = {
  look: 'Look at the materials as',
  show: 'Draw the materials as',
  keep: 'Materials as',
  files: 'Files with materials as',
} as const

export const surfaceRoutes =
  ({ database: { db } }: Services): FastifyPluginAsyncZod =>
  async (app) => {
    /** Refuses where one of the images has gone meanwhile. */
    async function allHere(fileIds: readonly string[]): Promise<void> {
      for (const id of fileIds)
        if (!(await getFileRow(db, id)))
          throw new RequestRefused(
            409,
            'remap.maps-gone',
            'Some of the maps are no longer here: they are kept for a day.',
            'Drop the folder again.',
          )
    }

    /** Images for an asset's materials; they stay for an hour, and a day from when they were last looked at. */
    app.post(
      '/assets/:id/maps',
      { schema: { params: idSchema, response: { 201: storedMapsSchema } } },
      async (request, reply) => {
        if (!(await hasAsset(db, request.params.id))) throw notFound('This asset')
        const files = await withUpload(request, async ({ files: sent, fields }) => {
          const paths = parseFields(pathsSchema, parseField(fields.paths))
          // folders are part of what maps are called; a path that ends in another name is not this file's
          const nameOfFile = (name: string, at: number): string => {
            const path = (paths[at] ?? name).split(/[\\/]/).slice(-6).map(soundFileName).join('/')
            return path.split('/').pop() === name ? path : name
          }
          const prepared = sent.map((file, at) =>
            prepareSpooledFile({ ...file, name: nameOfFile(file.name, at) }),
          )
          await Promise.all(sent.map(keepUpload))
          return db.transaction(async (tx) => {
            const stored: { id: string; name: string; byteLength: number }[] = []
            for (const file of prepared)
              stored.push({ id: await putFile(tx, file), name: file.name, byteLength: file.byteLength })
            return stored
          })
        })
        return reply.code(201).send({ files })
      },
    )

    app.post(
      '/assets/:id/remap',
      {
        bodyLimit: 16 * 2 ** 20,
        schema: { params: idSchema, body: remapBodySchema, response: { 202: startedJobSchema } },
      },
      async (request, reply) => {
        const { versionId, surface, fileIds, rules, mode, format, beside } = request.body
        const version = await getVersion(db, versionId)
        if (!version || version.assetId !== request.params.id) throw notFound('This version')
        const model = soundTarget(surface, rules as RemapRules)
        await allHere(fileIds)
        if (mode === 'keep') await standsOnNewest(db, version, beside)
        const jobId = await createJob(db, {
          kind: mode === 'look' || mode === 'show' ? 'look' : 'remap',
          title: `${TITLES[mode]} ${model.title}`,
          assetId: version.assetId,
          askedBy: nameOf(request),
          input: { versionId, surface, fileIds, rules, mode, format, beside } satisfies JobInputs['remap'],
        })
        return reply.code(202).send({ jobId })
      },
    )

    app.post(
      '/assets/:id/images',
      { schema: { params: idSchema, body: imageWorkBodySchema, response: { 202: startedJobSchema } } },
      async (request, reply) => {
        if (!(await hasAsset(db, request.params.id))) throw notFound('This asset')
        const operation = imageOperation(request.body.operation)
        if (!operation) throw notFound('This operation')
        const options = { ...defaultsOf(operation.options), ...soundOptions(operation, request.body.options) }
        await allHere(request.body.fileIds)
        const { versionId } = request.body
        const version = versionId ? await getVersion(db, versionId) : null
        if (versionId && version?.assetId !== request.params.id) throw notFound('This version')
        const jobId = await createJob(db, {
          kind: 'images',
          title: `Images: ${operation.title.toLowerCase()}`,
          assetId: request.params.id,
          askedBy: nameOf(request),
          input: {
            fileIds: request.body.fileIds,
            operation: operation.id,
            options,
            versionId,
          } satisfies JobInputs['images'],
        })
        return reply.code(202).send({ jobId })
      },
    )
  }

/** @throws RequestRefused for an option that isn't known, or can't have its value. */
function soundOptions({ options }: ImageOperation, given: OptionValues): OptionValues {
  try {
    return checkOptions(options, given)
  } catch (error) {
    if (error instanceof OptionRefusal) throw new RequestRefused(400, 'image.bad-option', error.message, '')
    throw error
  }
}
