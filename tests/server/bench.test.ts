/** Making ready on the server: recipes, steps that become versions, marks of parts. */
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { AssetDocument, SceneDocument } from '../../src/contract/api.ts'
import type { SavedRecipe } from '../../src/contract/recipes.ts'
import { countRows, importFiles, lanternZip, startHarness, type Harness } from './harness.ts'

let harness: Harness
let asset: AssetDocument
const load = async (): Promise<AssetDocument> =>
  (await harness.call('GET', `/assets/${asset.id}`)).body as AssetDocument
const sceneOf = async (version: { sceneId: string }): Promise<SceneDocument> =>
  (await harness.call('GET', `/scenes/${version.sceneId}`)).body as SceneDocument
const prepare = async (steps: unknown[], versionId = asset.versions.at(-1)!.id) => {
  const answer = await harness.call('POST', `/assets/${asset.id}/prepare`, {
    versionId,
    recipe: { name: 'Made ready', steps },
  })
  return answer.status === 202
    ? harness.finished((answer.body as { jobId: string }).jobId)
    : Promise.reject(new Error(JSON.stringify(answer.body)))
}

beforeAll(async () => {
  harness = await startHarness()
  const job = await importFiles(harness, [lanternZip()])
  asset = (await harness.call('GET', `/assets/${String(job.result!.assetId)}`)).body as AssetDocument
})
afterAll(() => harness.close())

test('a step on one part stores only what changed of that part', async () => {
  const blobs = await countRows(harness.database, 'blobs')
  const job = await prepare([{ step: 'set-shading', params: { mode: 'angle', angle: 12 }, parts: ['tank'] }])
  expect([job.state, job.result!.versionNumber]).toEqual(['done', 2])
  expect(job.result!.records).toEqual([
    {
      step: 'set-shading',
      changedCount: expect.any(Number) as number,
      of: 'polygons',
      notes: expect.any(Array) as string[],
    },
  ])
  // the tank's smoothing is the only new array of the whole lantern
  expect(await countRows(harness.database, 'blobs')).toBe(blobs + 1)
  asset = await load()
  expect(asset.versions[1]!.note).toBe('Made ready: 1 step on version 1')
})

test('a recipe of which one step can’t be done changes nothing and says which and why', async () => {
  const versions = await countRows(harness.database, 'versions')
  const job = await prepare([
    { step: 'to-floor', params: {} },
    { step: 'subdivide', params: { levels: 40 } },
  ])
  expect([job.state, job.error!.code]).toEqual(['failed', 'step.refused'])
  expect(job.error!.message).toBe(
    'Step 2, “Subdivide”: “levels” takes a number from 1 to 5, not “40”. Nothing was changed.',
  )
  expect(await countRows(harness.database, 'versions')).toBe(versions)
})

test('a version of another asset, and malformed recipes, are refused', async () => {
  const call = (body: unknown) => harness.call('POST', `/assets/${asset.id}/prepare`, body)
  const recipe = { name: 'x', steps: [{ step: 'to-floor', params: {} }] }
  expect((await call({ versionId: '00000000-0000-4000-8000-000000000000', recipe })).status).toBe(404)
  for (const broken of [
    { name: '', steps: recipe.steps },
    { name: 'x', steps: [] },
    { name: 'x', steps: [{ step: 'a', params: { b: [] } }] },
  ])
    expect((await call({ versionId: asset.versions[0]!.id, recipe: broken })).status).toBe(400)
})

describe('recipes', () => {
  const list = async (): Promise<SavedRecipe[]> =>
    ((await harness.call('GET', '/recipes')).body as { recipes: SavedRecipe[] }).recipes
  test('are saved without what fits one model only, renamed, put in order, used on another asset, deleted', async () => {
    const steps = [
      { step: 'to-floor', params: {} },
      // on every part of another model, where it was meant for one of this: that is not the same step
      { step: 'set-normals', params: {}, nodes: ['node-1'] },
      { step: 'turn-faces', params: {}, only: [{ node: 'node-1', element: 'faces', elements: [1, 2] }] },
      { step: 'group-under-root', params: { name: 'lantern' } },
    ]
    const added = await harness.call('POST', '/recipes', { name: 'To the floor', steps })
    expect(added.status).toBe(201)
    const recipe = added.body as SavedRecipe
    expect(recipe.steps).toEqual([
      { step: 'to-floor', params: {} },
      { step: 'group-under-root', params: { name: 'lantern' } },
    ])
    const changed = await harness.call(
      'PUT',
      `/recipes/${recipe.id}?from=${encodeURIComponent(recipe.updatedAt)}`,
      {
        name: 'Under a root',
        steps: [...recipe.steps].reverse(),
      },
    )
    expect((changed.body as SavedRecipe).steps[0]!.step).toBe('group-under-root')
    expect((await list()).map((known) => known.name)).toEqual(['Under a root'])

    const other = await importFiles(harness, [
      {
        name: 'two.obj',
        bytes: Buffer.from(
          'o a\nv 0 5 0\nv 1 5 0\nv 0 6 0\nf 1 2 3\no b\nv 4 7 0\nv 5 7 0\nv 4 8 0\nf 4 5 6\n',
        ),
      },
    ])
    const assetId = String(other.result!.assetId)
    const { body } = await harness.call('POST', `/assets/${assetId}/prepare`, {
      versionId: other.result!.versionId,
      recipe: { name: 'Under a root', steps: (changed.body as SavedRecipe).steps },
    })
    expect((await harness.finished((body as { jobId: string }).jobId)).state).toBe('done')
    const made = (await harness.call('GET', `/assets/${assetId}`)).body as AssetDocument
    const { inspection } = await sceneOf(made.versions[1]!)
    expect(inspection.nodes.map((node) => node.path)).toEqual(['lantern', 'lantern/a', 'lantern/b'])
    expect(inspection.bounds!.min[1]).toBe(0)

    const { updatedAt } = changed.body as SavedRecipe
    const address = `/recipes/${recipe.id}?from=${encodeURIComponent(updatedAt)}`
    expect((await harness.call('DELETE', address)).status).toBe(204)
    expect((await harness.call('DELETE', address)).status).toBe(404)
    expect(await list()).toEqual([])
  })
  test('of nothing but places on one model have nothing to save', async () => {
    const steps = [
      { step: 'turn-faces', params: {}, only: [{ node: 'node-1', element: 'faces', elements: [1] }] },
    ]
    const { status, body } = await harness.call('POST', '/recipes', { name: 'x', steps })
    expect([status, (body as { code: string }).code]).toEqual([422, 'recipe.nothing-to-save'])
  })
})

test('marks of parts are kept with the asset, by the ids of their nodes', async () => {
  const { inspection } = await sceneOf(asset.versions[0]!)
  const [tank, hood] = ['tank', 'hood'].map(
    (name) => inspection.nodes.find((node) => node.name === name)!.id,
  ) as [string, string]
  const mark = (marks: object) => harness.call('PATCH', `/assets/${asset.id}/parts`, { marks, from: {} })
  expect((await mark({ [tank]: { role: 'home', label: 'moss' } })).status).toBe(204)
  expect((await mark({ [hood]: { role: 'reference', label: 'none' } })).status).toBe(204)
  expect((await load()).partMarks).toEqual({
    [tank]: { role: 'home', label: 'moss' },
    [hood]: { role: 'reference', label: 'none' },
  })
  expect((await mark({ [tank]: { role: 'away', label: 'moss' } })).status).toBe(400)
  expect(
    (
      await harness.call('PATCH', '/assets/00000000-0000-4000-8000-000000000000/parts', {
        marks: {},
        from: {},
      })
    ).status,
  ).toBe(404)
})
