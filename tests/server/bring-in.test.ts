/** Several models dropped at once: the parts of one asset, or an asset each. */
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { assetSchema, importedEachSchema } from '../../src/contract/api.ts'
import { buildMooringBollard } from '../../src/core/practice/demo/mooring-bollard.ts'
import { writeGltf } from '../../src/core/formats/gltf/write-gltf.ts'
import { writeStl } from '../../src/core/formats/stl/write-stl.ts'
import { encodeUtf8 } from '../../src/core/base/bytes/text.ts'
import { writeZip } from '../../src/core/formats/package/write-zip.ts'
import { cubeOf, sceneOf } from '../solids.ts'
import { CUBE, CUBE_MTL } from '../meshes.ts'
import { countRows, startHarness, type Harness } from './harness.ts'

let harness: Harness
beforeAll(async () => {
  harness = await startHarness()
})
afterAll(() => harness.close())

const crate = [
  { name: 'harbour_crate.obj', bytes: encodeUtf8(CUBE) },
  { name: 'cube.mtl', bytes: encodeUtf8(CUBE_MTL) },
]
const bollard = writeGltf(buildMooringBollard(), 'mooring-bollard.glb').files[0]!
const block = (name: string) => ({ name, bytes: writeStl(sceneOf([cubeOf()]), name).files[0]!.bytes })
const broken = { name: 'kite.glb', bytes: encodeUtf8('no model at all') }

async function bring(files: readonly { name: string; bytes: Uint8Array }[], each: 'yes' | 'no') {
  const { status, body } = await harness.upload('/assets', files, { each, options: '{}' })
  expect(status).toBe(202)
  return harness.finished((body as { jobId: string }).jobId)
}
const partsOf = async (assetId: string) => {
  const { name, versions } = assetSchema.parse((await harness.call('GET', `/assets/${assetId}`)).body)
  return { name, parts: versions[0]!.parts, note: versions[0]!.note }
}

describe('models of several formats at once', () => {
  test('as one asset: the parts of all', async () => {
    const job = await bring([...crate, bollard, block('block.stl')], 'no')
    expect([job.state, job.error]).toEqual(['done', null])
    const { parts } = await partsOf(String(job.result!.assetId))
    const own = buildMooringBollard().nodes.filter(({ mesh }) => mesh >= 0).length
    expect(parts).toBe(own + 2)
  })
  test('an asset each, called as its file is; what lies beside goes with the one that names it', async () => {
    const job = await bring([...crate, bollard, block('block.stl'), block('block.STL')], 'yes')
    expect([job.state, job.error]).toEqual(['done', null])
    const { assets, left } = importedEachSchema.parse(job.result)
    expect(left).toEqual([])
    expect(assets.map(({ name }) => name)).toEqual([
      'harbour crate',
      'mooring bollard',
      'block.stl',
      'block.STL',
    ])
    expect(await partsOf(assets[0]!.assetId)).toMatchObject({
      name: 'harbour crate',
      parts: 1,
      note: 'Imported harbour_crate.obj',
    })
    expect(job.assetId).toBe(assets[0]!.assetId)
  })
  test('of a ZIP too; one that can’t be read is left out, in words, and the rest is there', async () => {
    const before = await countRows(harness.database, 'assets')
    const zip = { name: 'all.zip', bytes: writeZip([...crate, broken, block('sub/block.stl')]) }
    const job = await bring([zip], 'yes')
    const { assets, left } = importedEachSchema.parse(job.result)
    expect(assets.map(({ name }) => name)).toEqual(['harbour crate', 'block'])
    expect(left).toHaveLength(1)
    expect(left[0]).toMatch(/^“kite\.glb” was left out: .+\.$/)
    expect(await countRows(harness.database, 'assets')).toBe(before + 2)
  })
  test('none that can be read: nothing is made, and the reason is told', async () => {
    const before = await countRows(harness.database, 'assets')
    const job = await bring([broken, { ...broken, name: 'rope.glb' }], 'yes')
    expect([job.state, job.error?.code]).toEqual(['failed', 'gltf.unreadable'])
    expect(await countRows(harness.database, 'assets')).toBe(before)
  })
  test('nonsense for a choice is refused', async () => {
    const { status } = await harness.upload('/assets', crate, { each: 'perhaps', options: '{}' })
    expect(status).toBe(400)
  })
})

test('a model has a picture, lines alone as well; one of which nothing is drawn is no fault; a scene that is not there is one', async () => {
  const pictureOf = async (files: readonly { name: string; bytes: Uint8Array }[]) => {
    const job = await bring(files, 'no')
    expect([job.state, job.error]).toEqual(['done', null])
    const asset = assetSchema.parse(
      (await harness.call('GET', `/assets/${String(job.result!.assetId)}`)).body,
    )
    return (await harness.call('GET', `/scenes/${asset.versions[0]!.sceneId}/picture`)).status
  }
  expect(await pictureOf([block('block.stl')])).toBe(200)
  const guide = { name: 'guide.obj', bytes: encodeUtf8('o guide\nv 0 0 0\nv 1 0 0\nl 1 2\n') }
  expect(await pictureOf([guide])).toBe(200)
  const one = sceneOf([cubeOf()])
  const hidden = { ...one, nodes: one.nodes.map((node) => ({ ...node, visible: false })) }
  expect(await pictureOf(writeGltf(hidden, 'hidden.glb').files)).toBe(204)
  const absent = '00000000-0000-4000-8000-000000000000'
  expect((await harness.call('GET', `/scenes/${absent}/picture`)).status).toBe(404)
})
