/** USD written and read again; the syntax of what is written is read by tinyusdz 0.9.0-rc10. */
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { anyScene } from '../../../../tests/any-scene.ts'
import { loadTinyUsdz } from '../../../../tests/tinyusdz.ts'
import { cubeOf, materialOf, sceneOf } from '../../../../tests/solids.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { fingerprintScene } from '../../compare/fingerprint.ts'
import { TRAITS } from '../../compare/traits/registry.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { buildSignalKite } from '../../practice/demo/signal-kite.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import { completeIds } from '../../scene/ids.ts'
import { IDENTITY_MATRIX, plainNode, type Scene } from '../../scene/scene.ts'
import type { UsdWriteOptions } from './options.ts'
import { readUsd } from './read-usd.ts'
import { writeUsd } from './write-usd.ts'
import { howMany } from '../../../../tests/how-many.ts'

const codes = ({ findings }: { findings: readonly { code: string }[] }): string[] =>
  findings.map(({ code }) => code)

describe('written and read', () => {
  const write = (scene: Scene, options: Partial<UsdWriteOptions> = {}) => writeUsd(scene, 'x.usda', options)
  const back = (scene: Scene, options: Partial<UsdWriteOptions> = {}): Scene => {
    const { files } = write(scene, options)
    return completeIds(readUsd(files[0]!, files).scene)
  }
  const changed = (a: Scene, b: Scene): string[] => {
    const [before, after] = [fingerprintScene(a), fingerprintScene(b)]
    return TRAITS.filter((trait) => before[trait] !== after[trait])
  }
  test.each([
    ['heron', buildCourierHeron],
    ['lantern', buildStormLantern],
    ['bollard', buildMooringBollard],
    ['kite', buildSignalKite],
  ] as const)('the %s: every trait of every part is the same', (_name, build) => {
    const scene = completeIds(build())
    const { rows } = compareScenes(scene, back(scene))
    const states = rows.flatMap(({ name, cells }) =>
      Object.entries(cells).map(([trait, cell]) => `${name} ${trait} ${cell?.state}`),
    )
    expect(states.length).toBeGreaterThan(50)
    const isTold = write(scene).findings.some(({ code }) => code === 'usd.map-channels')
    const isFine = isTold ? / same$| surfaces changed$/ : / same$/
    expect(states.filter((state) => !isFine.test(state))).toEqual([])
    // and once more from what was read: the same bytes
    const once = write(back(scene)).files[0]!.bytes
    expect(Buffer.from(write(back(back(scene))).files[0]!.bytes).equals(Buffer.from(once))).toBe(true)
  })
  test('scenes of any kind: what was read once is read the same again', () => {
    fc.assert(
      fc.property(anyScene, (scene) => {
        const once = back(scene)
        expect(changed(once, back(once))).toEqual([])
      }),
      { numRuns: howMany(60, 2000), seed: 20261127 },
    )
  })
  test('scenes of any kind: every trait of what is written is in the file', () => {
    fc.assert(
      fc.property(anyScene, (any) => {
        // axes that the format has words for
        const space = { ...any.space, upAxis: 'z', frontAxis: '-y', handedness: 'right' } as const
        const scene = completeIds({ ...any, space })
        // a file has nodes in the order of what hangs under what
        const order: number[] = []
        const visit = (parent: number): void =>
          scene.nodes.forEach((node, index) => {
            if (node.parent !== parent) return
            order.push(index)
            visit(index)
          })
        visit(-1)
        fc.pre(order.every((node, at) => node === at))
        expect(changed(scene, back(scene))).toEqual([])
      }),
      { numRuns: howMany(60, 2000), seed: 20261128 },
    )
  })
  test('tinyusdz reads what is written, and prints the same model', async () => {
    const print = await loadTinyUsdz()
    for (const build of [buildCourierHeron, buildStormLantern, buildMooringBollard]) {
      const scene = completeIds(build())
      const { files } = write(scene)
      const printed = encodeUtf8(print(files[0]!.bytes, 'x.usda'))
      const other = completeIds(readUsd({ name: 'x.usda', bytes: printed }, files).scene)
      expect(other.meshes.map(({ faceVertices }) => [...faceVertices])).toEqual(back(scene).meshes.map(({ faceVertices }) => [...faceVertices])) // prettier-ignore
      expect(other.nodes.map(({ name }) => name)).toEqual(back(scene).nodes.map(({ name }) => name))
      expect(other.materials.map(({ name, model }) => [name, model])).toEqual(back(scene).materials.map(({ name, model }) => [name, model])) // prettier-ignore
    }
  })
  test('unit and up axis are stated, and the size is the same in metres', () => {
    const heron = completeIds(buildCourierHeron())
    for (const options of [
      { unitMeters: 1 },
      { upAxis: 'z' },
      { unitMeters: 0.0254, unitAs: 'roots' },
    ] as const) {
      const read = back(heron, options)
      const { rows } = compareScenes(heron, read)
      for (const { cells } of rows) expect(cells.points!.state).toMatch(/same|within/)
      if ('unitMeters' in options) expect(read.space.unitMeters).toBe(options.unitMeters)
      if ('upAxis' in options) expect(read.space.upAxis).toBe(options.upAxis)
    }
  })
  test('a changed colour counts, whatever the note beside it says; notes of another mesh are left out', () => {
    const scene = sceneOf(
      [cubeOf({ faceMaterials: new Int32Array(6), smoothing: { kind: 'groups', faceGroups: Int32Array.of(1, 1, 2, 2, 3, 3) } })], // prettier-ignore
      {
        materials: [materialOf('tin', { properties: [{ name: 'Kd', values: [0.8, 0.1, 0.1], text: null }] })],
      },
    )
    const { files } = write(scene)
    const body = new TextDecoder().decode(files[0]!.bytes)
    expect(readUsd(files[0]!, []).scene.materials[0]!.model).toBe('mtl')
    const other = body
      .replace('= (0.8, 0.1, 0.1)', '= (0.2, 0.1, 0.1)')
      .replace('\\"points\\":8', '\\"points\\":9')
    expect(other.length).toBe(body.length)
    const result = readUsd({ name: 'x.usda', bytes: encodeUtf8(other) }, [])
    const [tin] = result.scene.materials
    expect(tin!.model).toBe('UsdPreviewSurface')
    expect(tin!.properties.find(({ name }) => name === 'diffuseColor')!.values).toEqual([0.2, 0.1, 0.1])
    expect(codes(result)).toContain('usd.stale')
    expect(result.scene.meshes[0]!.smoothing).toBeNull()
  })
  test('joints with other things under them: all of it is there, and what stands elsewhere is told', () => {
    const joint = plainNode('hip', { role: 'LimbNode' })
    const scene = completeIds({
      ...sceneOf([
        cubeOf({
          skin: {
            jointNodes: Int32Array.of(1),
            meshBinds: Float64Array.from(IDENTITY_MATRIX),
            jointBinds: Float64Array.from(IDENTITY_MATRIX),
            offsets: Uint32Array.from({ length: 9 }, (_none, at) => at),
            joints: new Uint32Array(8),
            weights: new Float64Array(8).fill(1),
          },
        }),
      ]),
    })
    const full = completeIds({ ...scene, nodes: [...scene.nodes, joint, plainNode('hat', { parent: 1 })] })
    const { findings } = write(full)
    expect(findings.map(({ parameters }) => parameters.what)).toEqual(['what hangs on joints as such; it stands beside them']) // prettier-ignore
    const read = back(full)
    expect(read.nodes.map(({ name }) => name).sort()).toEqual(['hat', 'hip', 'part_1'])
    expect([...read.meshes[0]!.skin!.weights]).toEqual([...full.meshes[0]!.skin!.weights])
  })
})

describe('what stands in the text', () => {
  const textOf = (scene: Scene): string => new TextDecoder().decode(writeUsd(scene, 'x.usda').files[0]!.bytes)
  const materials = ['tin', 'brass'].map((name) => materialOf(name))
  test('a subset for each material of several, in the order of the materials; none for polygons without', () => {
    const text = textOf(sceneOf([cubeOf({ faceMaterials: Int32Array.of(1, 0, -1, 1, 0, 1) })], { materials }))
    const subsets = [...text.matchAll(/def GeomSubset "(\w+)"[\s\S]*?int\[\] indices = \[([^\]]*)\]/g)]
    expect(subsets.map(([, name, faces]) => [name, faces!.split(/,\s*/).map(Number)])).toEqual([
      ['tin', [1, 4]],
      ['brass', [0, 3, 5]],
    ])
    // of one material alone the part itself says it
    const plain = textOf(sceneOf([cubeOf({ faceMaterials: new Int32Array(6).fill(1) })], { materials }))
    expect(plain).not.toContain('GeomSubset')
    expect(plain).toMatch(/rel material:binding = <[^>]*brass>/)
  })
  test('how far a mesh reaches', () => {
    expect(textOf(sceneOf([cubeOf({}, 2, [1, 2, 3])]))).toMatch(
      /float3\[\] extent = \[\(1, 2, 3\), \(3, 4, 5\)\]/,
    )
  })
  test('a node that is a camera or a light is one; a part that is one too stays a part', () => {
    const scene = sceneOf([cubeOf()])
    const attribute = (node: number) => ({ name: 'x', node, properties: {} })
    const nodes = [...scene.nodes, plainNode('eye'), plainNode('lamp')]
    const text = textOf({ ...scene, nodes, cameras: [attribute(1)], lights: [attribute(2)] })
    expect(text).toMatch(/def Camera "eye"/)
    expect(text).toMatch(/def \w*Light "lamp"/)
    expect(text).toMatch(/def Mesh "part_1"/)
    const both = textOf({ ...scene, nodes, cameras: [attribute(0)] })
    expect(both).toMatch(/def Mesh "part_1"/)
    expect(both).toMatch(/def Xform "eye"/)
  })
  test('properties of one’s own come back, whatever letters stand in them', () => {
    const properties = { plain: 'deck', 'two words': 'x', zero: 'a\0b', count: 3, on: true, list: [1, 2] }
    const scene = sceneOf([cubeOf()])
    const given = { ...scene, nodes: scene.nodes.map((node) => ({ ...node, properties })) }
    expect(textOf(given)).not.toContain('\0')
    const { files } = writeUsd(given, 'x.usda')
    expect(readUsd(files[0]!, files).scene.nodes[0]!.properties).toEqual(properties)
  })
  test('the channel of a map is said only where it is another one than is taken by itself', () => {
    const withMap = (options: string[][], slot: 'roughness' | 'baseColor', property: string): Scene =>
      sceneOf([cubeOf({ faceMaterials: new Int32Array(6) })], {
        materials: [
          materialOf('tin', {
            model: 'UsdPreviewSurface',
            properties: [{ name: 'roughness', values: [0.5], text: null }],
            maps: [{ property, slot, file: 'a.png', options }],
          }),
        ],
      })
    const again = (scene: Scene) => back(scene).materials[0]!.maps.map(({ file, options }) => [file, options])
    for (const channel of ['r', 'g', 'b'])
      expect(again(withMap([['-imfchan', channel]], 'roughness', 'roughness'))).toEqual([
        ['a.png', [['-imfchan', channel]]],
      ])
    expect(again(withMap([], 'baseColor', 'diffuseColor'))).toEqual([['a.png', []]])
  })
  const back = (scene: Scene): Scene => {
    const { files } = writeUsd(scene, 'x.usda')
    return readUsd(files[0]!, files).scene
  }
})
