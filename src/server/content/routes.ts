import { Readable } from 'node:stream'
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod'
import { z } from 'zod'
import { idSchema, sceneSchema } from '../../contract/api.ts'
import { notFound } from '../plugins/errors.ts'
import type { Services } from '../plugins/services.ts'
import { knownContents, readBlobChunks } from './blob-store.ts'
import { getFileRow } from './file-store.ts'
import { getPicture, getSceneDocument, streamScene } from './scene-store.ts'

/** What is named by its content, or never changes, is fetched once. */
const FOREVER = 'private, max-age=31536000, immutable'

export const contentRoutes =
  ({ database: { db } }: Services): FastifyPluginAsyncZod =>
  async (app) => {
    app.get(
      '/scenes/:id',
      { schema: { params: idSchema, response: { 200: sceneSchema } } },
      async (request, reply) => {
        const scene = await getSceneDocument(db, request.params.id)
        if (!scene) throw notFound('This model')
        return reply.header('cache-control', FOREVER).send(scene)
      },
    )

    app.get('/scenes/:id/picture', { schema: { params: idSchema } }, async (request, reply) => {
      const picture = await getPicture(db, request.params.id)
      if (picture === undefined) throw notFound('This model')
      // lines and points alone are no fault
      if (picture === null) return reply.code(204).send()
      return reply.header('content-type', 'image/png').header('cache-control', FOREVER).send(picture)
    })

    // all that a view needs of a scene, in the order in which it is drawn
    app.get('/scenes/:id/stream', { schema: { params: idSchema } }, async (request, reply) => {
      const stream = await streamScene(db, request.params.id)
      if (!stream) throw notFound('This model')
      return reply
        .header('content-type', 'application/octet-stream')
        .header('cache-control', FOREVER)
        .send(Readable.from(stream, { objectMode: false, highWaterMark: 2 ** 20 }))
    })

    app.get(
      '/blobs/:hash',
      { schema: { params: z.object({ hash: z.string().regex(/^[0-9a-f]{64}$/) }) } },
      async (request, reply) => {
        const { hash } = request.params
        const byteLength = (await knownContents(db, [hash])).get(hash)
        if (byteLength === undefined) throw notFound('This content')
        return reply
          .header('content-type', 'application/octet-stream')
          .header('content-length', byteLength)
          .header('content-disposition', 'attachment')
          .header('cache-control', FOREVER)
          .send(Readable.from(readBlobChunks(db, hash)))
      },
    )

    app.get('/files/:id', { schema: { params: idSchema } }, async (request, reply) => {
      const file = await getFileRow(db, request.params.id)
      if (!file) throw notFound('This file')
      const plain = file.name.replace(/[^\x20-\x7e]|["\\]/g, '_')
      return reply
        .header('content-type', 'application/octet-stream')
        .header('content-length', file.byteLength)
        .header(
          'content-disposition',
          `attachment; filename="${plain}"; filename*=UTF-8''${encodeURIComponent(file.name)}`,
        )
        .send(Readable.from(readBlobChunks(db, file.hash)))
    })
  }
