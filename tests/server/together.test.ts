/** Two people at once: nothing that one of them made is put aside without a word. */
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { z } from 'zod'
import type { AssetDocument, assetsSchema, TripDetail } from '../../src/contract/api.ts'
import type { SavedRecipe } from '../../src/contract/recipes.ts'
import { startWorker } from '../../src/server/jobs/worker.ts'
import { importFiles, lanternZip, startHarness, type Harness } from './harness.ts'

type AssetsDocument = z.infer<typeof assetsSchema>

let harness: Harness
beforeAll(async () => {
  harness = await startHarness()
})
afterAll(() => harness.close())

const assetOf = async (id: string): Promise<AssetDocument> =>
  (await harness.call('GET', `/assets/${id}`)).body as AssetDocument
async function newAsset(): Promise<AssetDocument> {
  const job = await importFiles(harness, [lanternZip()])
  return assetOf(String(job.result!.assetId))
}
const codeOf = ({ status, body }: Awaited<ReturnType<Harness['call']>>): [number, string] => [
  status,
  (body as { code: string }).code,
]
const prepareOn = (asset: AssetDocument, version: number, step: object, beside: string | null = null) =>
  harness.call('POST', `/assets/${asset.id}/prepare`, {
    versionId: asset.versions[version - 1]!.id,
    recipe: { name: 'A step', steps: [step] },
    beside,
  })
const done = async (answer: Awaited<ReturnType<Harness['call']>>) => {
  expect(answer.status).toBe(202)
  return harness.finished((answer.body as { jobId: string }).jobId)
}
const TO_FLOOR = { step: 'to-floor', params: {} }
const UNDER_ROOT = { step: 'group-under-root', params: { name: 'lantern' } }

async function send(asset: AssetDocument): Promise<string> {
  const job = await done(
    await harness.call('POST', `/assets/${asset.id}/trips`, {
      versionId: asset.versions.at(-1)!.id,
      destination: 'sculpting',
      options: {},
      selection: null,
      withRecipe: true,
    }),
  )
  return String(job.result!.tripId)
}
const bringBack = async (tripId: string, from: string | null) =>
  harness.upload(`/trips/${tripId}/return`, [lanternZip()], { from: from ?? '', options: '{}' })

describe('two steps from one version', () => {
  test('the second is refused in words, and goes where its maker knows of the first', async () => {
    const asset = await newAsset()
    expect((await done(await prepareOn(asset, 1, TO_FLOOR))).state).toBe('done')
    const refused = await prepareOn(asset, 1, UNDER_ROOT)
    expect(codeOf(refused)).toEqual([409, 'version.moved-on'])
    expect((refused.body as { message: string }).message).toMatch(
      /^Version 2 was made meanwhile. What you have stands on version 1/,
    )
    const two = await assetOf(asset.id)
    expect(two.versions).toHaveLength(2)
    expect((await done(await prepareOn(two, 1, UNDER_ROOT, two.versions[1]!.id))).state).toBe('done')
    const three = await assetOf(asset.id)
    expect(three.versions[2]!.note).toMatch(/on version 1 \(beside version 2\)$/)
    const { rows } = await harness.database.pool.query<{ based_on: string }>(
      'select based_on from versions where id = $1',
      [three.versions[2]!.id],
    )
    expect(rows[0]!.based_on).toBe(asset.versions[0]!.id)
  })
  test('asked for at the same moment, one of them is kept and the other says why not', async () => {
    const asset = await newAsset()
    const answers = await Promise.all([prepareOn(asset, 1, TO_FLOOR), prepareOn(asset, 1, UNDER_ROOT)])
    const jobs = await Promise.all(answers.map((answer) => done(answer)))
    expect(jobs.map((job) => job.state).sort()).toEqual(['done', 'failed'])
    expect(jobs.find((job) => job.state === 'failed')!.error!.code).toBe('version.moved-on')
    expect((await assetOf(asset.id)).versions).toHaveLength(2)
  })
})

describe('a trip that left before', () => {
  test('is taken over the newer master only where that is known', async () => {
    const asset = await newAsset()
    const tripId = await send(asset)
    await done(await prepareOn(asset, 1, TO_FLOOR))
    await done(await bringBack(tripId, null))
    const from = await harness.returnOf(tripId)
    const take = (beside: string | null) =>
      harness.call('POST', `/trips/${tripId}/reconcile`, { take: ['points'], from, beside })
    expect(codeOf(await take(null))).toEqual([409, 'version.moved-on'])
    const { versions } = await assetOf(asset.id)
    expect((await done(await take(versions[1]!.id))).state).toBe('done')
  })
  test('two returns of one trip: the second is refused by the one who had not seen the first', async () => {
    const asset = await newAsset()
    const tripId = await send(asset)
    await done(await bringBack(tripId, null))
    expect(codeOf(await bringBack(tripId, null))).toEqual([409, 'trip.other-return'])
    const first = await harness.returnOf(tripId)
    expect((await done(await bringBack(tripId, first))).state).toBe('done')
    const detail = (await harness.call('GET', `/trips/${tripId}`)).body as TripDetail
    expect(detail.returnedSceneId).not.toBe(first)
    const stale = { take: [], from: first }
    expect(codeOf(await harness.call('POST', `/trips/${tripId}/reconcile`, stale))).toEqual([
      409,
      'trip.other-return',
    ])
  })
  test('two returns at the same moment: one is kept, the other says why not', async () => {
    const asset = await newAsset()
    const tripId = await send(asset)
    const answers = await Promise.all([bringBack(tripId, null), bringBack(tripId, null)])
    const jobs = await Promise.all(answers.map((answer) => done(answer)))
    expect(jobs.map((job) => job.error?.code ?? job.state).sort()).toEqual(['done', 'trip.other-return'])
  })
})

describe('a trip that is over without a version', () => {
  const close = (tripId: string, closed: boolean, from: string | null) =>
    harness.call('PATCH', `/trips/${tripId}`, { closed, from })
  const stateOf = async ({ id }: AssetDocument) => (await assetOf(id)).trips.map(({ state }) => state)
  const isListedOpen = async ({ id }: AssetDocument): Promise<boolean> => {
    const { assets } = (await harness.call('GET', '/assets')).body as AssetsDocument
    return assets.find((asset) => asset.id === id)!.trips.length > 0
  }
  test('is waited for no more, also once something came, and can be opened again as it was', async () => {
    const asset = await newAsset()
    const tripId = await send(asset)
    expect((await close(tripId, true, null)).status).toBe(204)
    expect([await stateOf(asset), await isListedOpen(asset)]).toEqual([['closed'], false])
    // a second time it stays so
    expect((await close(tripId, true, null)).status).toBe(204)
    expect((await close(tripId, false, null)).status).toBe(204)
    expect([await stateOf(asset), await isListedOpen(asset)]).toEqual([['out'], true])
    await close(tripId, true, null)
    // what comes home all the same is waiting to be looked at
    await done(await bringBack(tripId, null))
    expect(await stateOf(asset)).toEqual(['back'])
    const from = await harness.returnOf(tripId)
    expect((await close(tripId, true, from)).status).toBe(204)
    expect((await close(tripId, false, from)).status).toBe(204)
    expect(await stateOf(asset)).toEqual(['back'])
  })
  test('is not closed over a return or a version of which the one who closes it knows nothing', async () => {
    const asset = await newAsset()
    const tripId = await send(asset)
    await done(await bringBack(tripId, null))
    expect(codeOf(await close(tripId, true, null))).toEqual([409, 'trip.other-return'])
    const from = await harness.returnOf(tripId)
    await close(tripId, true, from)
    // what came back is still there to be taken
    const job = await done(
      await harness.call('POST', `/trips/${tripId}/reconcile`, { take: ['points'], from }),
    )
    expect([job.state, await stateOf(asset)]).toEqual(['done', ['settled']])
    for (const closed of [true, false])
      expect(codeOf(await close(tripId, closed, from))).toEqual([409, 'trip.settled'])
    expect(await stateOf(asset)).toEqual(['settled'])
  })
  test('nobody’s trip, and forms that say nothing, are refused in words', async () => {
    expect((await close('00000000-0000-4000-8000-000000000000', true, null)).status).toBe(404)
    const asset = await newAsset()
    const tripId = await send(asset)
    for (const body of [{}, { closed: 'yes', from: null }, { closed: true }, { closed: true, from: 'x' }])
      expect((await harness.call('PATCH', `/trips/${tripId}`, body)).status).toBe(400)
    expect(await stateOf(asset)).toEqual(['out'])
  })
})

test('what is taken is of the return that was looked at, also where another came back before the work began', async () => {
  const waiting = await startHarness({ worker: false })
  const worker = await startWorker(waiting.database)
  const job = await importFiles(waiting, [lanternZip()])
  const ask = async (path: string, body: object) => {
    const { body: answer } = await waiting.call('POST', path, body)
    return (answer as { jobId: string }).jobId
  }
  const sent = await waiting.finished(
    await ask(`/assets/${String(job.result!.assetId)}/trips`, {
      versionId: job.result!.versionId,
      destination: 'sculpting',
      options: {},
      selection: null,
      withRecipe: true,
    }),
  )
  const tripId = String(sent.result!.tripId)
  const practise = { standIn: 'sculptor', options: {}, from: null }
  const practised = await waiting.finished(await ask(`/trips/${tripId}/practise`, practise))
  await waiting.finished(String(practised.result!.nextJob))
  await worker.close()
  const from = await waiting.returnOf(tripId)
  const taking = await ask(`/trips/${tripId}/reconcile`, { take: ['points'], from })
  // another file came back meanwhile
  await waiting.database.pool.query(
    'update trips set returned_scene_id = (select scene_id from versions where id = trips.version_id)',
  )
  const again = await startWorker(waiting.database)
  expect((await waiting.finished(taking)).error!.code).toBe('trip.other-return')
  await again.close()
  await waiting.close()
})

describe('recipes, destinations, marks and names', () => {
  const at = (updatedAt: string): string => `from=${encodeURIComponent(updatedAt)}`
  test('a recipe that somebody changed since is neither changed nor deleted', async () => {
    const recipe = (await harness.call('POST', '/recipes', { name: 'Low', steps: [TO_FLOOR] }))
      .body as SavedRecipe
    const change = (name: string, from: string) =>
      harness.call('PUT', `/recipes/${recipe.id}?${at(from)}`, { name, steps: [TO_FLOOR] })
    const first = await change('Lower', recipe.updatedAt)
    expect(first.status).toBe(200)
    expect(codeOf(await change('Lowest', recipe.updatedAt))).toEqual([409, 'http.changed-meanwhile'])
    expect(codeOf(await harness.call('DELETE', `/recipes/${recipe.id}?${at(recipe.updatedAt)}`))).toEqual([
      409,
      'http.changed-meanwhile',
    ])
    expect((await change('Lowest', (first.body as SavedRecipe).updatedAt)).status).toBe(200)
    expect(
      (await harness.call('PUT', `/recipes/${recipe.id}`, { name: 'x', steps: [TO_FLOOR] })).status,
    ).toBe(400)
  })
  test('of many changes from one state at the same moment one is kept', async () => {
    const recipe = (await harness.call('POST', '/recipes', { name: 'Low', steps: [TO_FLOOR] }))
      .body as SavedRecipe
    const answers = await Promise.all(
      Array.from({ length: 8 }, (_answer, number) =>
        harness.call('PUT', `/recipes/${recipe.id}?${at(recipe.updatedAt)}`, {
          name: `Low ${number}`,
          steps: [TO_FLOOR],
        }),
      ),
    )
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409, 409, 409, 409, 409, 409, 409])
  })
  test('a mark that somebody set since is not replaced; those of other parts are', async () => {
    const asset = await newAsset()
    const mark = (marks: object, from: object) =>
      harness.call('PATCH', `/assets/${asset.id}/parts`, { marks, from })
    const home = { role: 'home', label: 'none' }
    const rose = { role: 'travels', label: 'rose' }
    expect((await mark({ a: home }, { a: null })).status).toBe(204)
    expect((await mark({ b: rose }, { b: null })).status).toBe(204)
    expect(codeOf(await mark({ a: rose }, { a: null }))).toEqual([409, 'http.changed-meanwhile'])
    expect((await mark({ a: rose }, { a: home })).status).toBe(204)
    expect((await assetOf(asset.id)).partMarks).toEqual({ a: rose, b: rose })
  })
  test('an asset that somebody renamed since keeps that name', async () => {
    const asset = await newAsset()
    const rename = (name: string, from: string) =>
      harness.call('PATCH', `/assets/${asset.id}`, { name, from })
    expect((await rename('Lamp', asset.name)).status).toBe(204)
    expect(codeOf(await rename('Light', asset.name))).toEqual([409, 'http.changed-meanwhile'])
    expect((await assetOf(asset.id)).name).toBe('Lamp')
  })
})
