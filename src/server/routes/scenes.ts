import { Readable } from 'node:stream'
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod'
import { z } from 'zod'
import { idSchema, sceneSchema } from '../../contract/api.ts'
import { blobExists, readBlobChunks } from '../db/blob-store.ts'
import { getFileRow } from '../db/files.ts'
import { getSceneDocument } from '../db/scene-store.ts'
import { notFound } from '../plugins/errors.ts'
import type { Services } from './services.ts'

export const sceneRoutes =
  ({ database: { db } }: Services): FastifyPluginAsyncZod =>
  async (app) => {
    app.get(
      '/scenes/:id',
      { schema: { params: idSchema, response: { 200: sceneSchema } } },
      async (request) => {
        const scene = await getSceneDocument(db, request.params.id)
        if (!scene) throw notFound('This model')
        return scene
      },
    )

    app.get(
      '/blobs/:hash',
      { schema: { params: z.object({ hash: z.string().regex(/^[0-9a-f]{64}$/) }) } },
      async (request, reply) => {
        const byteLength = await blobExists(db, request.params.hash)
        if (byteLength === null) throw notFound('This content')
        return reply
          .header('content-type', 'application/octet-stream')
          .header('content-length', byteLength)
          .header('content-disposition', 'attachment')
          .header('cache-control', 'private, max-age=31536000, immutable')
          .send(Readable.from(readBlobChunks(db, request.params.hash)))
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
