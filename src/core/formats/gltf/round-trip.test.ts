/**
 * glTF written and read: every trait the same, of the demo and of scenes of any kind; the Khronos validator
 * (npm gltf-validator 2.0.0-dev.3.10) finds no error and no warning in any file.
 */
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { anyScene } from '../../../../tests/any-scene.ts'
import { validatorComplaints } from '../../../../tests/gltf-validator.ts'
import { cubeOf, sceneOf } from '../../../../tests/solids.ts'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { fingerprintScene } from '../../compare/fingerprint.ts'
import { TRAITS, type Trait } from '../../compare/traits/registry.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { buildSignalKite } from '../../practice/demo/signal-kite.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import { completeIds } from '../../scene/ids.ts'
import type { Scene } from '../../scene/scene.ts'
import type { GltfWriteOptions } from './options.ts'
import { readGltf } from './read-gltf.ts'
import { writeGltf } from './write-gltf.ts'
import { howMany } from '../../../../tests/how-many.ts'

type Written = ReturnType<typeof writeGltf>
const write = (scene: Scene, options: Partial<GltfWriteOptions> = {}): Written =>
  writeGltf(scene, options.form === 'binary' || !options.form ? 'x.glb' : 'x.gltf', options)
const back = ({ files }: Written): Scene => completeIds(readGltf(files[0]!, files).scene)
const changed = (a: Scene, b: Scene): Trait[] => {
  const [before, after] = [fingerprintScene(a), fingerprintScene(b)]
  return TRAITS.filter((trait) => before[trait] !== after[trait])
}
const complaints = ({ files }: Written): Promise<string[]> => validatorComplaints(files)

const DEMO: readonly (readonly [string, () => Scene])[] = [
  ['heron', buildCourierHeron],
  ['lantern', buildStormLantern],
  ['bollard', buildMooringBollard],
  ['kite', buildSignalKite],
]
const FORMS = ['binary', 'beside', 'inside'] as const

describe.each(DEMO)('the %s', (_name, build) => {
  const scene = completeIds(build())
  test.each(FORMS)('%s: no complaint, and nothing of it is lost but what 32 bits round', async (form) => {
    const written = write(scene, { form })
    expect(await complaints(written)).toEqual([])
    const ledger = compareScenes(scene, back(written))
    const states = ledger.rows.flatMap(({ name, cells }) =>
      Object.entries(cells).map(([trait, cell]) => `${name} ${trait} ${cell?.state}`),
    )
    expect(states.length).toBeGreaterThan(50)
    // maps that would have to be made anew are told, and are not in the file
    const isTold = written.findings.some(({ code }) => code === 'gltf.map-channels')
    const isFine = isTold ? / (same|within)$| surfaces changed$/ : / (same|within)$/
    expect(states.filter((text) => !isFine.test(text))).toEqual([])
  })
  test('once more from what was read: the same traits and the same bytes', () => {
    const once = back(write(scene))
    const again = write(once)
    expect(changed(once, back(again))).toEqual([])
    expect(Buffer.from(write(back(again)).files[0]!.bytes).equals(Buffer.from(again.files[0]!.bytes))).toBe(
      true,
    )
  })
  test('with tangents that were asked for, as triangles, without normals: still no complaint', async () => {
    for (const options of [
      { tangents: true },
      { triangulate: true },
      { polygons: false, smoothing: false },
      { normals: false },
      { uvs: false, colors: false },
      { unitAs: 'roots' },
      { materials: 'names' },
    ] as const)
      expect(await complaints(write(scene, options))).toEqual([])
  })
})

test('scenes of any kind: no complaint, and what was read once is read the same again', async () => {
  await fc.assert(
    fc.asyncProperty(anyScene, async (scene) => {
      const written = write(scene)
      expect(await complaints(written)).toEqual([])
      const once = back(written)
      expect(changed(once, back(write(once)))).toEqual([])
    }),
    { numRuns: howMany(60, 2000), seed: 20261127 },
  )
})

test('scenes of any kind: polygons, groups, smoothing, creases and who hangs under whom are as they were', () => {
  fc.assert(
    // a mirrored space turns polygons over on the way
    fc.property(
      anyScene.filter(({ space }) => space.handedness === 'right'),
      (scene) => {
        const read = back(write(scene))
        const shown = scene.nodes.map(({ mesh }) => scene.meshes[mesh])
        read.nodes.forEach((node, index) => {
          expect(node.parent).toBe(scene.nodes[index]!.parent)
          expect(node.visible).toBe(scene.nodes[index]!.visible)
          const [own, was] = [read.meshes[node.mesh], shown[index]]
          expect(own?.faceOffsets).toEqual(was?.faceOffsets)
          expect(own?.faceVertices).toEqual(was?.faceVertices)
          expect(own?.smoothing ?? null).toEqual(was?.smoothing ?? null)
          expect(own?.creases ?? null).toEqual(was?.creases ?? null)
          expect(own?.groups ?? null).toEqual(was?.groups ?? null)
          expect(own?.subdivision).toEqual(was?.subdivision)
          expect(own?.faceMaterials ?? null).toEqual(was?.faceMaterials ?? null)
        })
      },
    ),
    { numRuns: howMany(60, 2000), seed: 20261128 },
  )
})

test('a turn of next to nothing comes back as it came', () => {
  const tiny = [1, -6.9e-18, -2.8e-17, 0, 6.9e-18, 1, -1.7e-49, 0, 2.8e-17, -1.9e-34, 1, 0, 0, 0, 0, 1]
  const scene = {
    ...sceneOf([cubeOf()], { space: { unitMeters: 1, upAxis: 'y', frontAxis: 'z', handedness: 'right' } }),
  }
  const placed = { ...scene, nodes: scene.nodes.map((node) => ({ ...node, local: tiny })) }
  const once = readGltf(writeGltf(placed, 'x.glb').files[0]!, []).scene
  const again = readGltf(writeGltf(once, 'x.glb').files[0]!, []).scene
  expect(again.nodes[0]!.local).toEqual(once.nodes[0]!.local)
  once.nodes[0]!.local.forEach((value, at) => expect(value).toBeCloseTo(tiny[at]!, 30))
})
