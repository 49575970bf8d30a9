/** A return that meets a master which has moved on, and one of a model that a recipe had changed on its way out. */
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { worseSchema, type AssetDocument, type TripDetail } from '../../src/contract/api.ts'
import { destinationsSchema } from '../../src/contract/destinations.ts'
import { writeObj } from '../../src/core/formats/obj/write-obj.ts'
import { readPackage } from '../../src/core/formats/package/read-package.ts'
import { readZip } from '../../src/core/formats/package/read-zip.ts'
import { fingerprintScene } from '../../src/core/compare/fingerprint.ts'
import { TRAITS } from '../../src/core/compare/traits/registry.ts'
import { unpackScene } from '../../src/core/scene/pack-scene.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { getScene } from '../../src/server/content/scene-store.ts'
import { importFiles, lanternZip, startHarness, type Harness } from './harness.ts'

let harness: Harness
beforeAll(async () => {
  harness = await startHarness()
})
afterAll(() => harness.close())

const assetOf = async (id: string): Promise<AssetDocument> =>
  (await harness.call('GET', `/assets/${id}`)).body as AssetDocument
const sceneOf = async (sceneId: string): Promise<Scene> =>
  unpackScene(await getScene(harness.database.db, sceneId))
async function newAsset(): Promise<AssetDocument> {
  const job = await importFiles(harness, [lanternZip()])
  return assetOf(String(job.result!.assetId))
}
const done = async (answer: Awaited<ReturnType<Harness['call']>>) => {
  expect(answer.status).toBe(202)
  const job = await harness.finished((answer.body as { jobId: string }).jobId)
  expect([job.state, job.error]).toEqual(['done', null])
  return job
}
async function send(asset: AssetDocument, destination = 'sculpting'): Promise<string> {
  const job = await done(
    await harness.call('POST', `/assets/${asset.id}/trips`, {
      versionId: asset.versions.at(-1)!.id,
      destination,
      options: {},
      selection: null,
      withRecipe: true,
    }),
  )
  return String(job.result!.tripId)
}
/** The very file that was sent, with a part changed, comes back. */
async function bringBack(tripId: string, change: (scene: Scene) => Scene): Promise<void> {
  const detail = (await harness.call('GET', `/trips/${tripId}`)).body as TripDetail
  const { raw } = await harness.call('GET', `/files/${detail.trip.sentFileId}`)
  const model = readZip({ name: 'sent.zip', bytes: raw }).files.find(({ name }) => name.endsWith('.obj'))!
  const changed = change(readPackage([{ name: 'model.obj', bytes: model.bytes }]).scene)
  const [file] = writeObj(changed, 'back.obj', {}).files
  await done(await harness.upload(`/trips/${tripId}/return`, [file!], { from: '', options: '{}' }))
}
const raise =
  (by: number, which: (part: number, point: number) => boolean) =>
  (scene: Scene): Scene => ({
    ...scene,
    meshes: scene.meshes.map((mesh, part) => ({
      ...mesh,
      points: mesh.points.map((value, at) =>
        at % 3 === 1 && which(part, Math.floor(at / 3)) ? value + by : value,
      ),
    })),
  })
const reconcile = async (tripId: string, more: object = {}) =>
  harness.call('POST', `/trips/${tripId}/reconcile`, {
    take: ['points'],
    from: await harness.returnOf(tripId),
    ...more,
  })
const changedTraits = (before: Scene, after: Scene): string[] => {
  const [a, b] = [fingerprintScene(before), fingerprintScene(after)]
  return TRAITS.filter((trait) => a[trait] !== b[trait])
}
const heights = (scene: Scene, part: string): number =>
  scene.meshes[scene.nodes.find(({ name }) => name === part)!.mesh]!.points.reduce((sum, value, at) => sum + (at % 3 === 1 ? value : 0), 0) // prettier-ignore

test('checked before it is kept: what would be wrong is told, and only then is it made all the same', async () => {
  const asset = await newAsset()
  const tripId = await send(asset)
  await bringBack(tripId, (scene) => ({
    ...scene,
    meshes: scene.meshes.map((mesh) => ({
      ...mesh,
      uvSets: mesh.uvSets.map((set) => ({ ...set, values: set.values.map(() => 0.5) })),
    })),
  }))
  const first = await done(await reconcile(tripId, { take: ['uvs'], checkFirst: true }))
  const worse = worseSchema.array().parse(first.result!.worse)
  expect(first.result!.versionId).toBeUndefined()
  expect((await assetOf(asset.id)).versions).toHaveLength(1)
  expect(worse.some(({ message }) => message.includes('no area in the UVs'))).toBe(true)
  const second = await done(await reconcile(tripId, { take: ['uvs'], checkFirst: false }))
  expect(second.result!.versionNumber).toBe(2)
})

describe('two trips out from one version', () => {
  test('what the first brought stays when the second comes home', async () => {
    const asset = await newAsset()
    const [first, second] = [await send(asset), await send(asset)]
    await bringBack(
      first,
      raise(0.5, (part) => part === 0),
    )
    await bringBack(
      second,
      raise(0.25, (part) => part === 1),
    )
    await done(await reconcile(first))
    const two = await assetOf(asset.id)
    // as before: over a newer master only where that is known
    expect((await reconcile(second)).status).toBe(409)
    await done(await reconcile(second, { onto: two.versions[1]!.id }))
    const three = await assetOf(asset.id)
    expect(three.versions[2]!.note).toMatch(/^Trip 2: took points, on version 2$/)
    const [v1, v2, v3] = await Promise.all(three.versions.map(({ sceneId }) => sceneOf(sceneId)))
    const names = v1!.nodes.filter(({ mesh }) => mesh >= 0).map(({ name }) => name)
    expect([changedTraits(v1!, v2!), changedTraits(v2!, v3!)]).toEqual([['points'], ['points']])
    const moved = names.map((name) => Math.abs(heights(v3!, name) - heights(v1!, name)) > 1e-6)
    expect(moved.filter(Boolean)).toHaveLength(2)
    const { rows } = await harness.database.pool.query<{ based_on: string }>('select based_on from versions where id = $1', [three.versions[2]!.id]) // prettier-ignore
    expect(rows[0]!.based_on).toBe(three.versions[1]!.id)
  })
  test('the same points on both: nothing is made until a side is chosen', async () => {
    const asset = await newAsset()
    const [first, second] = [await send(asset), await send(asset)]
    await bringBack(
      first,
      raise(0.5, (part, point) => part === 0 && point < 40),
    )
    await bringBack(
      second,
      raise(0.25, (part, point) => part === 0 && point >= 30),
    )
    await done(await reconcile(first))
    const { versions } = await assetOf(asset.id)
    const onto = versions[1]!.id
    const open = await done(await reconcile(second, { onto }))
    expect(open.result!.conflicts).toMatchObject([{ trait: 'points', elements: 10 }])
    expect((await assetOf(asset.id)).versions).toHaveLength(2)
    const [conflict] = open.result!.conflicts as { id: string }[]
    await done(await reconcile(second, { onto, choices: { [conflict!.id]: { points: 'here' } } }))
    expect((await assetOf(asset.id)).versions).toHaveLength(3)
  })
})

test('a recipe ran on sending: the return is held against what left, and what moved comes to the version', async () => {
  const asset = await newAsset()
  const { body: list } = await harness.call('GET', '/destinations')
  const {
    id: _id,
    shipped: _shipped,
    updatedAt: _updatedAt,
    ...fields
  } = destinationsSchema.parse(list).destinations.find(({ id }) => id === 'sculpting')!
  const { body } = await harness.call('POST', '/destinations', {
    ...fields,
    name: 'Triangle maker',
    recipe: { name: 'triangles', steps: [{ step: 'triangulate', params: {} }] },
  })
  const tripId = await send(asset, (body as { id: string }).id)
  const quiet = (await harness.call('GET', `/trips/${tripId}`)).body as TripDetail
  expect(quiet.sentSceneId).not.toBe(asset.versions[0]!.sceneId)
  await bringBack(
    tripId,
    raise(0.5, (part) => part === 0),
  )
  const { ledger } = (await harness.call('GET', `/trips/${tripId}`)).body as TripDetail
  // held against the version, all of them would have come back cut
  for (const { name, cells } of ledger!.rows)
    expect([name, cells.topology!.note]).not.toEqual([name, 'polygons-cut'])
  expect(ledger!.rows.filter(({ cells }) => cells.points!.state === 'changed')).toHaveLength(1)
  await done(await reconcile(tripId))
  const { versions } = await assetOf(asset.id)
  const [v1, v2] = await Promise.all(versions.map(({ sceneId }) => sceneOf(sceneId)))
  expect(changedTraits(v1!, v2!)).toEqual(['points'])
})

test('a part that was made anew under another name is paired by hand', async () => {
  const asset = await newAsset()
  const tripId = await send(asset)
  await bringBack(tripId, (scene) => ({
    ...scene,
    nodes: scene.nodes.map((node) => (node.name === 'handle' ? { ...node, name: 'new_grip' } : node)),
    meshes: scene.meshes.map((mesh, at) =>
      at === scene.nodes.find(({ name }) => name === 'handle')!.mesh
        ? { ...mesh, name: 'new_grip', uvSets: [], points: Float64Array.of(90, 0, 0, 91, 0, 0, 90, 1, 0), faceOffsets: Uint32Array.of(0, 3), faceVertices: Uint32Array.of(0, 1, 2), smoothing: null, groups: null, creases: null, normals: null, faceMaterials: null, colorSets: [], lines: null, pointElements: null, pointWeights: null }
        : mesh,
    ),
  })) // prettier-ignore
  const detail = async (): Promise<TripDetail> =>
    (await harness.call('GET', `/trips/${tripId}`)).body as TripDetail
  const before = await detail()
  const lost = before.ledger!.rows.find((row) => row.returnedNode < 0)!
  const gained = before.ledger!.rows.find((row) => row.masterNode < 0)!
  expect([lost.name, gained.name]).toEqual(['handle', 'new_grip'])
  const sent = await sceneOf(before.sentSceneId)
  const pairs = [
    { part: sent.nodes[lost.masterNode]!.id, returnedNode: gained.returnedNode, name: gained.name },
  ]
  await done(await harness.call('POST', `/trips/${tripId}/reread`, { options: {}, pairs, from: await harness.returnOf(tripId) })) // prettier-ignore
  const row = (await detail()).ledger!.rows.find(({ name }) => name === 'handle')!
  expect([row.matchedBy, row.cells.names!.note]).toEqual(['hand', 'renamed'])
  const nonsense = [{ part: '', returnedNode: -1, name: 'x' }]
  expect((await harness.call('POST', `/trips/${tripId}/reread`, { options: {}, pairs: nonsense, from: await harness.returnOf(tripId) })).status).toBe(400) // prettier-ignore
})

test('what was said of the files when they came back holds when they are read again', async () => {
  const asset = await newAsset()
  const tripId = await send(asset)
  const detail = async (): Promise<TripDetail> =>
    (await harness.call('GET', `/trips/${tripId}`)).body as TripDetail
  const { raw } = await harness.call('GET', `/files/${(await detail()).trip.sentFileId}`)
  const model = readZip({ name: 'sent.zip', bytes: raw }).files.find(({ name }) => name.endsWith('.obj'))!
  const flipped = JSON.stringify({ flipV: true })
  await done(await harness.upload(`/trips/${tripId}/return`, [{ name: 'back.obj', bytes: model.bytes }], { from: '', options: flipped })) // prettier-ignore
  const uvsOf = (ledger: TripDetail['ledger']): unknown => ledger!.rows.map(({ cells }) => cells.uvs!.state)
  const before = uvsOf((await detail()).ledger)
  expect(before).toContain('changed')
  expect((await detail()).ledger!.layout).toEqual({ text: 'upside down' })
  await done(await harness.call('POST', `/trips/${tripId}/reread`, { options: {}, from: await harness.returnOf(tripId) })) // prettier-ignore
  expect(uvsOf((await detail()).ledger)).toEqual(before)
  // and what was done to the whole layout by that is undone with all that was done to all of it
  await done(await harness.call('POST', `/trips/${tripId}/reread`, { options: {}, undoWhole: true, from: await harness.returnOf(tripId) })) // prettier-ignore
  expect(uvsOf((await detail()).ledger)).not.toContain('changed')
  expect((await detail()).ledger!.layoutUndone).toEqual({ text: 'upside down' })
})
