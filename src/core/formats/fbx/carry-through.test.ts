/**
 * What an FBX holds beyond polygons: kept or understood, written back, read again. And every FBX of Debian's
 * assimp-testmodels 5.2.5~ds0-1, read, written in three forms and read again: every trait the same.
 */
import { readdirSync, readFileSync } from 'node:fs'
import { deflateSync } from 'node:zlib'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, materialOf, moved, sceneOf, withNodes } from '../../../../tests/solids.ts'
import { multiplyMatrices } from '../../base/math/matrix.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { KeptRecord } from '../../scene/kept.ts'
import type { Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { runStep } from '../../steps/run-steps.ts'
import { fingerprintScene } from '../../compare/fingerprint.ts'
import { TRAITS } from '../../compare/traits/registry.ts'
import type { FbxReadOptions, FbxWriteOptions } from './options.ts'
import { readFbx } from './read-fbx.ts'
import { degreesOf } from './transform-chain.ts'
import { writeFbx } from './write-fbx.ts'

const MODELS = '/usr/share/assimp/models/FBX'
const FORMS: readonly Partial<FbxWriteOptions>[] = [{ version: 7400 }, { version: 7500 }, { form: 'text' }]
const back = (scene: Scene, write: Partial<FbxWriteOptions> = {}, read: Partial<FbxReadOptions> = {}) => {
  const { files, findings } = writeFbx(scene, 'x.fbx', write)
  const result = readFbx(files[0]!, files, read)
  return { ...result, written: findings, files }
}
const changed = (a: Scene, b: Scene) => {
  const [before, after] = [fingerprintScene(a), fingerprintScene(b)]
  return TRAITS.filter((trait) => before[trait] !== after[trait])
}
const text = (body: string): ReturnType<typeof readFbx> =>
  readFbx({ name: 'x.fbx', bytes: new TextEncoder().encode(body) })

describe('every file of the package: read, written, read', () => {
  const files = ['', 'embedded_ascii/'].flatMap((folder) =>
    readdirSync(join(MODELS, folder))
      .filter((name) => /\.fbx$/i.test(name) && name !== 'transparentTest.fbx')
      .map((name) => folder + name),
  )
  test.each(files)('%s', (name) => {
    const { scene } = readFbx({ name, bytes: readFileSync(join(MODELS, name)) })
    for (const form of FORMS) {
      const again = back(scene, form).scene
      expect(changed(scene, again)).toEqual([])
      expect(again.nodes.map((node) => [node.properties, node.role])).toEqual(
        scene.nodes.map((node) => [node.properties, node.role]),
      )
      expect(again.kept?.objects.length).toBe(scene.kept?.objects.length)
      expect(again.kept?.links.length).toBe(scene.kept?.links.length)
      // what was kept is kept to the last number: keys of animation, poses
      const numbers = (record: KeptRecord): unknown => [
        record.name,
        record.values
          .slice(record.name === 'CollectionExclusive' ? 2 : 0)
          .map((value) => (ArrayBuffer.isView(value) ? [...(value as Float64Array)] : value)),
        record.children.map(numbers),
      ]
      expect(again.kept?.objects.map(({ record }) => numbers(record))).toEqual(
        scene.kept?.objects.map(({ record }) => numbers(record)),
      )
    }
  })
})

describe('a chain of transforms is kept as it was, and the matrix stays exact', () => {
  const model = (rows: string) =>
    text(
      `; FBX 7.4.0\nFBXHeaderExtension: {\n FBXVersion: 7400\n}\nObjects: {\nModel: 1, "Model::arm", "Null" {\nProperties70: {\n${rows}\n}\n}\nModel: 2, "Model::hand", "Null" {\nProperties70: {\nP: "InheritType", "enum", "", "",2\nP: "Lcl Translation", "Lcl Translation", "", "A",5,0,0\nP: "Lcl Rotation", "Lcl Rotation", "", "A",0,0,30\n}\n}\n}\nConnections: {\nC: "OO",1,0\nC: "OO",2,1\n}\n`,
    ).scene
  const arm = model(
    'P: "RotationOrder", "enum", "", "",4\nP: "PreRotation", "Vector3D", "Vector", "",-90,0,12.345\nP: "RotationPivot", "Vector3D", "Vector", "",1,2,3\nP: "ScalingPivot", "Vector3D", "Vector", "",0,0,7\nP: "Lcl Rotation", "Lcl Rotation", "", "A",10.1,20.2,30.3\nP: "Lcl Scaling", "Lcl Scaling", "", "A",2,3,4\nP: "strength", "Number", "", "AU",0.5\nP: "Freeze", "bool", "", "",1',
  )
  test.each(FORMS)('%j', (form) => {
    const again = back(arm, form).scene
    expect(again.nodes.map((node) => [node.local, node.transform, node.properties, node.kept])).toEqual(
      arm.nodes.map((node) => [node.local, node.transform, node.properties, node.kept]),
    )
  })
  test('the child takes no scale of its parent’s', () => {
    const [, hand] = worldMatrices(arm)
    const length = (at: number): number => Math.hypot(hand![at]!, hand![at + 1]!, hand![at + 2]!)
    expect(length(0)).toBeCloseTo(1, 12)
    expect(length(4)).toBeCloseTo(1, 12)
    // but stands where the scaled parent puts it
    const [world] = worldMatrices(arm)
    const place = multiplyMatrices(world!, moved(5, 0, 0))
    for (const at of [12, 13, 14]) expect(hand![at]).toBeCloseTo(place[at]!, 12)
  })
  test('a part that was moved since is written by its matrix', () => {
    const shifted = { ...arm, nodes: arm.nodes.map((node) => ({ ...node, local: moved(1, 1, 1) })) }
    const again = back(shifted).scene
    expect(again.nodes[0]!.local).toEqual(moved(1, 1, 1))
    expect(again.nodes[0]!.transform).toBeNull()
  })
  test('degrees come back to the digit', () => {
    for (const degrees of [12.345, -90, 0.1, 359.999, 1e-7])
      expect(degreesOf((degrees * Math.PI) / 180)).toBe(degrees)
  })
})

const shaped: Mesh = {
  ...cubeOf(),
  shapes: [
    {
      name: 'smile_half',
      channel: 'smile',
      fullWeight: 50,
      points: Uint32Array.of(0, 3),
      offsets: Float64Array.of(0.1, 0, 0, 0, 0.2, 0),
    },
    {
      name: 'smile_full',
      channel: 'smile',
      points: Uint32Array.of(0),
      offsets: Float64Array.of(0.5, 0, 0.25),
    },
    { name: 'blink', points: Uint32Array.of(7), offsets: Float64Array.of(0, -1, 0), weight: 25 },
  ],
  skin: {
    jointNodes: Int32Array.of(1, 2),
    jointBinds: Float64Array.from([...moved(0, 1, 0), ...moved(0, 2, 0)]),
    meshBinds: Float64Array.from([...moved(0, -1, 0), ...moved(0, -2, 0)]),
    offsets: Uint32Array.of(0, 2, 3, 3, 3, 3, 3, 3, 4),
    joints: Uint32Array.of(0, 1, 1, 0),
    weights: Float64Array.of(0.25, 0.75, 1, 1),
  },
}
const joint = (name: string, parent: number) => ({
  id: '',
  name,
  parent,
  mesh: -1,
  visible: true,
  local: moved(0, 1, 0),
  transform: null,
  properties: {},
  role: 'LimbNode',
})
const creature: Scene = (() => {
  const scene = sceneOf([shaped])
  return { ...scene, nodes: [...scene.nodes, joint('hip', -1), joint('knee', 1)] }
})()

describe('blend shapes and skins', () => {
  test.each(FORMS)('with in-betweens and where the joints were bound: %j', (form) => {
    const { scene } = back(creature, form)
    expect(scene.nodes.map((node) => [node.name, node.role])).toEqual([
      ['part_1', undefined],
      ['hip', 'LimbNode'],
      ['knee', 'LimbNode'],
    ])
    const plain = (mesh: Mesh) =>
      mesh.shapes.map((shape) => [
        shape.name,
        shape.channel ?? shape.name,
        shape.fullWeight ?? 100,
        shape.weight ?? 0,
        [...shape.points],
        [...shape.offsets],
      ])
    expect(plain(scene.meshes[0]!)).toEqual(plain(shaped))
    expect(scene.meshes[0]!.skin).toEqual(shaped.skin)
    expect(changed(creature, scene)).toEqual([])
  })
  test('left out where they are not asked for', () => {
    const { scene } = back(creature, { shapes: false })
    expect([scene.meshes[0]!.shapes.length, scene.meshes[0]!.skin]).toEqual([0, null])
  })
  test('a selection takes the joints that its skin hangs on, and what these hang on', () => {
    const more = { ...creature, nodes: [...creature.nodes, { ...joint('lost', -1), role: 'Null' }] }
    const { scene } = back(more, { selection: [0] })
    expect(scene.nodes.map((node) => node.name)).toEqual(['part_1', 'hip', 'knee'])
    expect([...scene.meshes[0]!.skin!.jointNodes]).toEqual([1, 2])
  })
  test('in another unit the bind follows', () => {
    const metric = { ...creature, space: { ...creature.space, unitMeters: 1 } }
    const { scene } = back(metric, { unitMeters: 0.01, unitAs: 'points' })
    expect(scene.meshes[0]!.shapes[1]!.offsets[0]).toBe(50)
    expect([...scene.meshes[0]!.skin!.jointBinds!.slice(12, 15)]).toEqual([0, 100, 0])
    // on the roots the world grows and the mesh stays where its joint sees it; axes turn both
    const rooted = back(metric, { unitMeters: 0.01, unitAs: 'roots', upAxis: 'z' }).scene.meshes[0]!.skin!
    expect([...rooted.jointBinds!.slice(12, 15)]).toEqual([0, 0, 100])
    expect([...rooted.meshBinds!.slice(12, 15)]).toEqual([0, 0, -1])
  })
})

describe('materials and their maps', () => {
  const rich: Scene = {
    ...sceneOf([{ ...cubeOf(), faceMaterials: new Int32Array(6) }]),
    format: 'fbx',
    materials: [
      {
        id: '',
        name: 'glaze',
        model: 'unknown',
        properties: [
          {
            name: 'Studio|base_color',
            values: [0.5, 0.25, 0.125],
            text: null,
            type: 'Color',
            label: '',
            flags: 'A',
          },
          { name: 'Studio|mode', values: [3], text: null, type: 'enum', label: '', flags: 'A' },
          { name: 'Studio|note', values: [], text: 'wet', type: 'KString', label: '', flags: '' },
        ],
        maps: [
          {
            property: 'Studio|base_color_map',
            slot: 'baseColor',
            file: 'maps/glaze.png',
            options: [],
            placement: {
              name: 'glaze colour',
              uvSet: 'second',
              wrapU: 'clamp',
              wrapV: 'repeat',
              scale: [2, 4],
              offset: [0.5, -0.25],
              kept: [{ name: 'UseMaterial', type: 'bool', label: '', flags: '', values: [1] }],
            },
          },
          ...[0, 1].map((at) => ({
            property: 'EmissiveColor',
            slot: 'emissive' as const,
            file: `maps/glow_${at}.png`,
            options: [],
            placement: {
              name: `glow ${at}`,
              uvSet: '',
              wrapU: 'repeat' as const,
              wrapV: 'repeat' as const,
              scale: [1, 1] as const,
              offset: [0, 0] as const,
              stack: { name: 'glow', blend: at ? 1 : 0, alpha: at ? 0.5 : 1 },
              kept: [],
            },
          })),
        ],
        kept: [],
      },
    ],
    images: [
      { file: 'maps/glaze.png', entry: 'maps/glaze.png', bytes: Uint8Array.of(1, 2, 3, 250, 0, 7) },
      ...[0, 1].map((at) => ({ file: `maps/glow_${at}.png`, entry: null, bytes: null })),
    ],
  }
  const withoutSource = (scene: Scene) =>
    scene.materials.map(({ source: _own, ...material }) => ({
      ...material,
      maps: material.maps.map(({ placement, ...map }) => {
        const { source: _texture, ...rest } = placement!
        return { ...map, placement: rest }
      }),
    }))
  test.each(FORMS)('properties of any vendor’s set, places of maps, stacks: %j', (form) => {
    expect(withoutSource(back(rich, form).scene)).toEqual(rich.materials)
  })
  test.each(FORMS)('an image in the file itself: %j', (form) => {
    const { scene, files } = back(rich, { ...form, embedMaps: true })
    expect(files.map((file) => file.name)).toEqual(['x.fbx'])
    expect([...scene.images[0]!.bytes!]).toEqual([1, 2, 3, 250, 0, 7])
    // and goes back into the next file without being asked
    expect(back(scene, form).files).toHaveLength(1)
  })
  test('an image in fragments, in base 64', () => {
    const { scene } = text(
      '; FBX 7.4.0\nFBXHeaderExtension: {\n FBXVersion: 7400\n}\nObjects: {\nMaterial: 1, "Material::m", "" {\n}\nTexture: 2, "Texture::t", "" {\nRelativeFilename: "a.png"\n}\nVideo: 3, "Video::v", "Clip" {\nContent: ,\n "AQID",\n "+gAH"\n}\n}\nConnections: {\nC: "OP",2,1,"Bump"\nC: "OO",3,2\n}\n',
    )
    expect([...scene.images[0]!.bytes!]).toEqual([1, 2, 3, 250, 0, 7])
    expect(scene.materials[0]!.maps[0]!.slot).toBe('bump')
  })
  test('one texture of two materials is written once', () => {
    const second = { ...rich.materials[0]!, name: 'glaze two' }
    const { files } = back({ ...rich, materials: [...rich.materials, second] }, { form: 'text' })
    const body = new TextDecoder().decode(files[0]!.bytes)
    expect(body.match(/Texture::glaze colour", ""/g)).toHaveLength(1)
  })
})

describe('layers that Kelbo carries', () => {
  const grid = gridOf(2, 2)
  const layered: Mesh = {
    ...grid,
    layers: [
      {
        kind: 'tangents',
        name: 'map',
        per: 'corners',
        width: 3,
        values: Float64Array.of(1, 0, 0, 0, 1, 0),
        indices: Int32Array.from({ length: 16 }, (_value, at) => at % 2),
        edgePoints: null,
        whole: false,
      },
      {
        kind: 'holes',
        name: '',
        per: 'faces',
        width: 1,
        values: Float64Array.of(0, 1, 0, 0),
        indices: null,
        edgePoints: null,
        whole: true,
      },
      {
        kind: 'visibility',
        name: '',
        per: 'edges',
        width: 1,
        values: Float64Array.from({ length: 12 }, (_value, at) => at % 2),
        indices: null,
        edgePoints: Uint32Array.from(
          [[0, 1], [1, 4], [4, 3], [3, 0], [1, 2], [2, 5], [5, 4], [4, 7], [7, 6], [6, 3], [5, 8], [8, 7]].flat(),
        ), // prettier-ignore
        whole: true,
      },
    ],
  }
  const kindsOf = (scene: Scene): (string | undefined)[] =>
    scene.meshes[0]!.layers?.map((layer) => layer.kind) ?? []
  test.each(FORMS)('come back: %j', (form) => {
    const again = back(sceneOf([layered]), form).scene.meshes[0]!.layers!
    expect(again.slice(0, 2)).toEqual(layered.layers!.slice(0, 2))
    const edges = (layer: (typeof again)[number]): string[] =>
      [...layer.values]
        .map((value, at) => `${[...layer.edgePoints!.subarray(2 * at, 2 * at + 2)].sort()} ${value}`)
        .sort()
    expect(edges(again[2]!)).toEqual(edges(layered.layers![2]!))
  })
  test('a step that changes polygons drops them, one that changes UVs the directions alone', () => {
    const cut = runStep(sceneOf([layered]), { step: 'triangulate', params: {} }).scene
    expect(kindsOf(cut)).toEqual([])
    const renamed = runStep(sceneOf([layered]), { step: 'set-normals', params: {} }).scene
    expect(kindsOf(renamed)).toEqual(['holes', 'visibility'])
    const named = runStep(sceneOf([layered]), { step: 'rename-parts', params: { pattern: 'tile' } }).scene
    expect(kindsOf(named)).toEqual(['tangents', 'holes', 'visibility'])
  })
  test('a subdivision rule and its levels', () => {
    const subdivision = {
      scheme: 'catmull-clark',
      levels: 2,
      renderLevels: 3,
      boundary: 'edge-only',
    } as const
    expect(back(sceneOf([{ ...grid, subdivision }])).scene.meshes[0]!.subdivision).toEqual(subdivision)
  })
})

test('cameras and lights, with all their properties', () => {
  const scene: Scene = {
    ...withNodes(sceneOf([cubeOf()]), () => ({})),
    cameras: [{ name: 'eye', node: 1, properties: { FieldOfView: 35.5, CameraFormat: 0 } }],
    lights: [{ name: 'lamp', node: 2, properties: { Intensity: 250, Color: [1, 0.5, 0.25] } }],
  }
  const placed: Scene = {
    ...scene,
    nodes: [...scene.nodes, { ...joint('eye', -1), role: 'Camera' }, { ...joint('lamp', -1), role: 'Light' }],
  }
  for (const form of FORMS) {
    const again = back(placed, form).scene
    expect(again.cameras.map(({ name, node, properties }) => ({ name, node, properties }))).toEqual(
      placed.cameras,
    )
    expect(again.lights.map(({ name, node, properties }) => ({ name, node, properties }))).toEqual(
      placed.lights,
    )
    expect(back(again, form).scene.cameras).toEqual(again.cameras)
  }
  const without = back(placed, { cameras: false, lights: false }).scene
  expect(without.nodes.map((node) => node.name)).toEqual(['part_1'])
})

test('one mesh of several nodes is one geometry', () => {
  const scene = sceneOf([cubeOf()])
  const twins = {
    ...scene,
    nodes: [scene.nodes[0]!, { ...scene.nodes[0]!, name: 'twin', local: moved(5, 0, 0) }],
  }
  const again = back(twins).scene
  expect([again.meshes.length, again.nodes.map((node) => node.mesh)]).toEqual([1, [0, 0]])
})

test('a pose without some of its nodes', () => {
  const { scene } = readFbx({ name: 'a.fbx', bytes: readFileSync(join(MODELS, 'huesitos.fbx')) })
  const bones = scene.nodes.flatMap((node, at) => (node.role ? [at] : []))
  const less = { ...scene, nodes: scene.nodes.slice(0, bones[3]!) }
  const poseOf = (of: Scene): string[] =>
    of
      .kept!.objects.find(({ record }) => record.name === 'Pose')!
      .record.children.filter((child) => child.name === 'PoseNode')
      .map((child) => String(child.children.find((entry) => entry.name === 'Node')!.values[0]))
  const { scene: again } = back({ ...less, meshes: less.meshes.map((mesh) => ({ ...mesh, skin: null })) })
  const there = poseOf(scene).filter((id) => less.nodes.some((node) => node.source === id))
  expect(there.length).toBeLessThan(poseOf(scene).length)
  expect(poseOf(again)).toEqual(there)
})

test('a wrong checksum in a compressed array is said with its byte, and the numbers are read', () => {
  const { files } = writeFbx(sceneOf([gridOf(20, 20)]), 'x.fbx')
  const bytes = Uint8Array.from(files[0]!.bytes)
  const points = gridOf(20, 20).points
  const packed = deflateSync(new Uint8Array(points.buffer), { level: 1 })
  expect(readFbx({ name: 'x.fbx', bytes }).findings).toEqual([])
  // the array of points is the first one: its packed length stands behind its count and its kind
  const view = new DataView(bytes.buffer)
  let at = 0
  while (!(bytes[at] === 100 && view.getUint32(at + 1, true) === points.length)) at++
  const end = at + 13 + view.getUint32(at + 9, true)
  expect(packed.length).toBeGreaterThan(100)
  bytes[end - 1]! ^= 0xff
  const { scene, findings } = readFbx({ name: 'x.fbx', bytes })
  expect(findings.map((finding) => [finding.code, finding.byte])).toEqual([['fbx.checksum', at + 1]])
  expect([...scene.meshes[0]!.points]).toEqual([...points])
  // an array that can't be unpacked at all leaves the rest readable
  bytes.fill(0x55, at + 14, end)
  const broken = readFbx({ name: 'x.fbx', bytes })
  expect(broken.findings.map((finding) => finding.code)).toContain('fbx.damaged')
  expect(broken.scene.nodes.map((node) => node.name)).toEqual(['part_1'])
})

test('a material without a name of its own model is understood in MTL’s words', () => {
  const scene = {
    ...sceneOf([{ ...cubeOf(), faceMaterials: new Int32Array(6) }]),
    materials: [materialOf('tin')],
  }
  expect(back(scene).scene.materials[0]!.model).toBe('phong')
})

test('text is read alike with blanks and tabs behind every colon, and with none', () => {
  const text = new TextDecoder('latin1').decode(writeFbx(creature, 'x.fbx', { form: 'text' }).files[0]!.bytes)
  const read = (own: string) => {
    const file = { name: 'x.fbx', bytes: Uint8Array.from(own, (letter) => letter.charCodeAt(0)) }
    return readFbx(file, [file]).scene
  }
  // a colon behind a word at the beginning of a line names a record
  const spaced = text.replace(/^(\s*\w+):[ \t]*/gm, '$1: \t  ')
  const dense = text.replace(/^(\s*\w+):[ \t]*(?=\S)/gm, '$1:')
  const plain = read(text)
  for (const other of [spaced, dense, `${text} `, text.trimEnd()]) {
    expect(changed(plain, read(other))).toEqual([])
    expect(read(other).nodes.map(({ name, local }) => [name, local])).toEqual(
      plain.nodes.map(({ name, local }) => [name, local]),
    )
  }
})
