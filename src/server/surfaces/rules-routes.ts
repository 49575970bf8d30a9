import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod'
import { fromQuerySchema, idSchema } from '../../contract/api.ts'
import {
  savedSurfaceRulesListSchema,
  savedSurfaceRulesSchema,
  surfaceRulesSchema,
  type SurfaceRules,
} from '../../contract/surface-rules.ts'
import type { RemapRules } from '../../core/surfaces/remap/rules.ts'
import { changedMeanwhile, notFound } from '../plugins/errors.ts'
import { soundTarget } from './sound-target.ts'
import type { Services } from '../plugins/services.ts'
import {
  addSurfaceRules,
  changeSurfaceRules,
  hasSurfaceRules,
  listSurfaceRules,
  removeSurfaceRules,
} from './rules-store.ts'

/** @returns the rules, of a surface model that there is. */
function sound(rules: SurfaceRules): SurfaceRules {
  soundTarget(rules.surface, rules.rules as RemapRules)
  return rules
}

/** Rules under a name, for any asset and any destination. */
export const surfaceRulesRoutes =
  ({ database: { db } }: Services): FastifyPluginAsyncZod =>
  async (app) => {
    const notChangeable = async (id: string) =>
      (await hasSurfaceRules(db, id)) ? changedMeanwhile('These rules') : notFound('These rules')

    app.get('/surface-rules', { schema: { response: { 200: savedSurfaceRulesListSchema } } }, async () => ({
      surfaceRules: await listSurfaceRules(db),
    }))

    app.post(
      '/surface-rules',
      {
        bodyLimit: 16 * 2 ** 20,
        schema: { body: surfaceRulesSchema, response: { 201: savedSurfaceRulesSchema } },
      },
      async (request, reply) => reply.code(201).send(await addSurfaceRules(db, sound(request.body))),
    )

    app.put(
      '/surface-rules/:id',
      {
        bodyLimit: 16 * 2 ** 20,
        schema: {
          params: idSchema,
          querystring: fromQuerySchema,
          body: surfaceRulesSchema,
          response: { 200: savedSurfaceRulesSchema },
        },
      },
      async (request) => {
        const { id } = request.params
        const changed = await changeSurfaceRules(db, id, sound(request.body), request.query.from)
        if (!changed) throw await notChangeable(id)
        return changed
      },
    )

    app.delete(
      '/surface-rules/:id',
      { schema: { params: idSchema, querystring: fromQuerySchema } },
      async (request, reply) => {
        if (!(await removeSurfaceRules(db, request.params.id, request.query.from)))
          throw await notChangeable(request.params.id)
        return reply.code(204).send()
      },
    )
  }
