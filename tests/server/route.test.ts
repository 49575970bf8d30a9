/** A model goes out and comes home, over the HTTP interface and a real PostgreSQL. */
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { ledgerSchema } from '../../src/contract/ledger.ts'
import { assetSchema, sceneSchema, tripDetailSchema } from '../../src/contract/api.ts'
import { buildStormLantern } from '../../src/core/practice/demo/storm-lantern.ts'
import { readPackage } from '../../src/core/formats/package/read-package.ts'
import { sculptFiles } from '../../src/core/practice/standins/sculptor.ts'
import { fingerprintScene } from '../../src/core/compare/fingerprint.ts'
import { createStreamDecoder } from '../../src/contract/scene-stream.ts'
import { arrayFromBytes, unpackScene, type PackedArray } from '../../src/core/scene/pack-scene.ts'
import { getScene } from '../../src/server/content/scene-store.ts'
import { countRows, importFiles, lanternZip, startHarness, type Harness } from './harness.ts'

let harness: Harness
beforeAll(async () => {
  harness = await startHarness()
})
afterAll(() => harness.close())

const asset = async (id: string) => assetSchema.parse((await harness.call('GET', `/assets/${id}`)).body)
const sceneOf = async (id: string) => unpackScene(await getScene(harness.database.db, id))
const start = async (path: string, body: unknown) => {
  const answer = await harness.call('POST', path, body)
  expect([path, answer.status]).toEqual([path, 202])
  const job = await harness.finished((answer.body as { jobId: string }).jobId)
  expect([job.state, job.error]).toEqual(['done', null])
  return job
}

describe('the whole route', () => {
  let assetId = ''
  let tripId = ''
  test('import: a version that holds what the file held', async () => {
    const job = await importFiles(harness, [lanternZip()])
    expect([job.state, job.error]).toEqual(['done', null])
    assetId = String(job.result!.assetId)
    const { name, versions } = await asset(assetId)
    expect([name, versions.map((version) => [version.number, version.parts, version.polygons])]).toEqual([
      'storm_lantern',
      [[1, 7, 6744]],
    ])
    const stored = await sceneOf(versions[0]!.sceneId)
    expect(fingerprintScene(stored)).toEqual(fingerprintScene(buildStormLantern()))
  })
  test('forecast, then send: the file is measured, recorded and handed out', async () => {
    const { versions } = await asset(assetId)
    const body = { versionId: versions[0]!.id, destination: 'sculpting', options: { creases: false } }
    const forecast = ledgerSchema.parse((await start(`/assets/${assetId}/forecast`, body)).result!.forecast)
    const tank = forecast.rows.find((row) => row.name === 'tank')!
    expect([tank.cells.creases!.state, tank.cells.points!.state]).toEqual(['lost', 'same'])
    expect(await countRows(harness.database, 'trips')).toBe(0)
    const job = await start(`/assets/${assetId}/trips`, { ...body, options: {} })
    tripId = String(job.result!.tripId)
    const detail = tripDetailSchema.parse((await harness.call('GET', `/trips/${tripId}`)).body)
    expect([detail.trip.state, detail.trip.number, detail.trip.sentFileName]).toEqual([
      'out',
      1,
      'storm_lantern_sculpting_tool_trip_001.zip',
    ])
    const file = await harness.call('GET', `/files/${String(job.result!.fileId)}`)
    expect(file.headers['content-disposition']).toContain(
      'attachment; filename="storm_lantern_sculpting_tool_trip_001.zip"',
    )
    expect(readPackage([{ name: 'x.zip', bytes: file.raw }]).scene.nodes).toHaveLength(7)
    expect(detail.contents.map((entry) => entry.name)).toContain('maps/rope_color.png')
  })
  test('return: the ledger says what became of each trait, with places', async () => {
    const { trips } = await asset(assetId)
    const sent = await harness.call('GET', `/files/${trips[0]!.sentFileId}`)
    const [returned] = sculptFiles([{ name: 'sent.zip', bytes: sent.raw }], { strength: 0.01 })
    const { status, body } = await harness.upload(
      `/trips/${tripId}/return`,
      [{ name: 'from_sculptor.obj', bytes: returned!.bytes }],
      { from: '' },
    )
    expect(status).toBe(202)
    const job = await harness.finished((body as { jobId: string }).jobId)
    expect([job.state, job.error]).toEqual(['done', null])
    const detail = tripDetailSchema.parse((await harness.call('GET', `/trips/${tripId}`)).body)
    expect([detail.trip.state, detail.trip.returnedFileName]).toEqual(['back', 'from_sculptor.obj'])
    const tank = detail.ledger!.rows.find((row) => row.name === 'tank')!
    expect([
      tank.correspondence,
      tank.cells.creases!.state,
      tank.cells.uvs!.state,
      tank.cells.points!.state,
    ]).toEqual(['connectivity', 'lost', 'same', 'changed'])
    const places = await harness.call('GET', `/blobs/${tank.cells.creases!.places!.master!}`)
    expect(places.raw.length).toBe(120 * 2 * 4)
    // nothing is a version before it is chosen
    expect((await asset(assetId)).versions).toHaveLength(1)
  })
  test('reconcile: a new version with the points taken; unchanged arrays are shared', async () => {
    const before = await countRows(harness.database, 'blobs')
    const job = await start(`/trips/${tripId}/reconcile`, {
      from: await harness.returnOf(tripId),
      take: ['points'],
    })
    const { versions, trips } = await asset(assetId)
    expect([versions.map((version) => version.number), trips[0]!.state, job.result!.versionNumber]).toEqual([
      [1, 2],
      'settled',
      2,
    ])
    const [one, two] = await Promise.all(versions.map((version) => sceneOf(version.sceneId)))
    const prints = [fingerprintScene(one!), fingerprintScene(two!)] as const
    expect(
      Object.keys(prints[0]).filter((trait) => prints[0][trait as 'points'] !== prints[1][trait as 'points']),
    ).toEqual(['points'])
    // one array of points a part is all that was stored
    expect((await countRows(harness.database, 'blobs')) - before).toBe(7)
  })
  test('practise: the stand-in takes a trip and brings it back', async () => {
    const { versions } = await asset(assetId)
    const sent = await start(`/assets/${assetId}/trips`, {
      versionId: versions[1]!.id,
      destination: 'sculpting',
      options: {},
    })
    const id = String(sent.result!.tripId)
    const job = await start(`/trips/${id}/practise`, {
      from: await harness.returnOf(id),
      standIn: 'sculptor',
      options: { strength: 0 },
    })
    expect((await harness.finished(String(job.result!.nextJob))).state).toBe('done')
    const detail = tripDetailSchema.parse((await harness.call('GET', `/trips/${id}`)).body)
    expect(detail.trip.state).toBe('back')
    for (const row of detail.ledger!.rows) expect(['same', 'within']).toContain(row.cells.points!.state)
  })
  test('the page gets a scene’s document and arrays', async () => {
    const { versions } = await asset(assetId)
    const scene = sceneSchema.parse((await harness.call('GET', `/scenes/${versions[0]!.sceneId}`)).body)
    expect(scene.inspection.meshes).toHaveLength(7)
    const answer = await harness.call('GET', `/scenes/${versions[0]!.sceneId}/stream`)
    expect(answer.headers['cache-control']).toContain('immutable')
    const decoder = createStreamDecoder()
    // however the stream is cut
    for (let at = 0; at < answer.raw.length; at += 1013) decoder.push(answer.raw.subarray(at, at + 1013))
    expect(decoder.isAtEnd()).toBe(true)
    const { document, arrays: kinds } = decoder.head()!
    const arrays: PackedArray[] = []
    for (const { index, bytes } of decoder.take()) arrays[index] = arrayFromBytes(kinds[index]!.type, bytes)
    expect(arrays.map((array) => array.length)).toEqual(kinds.map(({ length }) => length))
    expect(fingerprintScene(unpackScene({ document, arrays }))).toEqual(
      fingerprintScene(await sceneOf(versions[0]!.sceneId)),
    )
    expect((await harness.call('GET', `/scenes/${assetId}/stream`)).status).toBe(404)
  })
  test('destroying the asset leaves nothing of it', async () => {
    expect((await harness.call('DELETE', `/assets/${assetId}`)).status).toBe(204)
    for (const table of ['assets', 'versions', 'trips', 'scenes', 'files', 'blobs', 'blob_chunks'])
      expect([table, await countRows(harness.database, table)]).toEqual([table, 0])
  })
})
