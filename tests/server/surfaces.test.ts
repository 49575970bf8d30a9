/** Surfaces on the server: maps that are put there, looked at, kept as a version, and written as files. */
import { sql } from 'drizzle-orm'
import sharp from 'sharp'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type { AssetDocument, SceneDocument } from '../../src/contract/api.ts'
import { imageWorkSchema, remapResultSchema, shownSurfacesSchema } from '../../src/contract/surfaces.ts'
import { readMaterialX } from '../../src/core/surfaces/documents/read-materialx.ts'
import { getBlob } from '../../src/server/content/blob-store.ts'
import { getFileRow } from '../../src/server/content/file-store.ts'
import { sweepUnused } from '../../src/server/content/sweep.ts'
import { readZip } from '../../src/core/formats/package/read-zip.ts'
import { importFiles, lanternZip, startHarness, type Harness } from './harness.ts'

let harness: Harness
let asset: AssetDocument
beforeAll(async () => {
  harness = await startHarness()
  const job = await importFiles(harness, [lanternZip()])
  asset = (await harness.call('GET', `/assets/${String(job.result!.assetId)}`)).body as AssetDocument
})
afterAll(() => harness.close())

const image = async (value: number): Promise<Uint8Array> =>
  new Uint8Array(
    await sharp({
      create: { width: 4, height: 4, channels: 3, background: { r: value, g: value, b: value } },
    })
      .png()
      .toBuffer(),
  )
async function putMaps(
  files: readonly { name: string; bytes: Uint8Array }[],
  paths?: readonly string[],
): Promise<{ id: string; name: string }[]> {
  const fields: Record<string, string> = paths ? { paths: JSON.stringify(paths) } : {}
  const answer = await harness.upload(`/assets/${asset.id}/maps`, files, fields)
  expect(answer.status).toBe(201)
  return (answer.body as { files: { id: string; name: string }[] }).files
}
const remap = async (more: object) => {
  const answer = await harness.call('POST', `/assets/${asset.id}/remap`, {
    versionId: asset.versions.at(-1)!.id,
    surface: 'openpbr',
    mode: 'look',
    ...more,
  })
  if (answer.status !== 202) return { answer, job: null, result: null }
  const job = await harness.finished((answer.body as { jobId: string }).jobId)
  return { answer, job, result: job.result && remapResultSchema.parse(job.result) }
}

test('a look changes nothing; folders are part of what maps are called; what is kept becomes a version', async () => {
  const { result: plain } = await remap({})
  const [first] = plain!.sheets
  const files = await putMaps(
    [
      { name: 'albedo.png', bytes: await image(120) },
      { name: 'roughness.png', bytes: await image(60) },
    ],
    [`maps/${first!.material}/albedo.png`, `maps/${first!.material}/roughness.png`],
  )
  expect(files.map(({ name }) => name)).toEqual([
    `maps/${first!.material}/albedo.png`,
    `maps/${first!.material}/roughness.png`,
  ])
  const fileIds = files.map(({ id }) => id)
  const { result: looked } = await remap({ fileIds })
  expect(looked!.versionId).toBeUndefined()
  const row = looked!.sheets[0]!.parameters.find(({ parameter }) => parameter === 'specular_roughness')!
  expect(row).toMatchObject({ value: 1, map: 'maps/roughness.png', from: 'folder' })

  // what was looked at is there for a day, whoever sweeps meanwhile
  await sweepUnused(harness.database.db, 0)
  const { result: kept } = await remap({ fileIds, mode: 'keep' })
  expect(kept!.versionNumber).toBe(2)
  asset = (await harness.call('GET', `/assets/${asset.id}`)).body as AssetDocument
  expect(asset.versions.at(-1)!.note).toBe('Materials as OpenPBR Surface 1.1, on version 1')
  const scene = (await harness.call('GET', `/scenes/${asset.versions.at(-1)!.sceneId}`)).body as SceneDocument
  const material = scene.inspection.materials.find(({ name }) => name === first!.material)!
  expect(material.surface).toMatchObject({ model: 'openpbr', how: 'stated' })
  expect(
    material.maps
      .filter(({ found }) => found)
      .map(({ slot }) => slot)
      .sort(),
  ).toEqual(expect.arrayContaining(['baseColor', 'roughness']))
})

test('files: the model, its maps, the document and the sheet in one ZIP', async () => {
  const { result } = await remap({ surface: 'gltf', mode: 'files', format: 'fbx' })
  const row = await getFileRow(harness.database.db, result!.fileId!)
  const bytes = await getBlob(harness.database.db, row!.hash)
  const names = readZip({ name: 'x.zip', bytes }).files.map(({ name }) => name.split('/').slice(1).join('/'))
  expect(names).toEqual(
    expect.arrayContaining([
      'storm_lantern.fbx',
      'storm_lantern.mtlx',
      'storm_lantern-materials.html',
      'storm_lantern-gltf-materials.json',
    ]),
  )
})

test('from a version that is not the newest: no silent overwrite; unknown models and maps that are gone are said', async () => {
  const stale = await remap({ versionId: asset.versions[0]!.id, mode: 'keep' })
  expect(stale.answer.status).toBe(409)
  expect((await remap({ surface: 'velvet' })).answer.status).toBe(404)
  const gone = await remap({ fileIds: ['00000000-0000-4000-8000-000000000000'] })
  expect([gone.answer.status, (gone.answer.body as { code: string }).code]).toEqual([409, 'remap.maps-gone'])
  expect((await remap({ rules: { rules: [{ parameter: '' }] } })).answer.status).toBe(400)
})

test('what is no image is told and left out; nothing stops for it', async () => {
  const files = await putMaps([
    { name: 'brass_roughness.png', bytes: new TextEncoder().encode('not an image') },
  ])
  const { job, result } = await remap({ fileIds: files.map(({ id }) => id) })
  expect(job!.state).toBe('done')
  expect(result!.messages.map(({ code }) => code)).toContain('remap.bad-image')
})

test('rules under a name: kept, changed once, deleted; who changes what another has changed is told', async () => {
  const rules = { rules: [{ parameter: 'specular_roughness', value: 0.3 }], oneMap: { size: 256 } }
  const kept = await harness.call('POST', '/surface-rules', { name: 'Quay', surface: 'openpbr', rules })
  expect(kept.status).toBe(201)
  const own = kept.body as { id: string; updatedAt: string; rules: { oneMap: object } }
  // what was left out stands there with its standard
  expect(own.rules.oneMap).toEqual({ set: null, size: 256, padding: 8, materials: '*', name: null })
  const change = (from: string) =>
    harness.call('PUT', `/surface-rules/${own.id}?from=${encodeURIComponent(from)}`, {
      name: 'Quay',
      surface: 'gltf',
      rules: { rules: [] },
    })
  const changed = await change(own.updatedAt)
  expect(changed.body).toMatchObject({ surface: 'gltf' })
  expect((await change(own.updatedAt)).status).toBe(409)
  const refused = await harness.call('POST', '/surface-rules', {
    name: 'x',
    surface: 'none',
    rules: { rules: [] },
  })
  expect(refused.status).toBe(404)
  const { updatedAt } = changed.body as { updatedAt: string }
  const gone = await harness.call('DELETE', `/surface-rules/${own.id}?from=${encodeURIComponent(updatedAt)}`)
  expect(gone.status).toBe(204)
  expect((await harness.call('GET', '/surface-rules')).body).toEqual({ surfaceRules: [] })
})

test('a destination with rules for materials: they leave in its model, with documents beside, and the master stays', async () => {
  const { destinations } = (await harness.call('GET', '/destinations')).body as {
    destinations: Record<string, unknown>[]
  }
  const {
    id: _id,
    shipped: _shipped,
    updatedAt: _at,
    ...fields
  } = destinations.find(({ id }) => id === 'renderer')!
  const own = {
    ...fields,
    name: 'Harbour renderer',
    mustBeClean: [],
    surfaces: {
      name: 'Quay',
      surface: 'standard-surface',
      rules: { rules: [{ parameter: 'specular_roughness', value: 0.25, map: null }] },
    },
  }
  const wrong = await harness.call('POST', '/destinations', {
    ...own,
    surfaces: { ...own.surfaces, surface: 'none' },
  })
  expect(wrong.status).toBe(400)
  expect(JSON.stringify(wrong.body)).toContain('there is no surface model “none”')
  const added = await harness.call('POST', '/destinations', own)
  expect(added.status).toBe(201)
  const { id: destinationId } = added.body as { id: string }
  const started = await harness.call('POST', `/assets/${asset.id}/trips`, {
    versionId: asset.versions.at(-1)!.id,
    destination: destinationId,
    options: {},
    withRecipe: true,
  })
  expect(started.body).toMatchObject({ jobId: expect.any(String) as string })
  const job = await harness.finished((started.body as { jobId: string }).jobId)
  const file = await getFileRow(harness.database.db, String(job.result!.fileId))
  const { files } = readZip({ name: 'x.zip', bytes: await getBlob(harness.database.db, file!.hash) })
  const document = files.find(({ name }) => name.endsWith('.mtlx'))!
  const materials = readMaterialX(new TextDecoder().decode(document.bytes))
  expect(materials.length).toBeGreaterThan(0)
  for (const { model, values } of materials) {
    expect(model.id).toBe('standard-surface')
    expect(values['specular_roughness']).toBe(0.25)
  }
  const scene = (await harness.call('GET', `/scenes/${asset.versions.at(-1)!.sceneId}`)).body as SceneDocument
  expect(scene.inspection.materials.map(({ surface }) => surface?.model)).not.toContain('standard-surface')
})

test('a model of the artist’s own goes with the rules: wired for, written, kept; one that is unsound is refused', async () => {
  const ownModel = {
    name: 'Harbour paint',
    slots: [
      { name: 'tone', from: 'baseColor' },
      { name: 'shine', from: 'roughness', inverted: true, times: 100 },
    ],
  }
  const { result } = await remap({ surface: 'own', rules: { rules: [], ownModel } })
  const [sheet] = result!.sheets
  expect(sheet!.parameters.map(({ parameter }) => parameter)).toEqual(['tone', 'shine'])
  const plain = await remap({ surface: 'openpbr' })
  const roughness = plain.result!.sheets[0]!.parameters.find(
    ({ parameter }) => parameter === 'specular_roughness',
  )!
  const shine = sheet!.parameters[1]!
  if (shine.map === null) expect(shine.value).toBeCloseTo(100 * (1 - Number(roughness.value)), 6)
  else expect(shine.map).toMatch(/shine|oughness/)
  const { result: kept } = await remap({ surface: 'own', rules: { rules: [], ownModel }, mode: 'keep' })
  expect(kept!.versionNumber).toBeGreaterThan(1)
  asset = (await harness.call('GET', `/assets/${asset.id}`)).body as AssetDocument
  expect(asset.versions.at(-1)!.note).toMatch(/^Materials as Harbour paint/)
  const saved = await harness.call('POST', '/surface-rules', {
    name: 'Own',
    surface: 'own',
    rules: { rules: [], ownModel },
  })
  expect(saved.status).toBe(201)
  const without = await remap({ surface: 'own', rules: { rules: [] } })
  expect(without.answer.status).toBe(422)
  const wrong = await remap({
    surface: 'own',
    rules: { rules: [], ownModel: { name: 'x', slots: [{ name: 'a', from: 'nothing' }] } },
  })
  expect(wrong.answer.status).toBe(422)
  expect(JSON.stringify(wrong.answer.body)).toContain('slot 1')
})

test('both looks as scenes to be drawn: glTF’s materials, kept for a day, then swept', async () => {
  const { result } = await remap({})
  const [first] = result!.sheets
  const files = await putMaps([{ name: `${first!.material}_BaseColor.png`, bytes: await image(90) }])
  const answer = await harness.call('POST', `/assets/${asset.id}/remap`, {
    versionId: asset.versions.at(-1)!.id,
    surface: 'openpbr',
    mode: 'show',
    fileIds: files.map(({ id }) => id),
  })
  expect(answer.status).toBe(202)
  const job = await harness.finished((answer.body as { jobId: string }).jobId)
  expect(job.state).toBe('done')
  const shown = shownSurfacesSchema.parse(job.result)
  // seen by whoever asked: no work to come back to
  const { body: listed } = await harness.call('GET', '/jobs')
  expect((listed as { jobs: { id: string }[] }).jobs.some(({ id }) => id === job.id)).toBe(false)
  await sweepUnused(harness.database.db, 0)
  for (const [side, id] of [
    ['before', shown.beforeSceneId],
    ['after', shown.afterSceneId],
  ] as const) {
    const { body } = await harness.call('GET', `/scenes/${id}`)
    const { materials } = (body as SceneDocument).inspection
    expect(materials.length).toBeGreaterThan(0)
    for (const { surface } of materials) expect(surface!.model).toBe('gltf')
    const own = materials.find(({ name }) => name === first!.material)!
    expect(own.maps.some(({ slot, found }) => slot === 'baseColor' && found)).toBe(
      side === 'after' || own.maps.length > 0,
    )
  }
  await harness.database.db.execute(
    sql`update jobs set created_at = now() - interval '2 days', finished_at = now() - interval '2 days' where id = ${job.id}`,
  )
  await sweepUnused(harness.database.db, 0)
  await sweepUnused(harness.database.db, 0)
  expect((await harness.call('GET', `/scenes/${shown.beforeSceneId}`)).status).toBe(404)
})

test('an operation on images: made beside, refused in words, options and unknown operations held against the descriptors', async () => {
  const files = await putMaps([
    { name: 'gloss.png', bytes: await image(200) },
    { name: 'cut.png', bytes: (await image(200)).slice(0, 40) },
  ])
  const work = async (body: object) => {
    const answer = await harness.call('POST', `/assets/${asset.id}/images`, {
      operation: 'invert',
      fileIds: files.map(({ id }) => id),
      ...body,
    })
    if (answer.status !== 202) return { answer, result: null }
    const job = await harness.finished((answer.body as { jobId: string }).jobId)
    return { answer, result: imageWorkSchema.parse(job.result) }
  }
  const { result } = await work({})
  expect(result!.files.map(({ name }) => name)).toEqual(['gloss.png'])
  expect(result!.refused.map(({ file }) => file)).toEqual(['cut.png'])
  await sweepUnused(harness.database.db, 0)
  const bytes = await getBlob(
    harness.database.db,
    (await getFileRow(harness.database.db, result!.files[0]!.id))!.hash,
  )
  expect([...(await sharp(bytes!).raw().toBuffer()).subarray(0, 3)]).toEqual([55, 55, 55])
  const zip = await getBlob(
    harness.database.db,
    (await getFileRow(harness.database.db, result!.fileId!))!.hash,
  )
  expect(readZip({ name: 'a.zip', bytes: zip! }).files.map(({ name }) => name)).toEqual(['gloss.png'])
  for (const [body, status] of [
    [{ operation: 'melt' }, 404],
    [{ operation: 'resize', options: { size: 0 } }, 400],
    [{ operation: 'resize', options: { length: 5 } }, 400],
    [{ fileIds: ['00000000-0000-4000-8000-000000000000'] }, 409],
    [{ fileIds: [] }, 400],
  ] as const)
    expect((await work(body)).answer.status, JSON.stringify(body)).toBe(status)
})
