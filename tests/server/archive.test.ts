/** An asset with all its versions and trips as one file, brought in beside itself and into another database. */
import { deflateRawSync } from 'node:zlib'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { assetSchema, tripDetailSchema, type AssetDocument } from '../../src/contract/api.ts'
import { checkContents } from '../../src/server/content/check-contents.ts'
import { unpackChunk } from '../../src/server/content/packing.ts'
import type { Packing } from '../../src/server/db/schema.ts'
import { chanceOf } from '../../src/core/base/math/chance.ts'
import { countRows, importFiles, lanternZip, startHarness, type Harness } from './harness.ts'

let harness: Harness
let other: Harness
let asset: AssetDocument
let archive: Buffer
const assetOf = async (from: Harness, id: string): Promise<AssetDocument> =>
  assetSchema.parse((await from.call('GET', `/assets/${id}`)).body)
const bringIn = (into: Harness, bytes: Uint8Array) =>
  into.upload('/assets/archive', [{ name: 'lantern.kelbo-asset', bytes }])

beforeAll(async () => {
  harness = await startHarness()
  other = await startHarness({ worker: true })
  const job = await importFiles(harness, [lanternZip()])
  const assetId = String(job.result!.assetId)
  const start = async (path: string, body: object) => {
    const answer = await harness.call('POST', path, body)
    const done = await harness.finished((answer.body as { jobId: string }).jobId)
    expect([done.state, done.error]).toEqual(['done', null])
    return done
  }
  const sent = await start(`/assets/${assetId}/trips`, {
    versionId: job.result!.versionId,
    destination: 'sculpting',
    options: {},
    selection: null,
    withRecipe: true,
  })
  const tripId = String(sent.result!.tripId)
  const practised = await start(`/trips/${tripId}/practise`, {
    standIn: 'sculptor',
    options: { strength: 0.01 },
    from: null,
  })
  await harness.finished(String(practised.result!.nextJob))
  await start(`/trips/${tripId}/reconcile`, { take: ['points'], from: await harness.returnOf(tripId) })
  asset = await assetOf(harness, assetId)
  archive = (await harness.call('GET', `/assets/${assetId}/archive`)).raw
})
afterAll(async () => {
  await harness.close()
  await other.close()
})

/** Without ids and what follows from them. */
const plain = (document: unknown): unknown =>
  JSON.parse(
    JSON.stringify(document, (key, value: unknown) =>
      /id$|ids$|^sceneId$/i.test(key) && typeof value === 'string' ? 'id' : value,
    ),
  )

/** The same archive as version 1 had it: chunks deflated, or as they are. */
async function asFirstVersion(bytes: Buffer): Promise<Buffer> {
  const pieces: Buffer[] = []
  let at = 0
  const line = (): string => bytes.toString('utf8', at, (at = bytes.indexOf(10, at) + 1))
  pieces.push(Buffer.from(line().replace('"version":2', '"version":1')), Buffer.from(line()))
  for (;;) {
    const text = line()
    const head = JSON.parse(text) as {
      hash?: string
      byteLength: number
      chunks: { packing: Packing; length: number }[]
    }
    if (!head.hash) return Buffer.concat([...pieces, Buffer.from(text)])
    const own: Buffer[] = []
    const chunks = []
    for (const [place, { packing, length }] of head.chunks.entries()) {
      const plain = await unpackChunk({ packing, bytes: bytes.subarray(at, (at += length)) })
      const deflated = place % 2 === 0
      own.push(deflated ? deflateRawSync(plain) : plain)
      chunks.push({ deflated, length: own.at(-1)!.length })
    }
    pieces.push(Buffer.from(`${JSON.stringify({ ...head, chunks })}\n`), ...own)
  }
}

describe('an asset as one file', () => {
  test('as it was written before contents said how they are packed', async () => {
    const first = await asFirstVersion(archive)
    expect(first.includes('"deflated":true')).toBe(true)
    const answer = await bringIn(other, first)
    expect(answer.status).toBe(201)
    const copy = await assetOf(other, (answer.body as { assetId: string }).assetId)
    expect(plain(copy)).toEqual(plain(asset))
    expect((await checkContents(other.database)).problems).toEqual([])
    // the rest of these tests brings the same contents in anew
    expect((await other.call('DELETE', `/assets/${copy.id}`)).status).toBe(204)
  })
  test('is the same in another database: versions, trips, ledgers, files, every array', async () => {
    const answer = await bringIn(other, archive)
    expect(answer.status).toBe(201)
    const copy = await assetOf(other, (answer.body as { assetId: string }).assetId)
    expect(plain(copy)).toEqual(plain(asset))
    expect(copy.id).not.toBe(asset.id)
    for (const [at, trip] of copy.trips.entries()) {
      const detail = tripDetailSchema.parse((await other.call('GET', `/trips/${trip.id}`)).body)
      const original = tripDetailSchema.parse(
        (await harness.call('GET', `/trips/${asset.trips[at]!.id}`)).body,
      )
      expect(plain(detail)).toEqual(plain(original))
      const file = await other.call('GET', `/files/${trip.sentFileId}`)
      expect(file.raw.equals((await harness.call('GET', `/files/${asset.trips[at]!.sentFileId}`)).raw)).toBe(
        true,
      )
    }
    expect((await checkContents(other.database)).problems).toEqual([])
    const { rows } = await other.database.pool.query<{ count: string }>(
      'select count(*) from blobs where uses = 0',
    )
    expect(rows[0]!.count).toBe('0')
  })
  test('stands beside itself where it came from, and shares its contents', async () => {
    const blobs = await countRows(harness.database, 'blobs')
    const answer = await bringIn(harness, archive)
    const { assetId } = answer.body as { assetId: string }
    expect(await countRows(harness.database, 'blobs')).toBe(blobs)
    expect((await harness.call('DELETE', `/assets/${assetId}`)).status).toBe(204)
    expect((await checkContents(harness.database)).problems).toEqual([])
    expect(plain(await assetOf(harness, asset.id))).toEqual(plain(asset))
  })
  test('goes on where it is: it is sent and prepared there', async () => {
    const { body } = await bringIn(other, archive)
    const copy = await assetOf(other, (body as { assetId: string }).assetId)
    const answer = await other.call('POST', `/assets/${copy.id}/prepare`, {
      versionId: copy.versions.at(-1)!.id,
      recipe: { name: 'x', steps: [{ step: 'to-floor', params: {} }] },
    })
    const done = await other.finished((answer.body as { jobId: string }).jobId)
    expect(done.state).toBe('done')
  })
})

test('whatever is cut off or changed in it, nothing is brought in, and it is told', async () => {
  const before = await countRows(other.database, 'assets')
  const blobs = await countRows(other.database, 'blobs')
  const lines = archive.indexOf(10, archive.indexOf(10) + 1)
  const cases: Buffer[] = [
    Buffer.alloc(0),
    Buffer.from('o sail\n'),
    Buffer.from('null\n'),
    archive.subarray(0, lines),
    archive.subarray(0, archive.length - 20),
    Buffer.from(archive.toString('latin1').replace('"kind":"kelbo-asset"', '"kind":"other-asset"'), 'latin1'),
    Buffer.from(archive.toString('latin1').replace('"scene_id"', '"scene_xx"'), 'latin1'),
    Buffer.from(archive.toString('latin1').replace('"vertex_count":', '"vertex_count":"x","y":'), 'latin1'),
  ]
  for (let seed = 1; seed <= 25; seed++) {
    const chance = chanceOf(seed)
    const changed = Buffer.from(archive)
    // in the contents, where every bit counts
    const at = lines + Math.floor(chance() * (archive.length - lines))
    changed[at]! ^= 1 << Math.floor(chance() * 8)
    cases.push(changed)
  }
  for (const bytes of cases) {
    const answer = await bringIn(other, bytes)
    expect(answer.status).toBe(422)
    expect(['archive.broken', 'archive.newer']).toContain((answer.body as { code: string }).code)
  }
  const newer = Buffer.from(archive.toString('latin1').replace('"version":2', '"version":3'), 'latin1')
  expect((await bringIn(other, newer)).body).toMatchObject({ code: 'archive.newer' })
  expect(await countRows(other.database, 'assets')).toBe(before)
  expect(await countRows(other.database, 'blobs')).toBe(blobs)
})
