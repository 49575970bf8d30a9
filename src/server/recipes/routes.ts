import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod'
import { fromQuerySchema, idSchema, startedJobSchema } from '../../contract/api.ts'
import { prepareBodySchema, recipeSchema, recipesSchema, savedRecipeSchema } from '../../contract/recipes.ts'
import { complainOfSteps } from '../../app/check-destination.ts'
import { portableRecipe } from '../../core/steps/recipe.ts'
import { nameOf } from '../accounts/require-account.ts'
import { getVersion, standsOnNewest } from '../assets/asset-store.ts'
import { createJob } from '../jobs/job-store.ts'
import { addRecipe, changeRecipe, hasRecipe, listRecipes, removeRecipe } from './recipe-store.ts'
import type { JobInputs } from '../jobs/inputs.ts'
import { changedMeanwhile, notFound, RequestRefused } from '../plugins/errors.ts'
import type { Services } from '../plugins/services.ts'

/** What fits one model only is left out; a recipe of nothing else has nothing to save. */
function savable(recipe: Parameters<typeof portableRecipe>[0]) {
  const complaint = complainOfSteps(recipe.steps)
  if (complaint)
    throw new RequestRefused(
      422,
      'recipe.unsound',
      `This can’t be saved as a recipe: ${complaint.replace(/\.$/, '')}.`,
      'Mend the step, then save it.',
    )
  const portable = portableRecipe(recipe)
  if (portable.steps.length === 0)
    throw new RequestRefused(
      422,
      'recipe.nothing-to-save',
      'These steps fit this model only, so there is nothing to save as a recipe.',
      'Add a step that is not limited to chosen places.',
    )
  return portable
}

export const recipeRoutes =
  ({ database: { db } }: Services): FastifyPluginAsyncZod =>
  async (app) => {
    const notChangeable = async (id: string) =>
      (await hasRecipe(db, id)) ? changedMeanwhile('This recipe') : notFound('This recipe')

    app.get('/recipes', { schema: { response: { 200: recipesSchema } } }, async () => ({
      recipes: await listRecipes(db),
    }))

    app.post(
      '/recipes',
      { schema: { body: recipeSchema, response: { 201: savedRecipeSchema } } },
      async (request, reply) => reply.code(201).send(await addRecipe(db, savable(request.body))),
    )

    app.put(
      '/recipes/:id',
      {
        schema: {
          params: idSchema,
          querystring: fromQuerySchema,
          body: recipeSchema,
          response: { 200: savedRecipeSchema },
        },
      },
      async (request) => {
        const { from } = request.query
        const changed = await changeRecipe(db, request.params.id, savable(request.body), from)
        if (!changed) throw await notChangeable(request.params.id)
        return changed
      },
    )

    app.delete(
      '/recipes/:id',
      { schema: { params: idSchema, querystring: fromQuerySchema } },
      async (request, reply) => {
        if (!(await removeRecipe(db, request.params.id, request.query.from)))
          throw await notChangeable(request.params.id)
        return reply.code(204).send()
      },
    )

    app.post(
      '/assets/:id/prepare',
      {
        // steps may name many elements
        bodyLimit: 64 * 2 ** 20,
        schema: { params: idSchema, body: prepareBodySchema, response: { 202: startedJobSchema } },
      },
      async (request, reply) => {
        const { versionId, recipe, beside } = request.body
        const version = await getVersion(db, versionId)
        if (!version || version.assetId !== request.params.id) throw notFound('This version')
        await standsOnNewest(db, version, beside)
        const jobId = await createJob(db, {
          kind: 'prepare',
          title: `Prepare: ${recipe.name}`,
          assetId: version.assetId,
          askedBy: nameOf(request),
          input: { versionId, recipe, beside } satisfies JobInputs['prepare'],
        })
        return reply.code(202).send({ jobId })
      },
    )
  }
