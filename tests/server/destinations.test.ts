/** Destinations of an artist's own, deliveries in FBX, and what stand-ins bring back, over the HTTP interface. */
import { readFileSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { assetSchema, forecastResultSchema, tripDetailSchema } from '../../src/contract/api.ts'
import {
  destinationFileSchema,
  destinationsSchema,
  listedDestinationSchema,
} from '../../src/contract/destinations.ts'
import { buildStormLantern } from '../../src/core/practice/demo/storm-lantern.ts'
import { writeFbx } from '../../src/core/formats/fbx/write-fbx.ts'
import { readFbx } from '../../src/core/formats/fbx/read-fbx.ts'
import { readPackage } from '../../src/core/formats/package/read-package.ts'
import { readZip } from '../../src/core/formats/package/read-zip.ts'
import { fingerprintScene } from '../../src/core/compare/fingerprint.ts'
import { unpackScene } from '../../src/core/scene/pack-scene.ts'
import { getScene } from '../../src/server/content/scene-store.ts'
import { importFiles, lanternZip, startHarness, type Harness } from './harness.ts'

let harness: Harness
let assetId = ''
let versionId = ''
beforeAll(async () => {
  harness = await startHarness()
  const job = await importFiles(harness, [lanternZip()])
  assetId = String(job.result!.assetId)
  versionId = (await asset()).versions[0]!.id
})
afterAll(() => harness.close())

const asset = async () => assetSchema.parse((await harness.call('GET', `/assets/${assetId}`)).body)
const trip = async (id: string) => tripDetailSchema.parse((await harness.call('GET', `/trips/${id}`)).body)
const getStored = async (id: string) => unpackScene(await getScene(harness.database.db, id))
const list = async () =>
  destinationsSchema.parse((await harness.call('GET', '/destinations')).body).destinations
const start = async (path: string, body: unknown) => {
  const answer = await harness.call('POST', path, body)
  expect([path, answer.status]).toEqual([path, 202])
  const job = await harness.finished((answer.body as { jobId: string }).jobId)
  expect([job.state, job.error]).toEqual(['done', null])
  return job
}
const forecast = async (destination: string, more: object = {}) =>
  forecastResultSchema.parse(
    (await start(`/assets/${assetId}/forecast`, { versionId, destination, options: {}, ...more })).result,
  )

test('what is assumed of an OBJ is not assumed of an FBX, which says itself; what is said of all holds for all', async () => {
  const space = { unitMeters: 1, upAxis: 'z', frontAxis: '-y', handedness: 'right' } as const
  const [file] = writeFbx({ ...buildStormLantern(), space }, 'lantern.fbx').files
  const spaceOf = async (options: object) => {
    const job = await importFiles(harness, [file!], options)
    const { body } = await harness.call('GET', `/assets/${String(job.result!.assetId)}`)
    return (await getStored(assetSchema.parse(body).versions[0]!.sceneId)).space
  }
  const obj = { unitMeters: 0.01, upAxis: 'y', frontAxis: 'z', mirrored: false }
  expect(await spaceOf({ assumed: { obj, fbx: {} } })).toEqual(space)
  expect(await spaceOf({ assumed: { obj, fbx: { unitMeters: 0.01 } } })).toEqual({
    ...space,
    unitMeters: 0.01,
  })
  expect((await spaceOf({ unitMeters: 0.0254 })).unitMeters).toBe(0.0254)
  const refused = await harness.upload('/assets', [file!], { options: '{"assumed":{"clay":{}}}' })
  expect([refused.status, (refused.body as { message: string }).message]).toEqual([
    400,
    'The options can’t be read: there is no format “clay”.',
  ])
  const broken = await harness.upload('/assets', [file!], { options: '{' })
  expect([broken.status, (broken.body as { message: string }).message]).toEqual([
    400,
    'The options can’t be read: they are no JSON.',
  ])
})

describe('an artist’s own destinations', () => {
  let id = ''
  test('those that ship are listed, and one is copied', async () => {
    const shipped = await list()
    expect(shipped.map((entry) => [entry.id, entry.shipped])).toContainEqual(['modelling', true])
    const {
      id: _id,
      shipped: _shipped,
      updatedAt: _updatedAt,
      ...fields
    } = shipped.find((entry) => entry.id === 'modelling')!
    const answer = await harness.call('POST', '/destinations', { ...fields, name: 'Workbench upstairs' })
    expect(answer.status).toBe(201)
    const copy = listedDestinationSchema.parse(answer.body)
    expect([copy.name, copy.shipped, copy.format]).toEqual(['Workbench upstairs', false, 'fbx'])
    id = copy.id
    expect((await list()).map((entry) => entry.name)).toContain('Workbench upstairs')
  })
  const fromOf = async (own: string): Promise<string> =>
    `from=${encodeURIComponent((await list()).find((entry) => entry.id === own)!.updatedAt!)}`
  test('changed: the forecast goes by it', async () => {
    const {
      id: _id,
      shipped: _shipped,
      updatedAt: _updatedAt,
      ...fields
    } = (await list()).find((entry) => entry.id === id)!
    const changed = {
      ...fields,
      size: { unit: 'numbers', unitMeters: 1 },
      recipe: { name: 'triangles', steps: [{ step: 'triangulate', params: {} }] },
      split: 'parts',
    }
    expect((await harness.call('PUT', `/destinations/${id}?${await fromOf(id)}`, changed)).status).toBe(200)
    const { size, contents, folder, steps, forecast: ledger } = await forecast(id)
    expect([size.statedUnit, size.factor]).toEqual([0.01, 0.01])
    expect(folder).toBe('storm_lantern/workbench_upstairs/trip_001')
    expect(contents.filter((file) => file.name.endsWith('.fbx'))).toHaveLength(7)
    expect(steps.map((step) => step.step)).toEqual(['triangulate'])
    expect(ledger.rows.every((row) => row.cells.topology!.note === 'polygons-cut')).toBe(true)
    const plain = await forecast(id, { withRecipe: false, options: { scale: size.factor } })
    expect([plain.size.factor, plain.forecast.rows[0]!.cells.topology!.state]).toEqual([1, 'same'])
  })
  test('out as a file, and in again', async () => {
    const file = await harness.call('GET', `/destinations/${id}/file`)
    expect(file.headers['content-disposition']).toBe('attachment; filename="workbench_upstairs.json"')
    const { destination } = destinationFileSchema.parse(file.body)
    const again = await harness.call('POST', '/destinations', destination)
    expect(again.status).toBe(201)
    expect(listedDestinationSchema.parse(again.body)).toMatchObject(destination)
  })
  test.each([
    ['a kind that is none', { kind: 'baking' }],
    ['no name', { name: ' ' }],
    ['an option that is none', { writeOptions: { wings: true } }],
    ['a unit of nothing', { size: { unit: 'stated', unitMeters: 0 } }],
    ['a limit that is no number', { checkSettings: { mapSize: 'large' } }],
    ['a limit that is none', { checkSettings: { wings: 2 } }],
    ['a field too many', { colour: 'red' }],
  ])('%s is refused in words', async (_what, change) => {
    const { id: _id, shipped: _shipped, updatedAt: _updatedAt, ...fields } = (await list())[0]!
    const answer = await harness.call('POST', '/destinations', { ...fields, ...change })
    expect(answer.status).toBe(400)
    expect((answer.body as { message: string }).message.length).toBeGreaterThan(10)
  })
  test('removed; those that ship can’t be', async () => {
    expect((await harness.call('DELETE', `/destinations/${id}?${await fromOf(id)}`)).status).toBe(204)
    expect((await harness.call('DELETE', `/destinations/${id}?from=2026-01-01T00:00:00.000Z`)).status).toBe(
      404,
    )
    expect(
      (await harness.call('DELETE', '/destinations/modelling?from=2026-01-01T00:00:00.000Z')).status,
    ).toBe(400)
    const gone = await harness.call('POST', `/assets/${assetId}/forecast`, {
      versionId,
      destination: id,
      options: {},
    })
    expect(gone.status).toBe(404)
  })
})

test('an FBX with a skeleton, animation and poses is stored whole, and goes out whole', async () => {
  const bytes = readFileSync('/usr/share/assimp/models/FBX/animation_with_skeleton.fbx')
  const job = await importFiles(harness, [{ name: 'walker.fbx', bytes }], {})
  expect([job.state, job.error]).toEqual(['done', null])
  const [version] = assetSchema.parse(
    (await harness.call('GET', `/assets/${String(job.result!.assetId)}`)).body,
  ).versions
  const stored = unpackScene(await getScene(harness.database.db, version!.sceneId))
  const { scene } = readFbx({ name: 'walker.fbx', bytes })
  expect(stored.kept!.objects.length).toBe(scene.kept!.objects.length)
  expect(stored.kept!.links).toEqual(scene.kept!.links)
  expect(fingerprintScene(stored)).toEqual(fingerprintScene(scene))
  const sent = await start(`/assets/${String(job.result!.assetId)}/forecast`, {
    versionId: version!.id,
    destination: 'posing',
    options: {},
  })
  const { forecast: ledger } = forecastResultSchema.parse(sent.result)
  for (const row of ledger.rows) expect(row.cells.shapes!.state).toMatch(/same|within/)
})

test('letters that JSON in a database has no room for do no harm', async () => {
  const text = `; FBX 7.4.0\nFBXHeaderExtension: {\n FBXVersion: 7400\n}\nObjects: {\nModel: 1, "Model::od\0d", "Null" {\nProperties70: {\nP: "k\0y", "KString", "", "U", "v\0"\n}\n}\n}\nConnections: {\nC: "OO",1,0\n}\n`
  const job = await importFiles(harness, [{ name: 'odd.fbx', bytes: new TextEncoder().encode(text) }], {})
  expect([job.state, job.error]).toEqual(['done', null])
})

describe('a trip in FBX', () => {
  let tripId = ''
  test('sent: an orderly folder with the model and its maps, and the destination as it was', async () => {
    const sent = await start(`/assets/${assetId}/trips`, { versionId, destination: 'modelling', options: {} })
    tripId = String(sent.result!.tripId)
    const detail = await trip(tripId)
    expect(detail.trip.destination).toMatchObject({ id: 'modelling', format: 'fbx', standIn: 'modeller' })
    const file = await harness.call('GET', `/files/${detail.trip.sentFileId}`)
    const names = readZip({ name: 'x.zip', bytes: file.raw }).files.map((entry) => entry.name)
    expect(names).toContain('storm_lantern/modelling_tool/trip_001/storm_lantern_v1.fbx')
    expect(names).toContain('storm_lantern/modelling_tool/trip_001/maps/rope_color.png')
    const { scene } = readPackage([{ name: 'x.zip', bytes: file.raw }])
    expect(scene.images.every((image) => image.bytes !== null)).toBe(true)
  })
  test('back a hundred times as large: said once, and undone', async () => {
    const job = await start(`/trips/${tripId}/practise`, {
      from: await harness.returnOf(tripId),
      standIn: 'modeller',
      options: { size: 'hundredfold', dropsCreases: true },
    })
    await harness.finished(String(job.result!.nextJob))
    const large = await trip(tripId)
    expect(large.ledger!.whole).toEqual({ factor: 100, turn: null, mirror: null, move: null, by: 'points' })
    expect(large.log[0]).toBe('Everything was multiplied by 100.')
    await start(`/trips/${tripId}/reread`, {
      from: await harness.returnOf(tripId),
      options: {},
      undoWhole: true,
    })
    const right = await trip(tripId)
    expect(right.ledger!.whole).toBeNull()
    expect(right.ledger!.undone).toEqual(large.ledger!.whole)
    expect(right.log).toEqual(large.log)
    const tank = right.ledger!.rows.find((row) => row.name === 'tank')!
    expect([tank.cells.points!.state, tank.cells.creases!.state]).toEqual(['within', 'lost'])
  })
  test('reconciled with nothing taken, the master is whole', async () => {
    const job = await start(`/trips/${tripId}/reconcile`, { from: await harness.returnOf(tripId), take: [] })
    const { versions } = await asset()
    const made = versions.find((version) => version.id === job.result!.versionId)!
    const stored = unpackScene(await getScene(harness.database.db, made.sceneId))
    expect(fingerprintScene(stored)).toEqual(fingerprintScene(buildStormLantern()))
  })
  test('the engine answers with its log', async () => {
    const sent = await start(`/assets/${assetId}/trips`, { versionId, destination: 'engine', options: {} })
    const id = String(sent.result!.tripId)
    const job = await start(`/trips/${id}/practise`, {
      from: await harness.returnOf(id),
      standIn: 'engine',
      options: { materialLimit: 1 },
    })
    await harness.finished(String(job.result!.nextJob))
    const { log } = await trip(id)
    expect(log.some((line) => line.includes('materials, each is drawn apart'))).toBe(true)
    expect(log.some((line) => line.includes('brass_roughness.png') && line.includes('sRGB'))).toBe(true)
  })
  test('a stand-in that can’t read the format says so; one that is none is not found', async () => {
    const { body } = await harness.call('POST', `/trips/${tripId}/practise`, {
      from: await harness.returnOf(tripId),
      standIn: 'sculptor',
      options: {},
    })
    const job = await harness.finished((body as { jobId: string }).jobId)
    expect([job.state, job.error?.code]).toEqual(['failed', 'standin.format'])
    const unknown = await harness.call('POST', `/trips/${tripId}/practise`, {
      from: await harness.returnOf(tripId),
      standIn: 'nobody',
      options: {},
    })
    expect(unknown.status).toBe(404)
  })
  test('reading again what never came back is refused', async () => {
    const sent = await start(`/assets/${assetId}/trips`, { versionId, destination: 'posing', options: {} })
    const answer = await harness.call('POST', `/trips/${String(sent.result!.tripId)}/reread`, {
      options: {},
      from: null,
    })
    expect([answer.status, (answer.body as { code: string }).code]).toEqual([409, 'trip.nothing-returned'])
  })
})
