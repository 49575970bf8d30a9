/** What a scene has beside its polygons, written and read: materials of every model, maps, skins, animation, cameras, lights. */
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, materialOf, sceneOf } from '../../../../tests/solids.ts'
import { validatorComplaints } from '../../../../tests/gltf-validator.ts'
import { referenceBytes } from '../../../../tests/reference/reference.ts'
import { transformScene } from '../../mesh/rebuilding/transform-scene.ts'
import { clothNormals, clothMap } from '../../practice/demo/demo-maps.ts'
import { bareMaterial } from '../../scene/bare-material.ts'
import type { Material, MaterialMap } from '../../scene/material.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX, plainNode, type Scene } from '../../scene/scene.ts'
import { surfaceModelNamed } from '../../surfaces/registry.ts'
import { MAPS, VALUES } from './material-words.ts'
import type { GltfWriteOptions } from './options.ts'
import { readGltf } from './read-gltf.ts'
import { writeGltf } from './write-gltf.ts'

const metres = { unitMeters: 1, upAxis: 'y', frontAxis: 'z', handedness: 'right' } as const
const written = (scene: Scene, options: Partial<GltfWriteOptions> = {}) => writeGltf(scene, 'x.glb', options)
const back = (result: ReturnType<typeof written>) => readGltf(result.files[0]!, result.files)
const document = ({ files }: ReturnType<typeof written>) => {
  const { bytes } = files[0]!
  const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(12, true)
  return JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + length))) as Record<string, never>
}
const MODELS = '/usr/share/assimp/models/glTF2'
const model = (path: string) => ({
  name: path.split('/').pop()!,
  bytes: new Uint8Array(readFileSync(join(MODELS, path))),
})

describe('materials', () => {
  const gltf = surfaceModelNamed('gltf')
  const image = (file: string, bytes: Uint8Array | null) => ({ file, entry: bytes && file, bytes })
  const onCube = (materials: readonly Material[], images: Scene['images'] = []): Scene =>
    sceneOf([{ ...cubeOf(), faceMaterials: Int32Array.of(0, 0, 0, 0, 0, 0) }], {
      materials,
      images,
      space: metres,
    })
  const map = (property: string, slot: MaterialMap['slot'], file: string): MaterialMap => ({
    property,
    slot,
    file,
    options: [],
  })

  test('every value of every ratified extension comes back as it was stated, and nothing else', async () => {
    const number = (name: string, width: number): number[] =>
      Array.from({ length: width }, (_none, at) => 0.25 + at / 8 + (/ior/.test(name) ? 1 : 0))
    const properties = VALUES.filter(({ at }) => !/Texture$/.test(at)).flatMap(({ name, width }) =>
      width === 0
        ? [{ name, values: [1], text: null }]
        : width === 4
          ? [
              { name, values: number(name, 3), text: null },
              { name: 'alpha', values: [0.5], text: null },
            ]
          : [{ name, values: number(name, width), text: null }],
    )
    properties.push({ name: 'alpha_mode', values: [], text: 'MASK' as never })
    // a volume that is seen from inside is one that the validator warns of
    const without = (word: RegExp) => properties.filter(({ name }) => !word.test(name))
    for (const own of [without(/double_sided/), without(/thickness$|attenuation|dispersion/)]) {
      const result = written(onCube([{ ...bareMaterial('all', gltf.materialModel), properties: own }]))
      expect(await validatorComplaints(result.files)).toEqual([])
      const [read] = back(result).scene.materials
      const sorted = (list: readonly { name: string }[]) =>
        [...list].sort((a, b) => (a.name < b.name ? -1 : 1))
      expect(sorted(read!.properties)).toEqual(sorted(own))
      expect(read!.model).toBe(gltf.materialModel)
    }
  })
  test('every map in its place, by the parameters that read it', async () => {
    const maps = MAPS.flatMap(({ word }) =>
      gltf.parameters
        .filter(({ mapName, slot }) => mapName === word && slot !== 'opacity')
        .map(({ slot }) => map(word, slot!, `${word}.png`)),
    )
    const files = [...new Set(maps.map(({ file }) => file))]
    const scene = onCube(
      [{ ...bareMaterial('all', gltf.materialModel), maps }],
      files.map((file) => image(file, clothNormals())),
    )
    const result = written(scene)
    expect(await validatorComplaints(result.files)).toEqual([])
    const read = back(result).scene
    expect(read.materials[0]!.maps).toEqual(maps)
    expect(read.images.map(({ file }) => file)).toEqual(files)
    expect(read.images.every(({ bytes }) => Buffer.from(bytes!).equals(Buffer.from(clothNormals())))).toBe(
      true,
    )
  })
  test('how a map lies: the set, scale, place, border; turned and mirrored as they came', () => {
    const { scene } = readGltf(model('textureTransform/TextureTransformTest.gltf'), [])
    const again = back(written(scene)).scene
    expect(again.materials.map(({ maps }) => maps)).toEqual(scene.materials.map(({ maps }) => maps))
    const { maps } = scene.materials.find(({ name }) => /Rotation/i.test(name))!
    expect(String(maps[0]!.placement!.kept.find(({ name }) => name === 'transform')!.values[0])).toContain(
      'rotation',
    )
  })
  test('a material of another model is said in glTF’s words, and is itself again on the way back', () => {
    const phong = materialOf('paint', {
      model: 'phong',
      properties: [
        { name: 'DiffuseColor', values: [0.8, 0.1, 0.1], text: null },
        { name: 'Shininess', values: [40], text: null },
        { name: 'Studio|wear', values: [0.3], text: null },
      ],
      maps: [map('DiffuseColor', 'baseColor', 'paint.png')],
    })
    const result = written(onCube([phong], [image('paint.png', clothMap())]))
    const [json] = document(result).materials as { pbrMetallicRoughness: { roughnessFactor: number } }[]
    expect(json!.pbrMetallicRoughness).toHaveProperty('baseColorTexture')
    expect(json!.pbrMetallicRoughness.roughnessFactor).toBeGreaterThan(0.1)
    const { source: _source, ...read } = back(result).scene.materials[0]!
    expect(read).toEqual(phong)
  })
  test('once a tool has changed what it knows, what it says counts', () => {
    const phong = materialOf('paint', {
      model: 'phong',
      properties: [{ name: 'DiffuseColor', values: [0.8, 0.1, 0.1], text: null }],
    })
    const { files } = writeGltf(onCube([phong]), 'x.gltf', { form: 'inside' })
    const text = new TextDecoder().decode(files[0]!.bytes)
    const changed = text.replace(/"baseColorFactor": \[\s*0.8/, '"baseColorFactor": [0.2')
    expect(changed).not.toBe(text)
    const { scene } = readGltf({ name: 'x.gltf', bytes: new TextEncoder().encode(changed) }, [])
    expect(scene.materials[0]!.model).toBe(gltf.materialModel)
    expect(scene.materials[0]!.properties.find(({ name }) => name === 'base_color')!.values).toEqual([
      0.2, 0.1, 0.1,
    ])
  })
  test('a map that would have to be made anew, and an image that glTF doesn’t take, are told', () => {
    const mtl = materialOf('brass', {
      maps: [map('map_Kd', 'baseColor', 'brass.tif'), map('map_Pr', 'roughness', 'rough.png')],
    })
    const result = written(
      onCube(
        [mtl],
        [image('brass.tif', referenceBytes('images/tiff8-rgb-lzw.tif')), image('rough.png', clothMap())],
      ),
    )
    expect(result.findings.map(({ code, parameters }) => [code, parameters.file])).toEqual([
      ['gltf.map-channels', 'rough.png'],
      ['gltf.image-kind', 'brass.tif'],
    ])
    // neither is in the file: they are in the master alone
    const [read] = back(result).scene.materials
    expect([read!.model, read!.maps]).toEqual(['mtl', []])
  })
  test('an extension that nobody knows stays with its material, one that names places in the file doesn’t', () => {
    const file = JSON.stringify({
      asset: { version: '2.0' },
      nodes: [{ name: 'n' }],
      materials: [
        {
          name: 'm',
          extensions: { KHR_materials_unlit: {}, EXT_dust: { texture: { index: 3 } } },
          extras: { price: 4 },
        },
      ],
    })
    const { scene, findings } = readGltf({ name: 'x.gltf', bytes: new TextEncoder().encode(file) }, [])
    expect(findings.map(({ code }) => code)).toEqual(['gltf.extension-left'])
    const [again] = document(written(scene)).materials as object[]
    expect(again).toEqual({ name: 'm', extensions: { KHR_materials_unlit: {} }, extras: { price: 4 } })
  })
})

describe('what moves', () => {
  test('a skin: joints, weights and binds, through the file and again', async () => {
    const { scene } = readGltf(model('simple_skin/simple_skin.gltf'), [])
    const again = written(scene)
    expect(await validatorComplaints(again.files)).toEqual([])
    expect(back(again).scene.meshes[0]!.skin).toEqual(scene.meshes[0]!.skin)
    // two of its ten points hang on one joint, and each has weights that make one
    const { offsets, weights } = scene.meshes[0]!.skin!
    expect([...offsets.subarray(0, 3)]).toEqual([0, 1, 2])
    expect(weights.reduce((sum, weight) => sum + weight, 0)).toBeCloseTo(10, 6)
  })
  test('animation is kept, said, and written back as it came', async () => {
    for (const path of [
      'simple_skin/simple_skin.gltf',
      'glTF-Sample-Models/AnimatedMorphCube-glTF/AnimatedMorphCube.gltf',
    ]) {
      const folder = path.split('/').slice(0, -1).join('/')
      const files = [
        model(path),
        ...(path.includes('Morph') ? [model(`${folder}/AnimatedMorphCube.bin`)] : []),
      ]
      const { scene, findings } = readGltf(files[0]!, files)
      expect(findings.map(({ code }) => code)).toContain('gltf.kept')
      const again = written(scene)
      expect(await validatorComplaints(again.files)).toEqual([])
      const read = back(again).scene
      expect(read.kept!.sections).toEqual(scene.kept!.sections)
      expect(read.meshes.map(({ shapes }) => shapes)).toEqual(scene.meshes.map(({ shapes }) => shapes))
    }
  })
  test('keys that move grow with the scene; after a turn they are left out and that is said', () => {
    const moving = readGltf(
      {
        name: 'x.gltf',
        bytes: new TextEncoder().encode(
          JSON.stringify({
            asset: { version: '2.0' },
            nodes: [{ name: 'n' }],
            animations: [
              {
                name: 'walk',
                samplers: [{ input: 0, output: 1 }],
                channels: [{ sampler: 0, target: { node: 0, path: 'translation' } }],
              },
            ],
            accessors: [
              { bufferView: 0, componentType: 5126, count: 1, type: 'SCALAR' },
              { bufferView: 1, componentType: 5126, count: 1, type: 'VEC3' },
            ],
            bufferViews: [
              { buffer: 0, byteLength: 4 },
              { buffer: 0, byteOffset: 4, byteLength: 12 },
            ],
            buffers: [
              {
                byteLength: 16,
                uri: `data:;base64,${Buffer.from(Float32Array.of(0, 1, 2, 3).buffer).toString('base64')}`,
              },
            ],
          }),
        ),
      },
      [],
    ).scene
    const larger = transformScene(moving, IDENTITY_MATRIX, 2)
    const [record] = back(written({ ...larger, space: metres })).scene.kept!.sections[0]!.children
    expect([...(record!.values[5] as Float64Array)]).toEqual([2, 4, 6])
    const turned = transformScene(moving, [0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1], 1)
    const result = written({ ...turned, space: metres })
    expect(result.findings.map(({ code }) => code)).toContain('write.not-converted')
    expect(document(result)).not.toHaveProperty('animations')
  })
})

describe('cameras and lights', () => {
  test('in the format’s own words they come back as they were', async () => {
    const scene = sceneOf([cubeOf()], { space: metres })
    const nodes = ['eye', 'flat eye', 'lamp', 'sun', 'cone'].map((name) => plainNode(name))
    const full: Scene = {
      ...scene,
      nodes: [...scene.nodes, ...nodes],
      cameras: [
        {
          name: 'eye',
          node: 1,
          properties: { type: 'perspective', yfov: 0.75, znear: 0.125, zfar: 50, aspectRatio: 1.5 },
        },
        {
          name: 'flat',
          node: 2,
          properties: { type: 'orthographic', xmag: 2, ymag: 3, znear: 0.5, zfar: 40 },
        },
      ],
      lights: [
        {
          name: 'lamp',
          node: 3,
          properties: { type: 'point', color: [1, 0.5, 0.25], intensity: 40, range: 8 },
        },
        { name: 'sun', node: 4, properties: { type: 'directional', intensity: 3 } },
        { name: 'cone', node: 5, properties: { type: 'spot', innerConeAngle: 0.25, outerConeAngle: 0.5 } },
      ],
    }
    const result = written(full)
    expect(await validatorComplaints(result.files)).toEqual([])
    const read = back(result).scene
    expect(read.cameras).toEqual(full.cameras)
    expect(read.lights).toEqual(full.lights)
    const without = written(full, { cameras: false, lights: false })
    expect([back(without).scene.cameras, back(without).scene.lights]).toEqual([[], []])
  })
  test('those of other files are read by their names: degrees, and distances in the scene’s unit', () => {
    const scene = sceneOf([cubeOf()], { space: { ...metres, unitMeters: 0.01 } })
    const full: Scene = {
      ...scene,
      nodes: [...scene.nodes, plainNode('eye'), plainNode('spot')],
      cameras: [{ name: 'eye', node: 1, properties: { FieldOfViewY: 90, NearPlane: 10, FarPlane: 1000 } }],
      lights: [
        {
          name: 'spot',
          node: 2,
          properties: { LightType: 2, OuterAngle: 60, Color: [1, 1, 0], Intensity: 100 },
        },
      ],
    }
    const { cameras, extensions } = document(written(full)) as unknown as {
      cameras: { perspective: Record<string, number> }[]
      extensions: { KHR_lights_punctual: { lights: Record<string, unknown>[] } }
    }
    expect(cameras[0]!.perspective.yfov).toBeCloseTo(Math.PI / 2, 12)
    expect([cameras[0]!.perspective.znear, cameras[0]!.perspective.zfar]).toEqual([0.1, 10])
    const [light] = extensions.KHR_lights_punctual.lights
    expect(light).toMatchObject({ type: 'spot', color: [1, 1, 0] })
    expect((light!.spot as Record<string, number>).outerConeAngle).toBeCloseTo(Math.PI / 6, 12)
    // per cent of nobody knows what are no candela
    expect(light).not.toHaveProperty('intensity')
  })
})

describe('polygons', () => {
  const points = (list: readonly (readonly number[])[]): Float64Array => Float64Array.from(list.flat())
  const polygon = (list: readonly (readonly number[])[], more: Partial<Mesh> = {}): Mesh => ({
    ...gridOf(1, 1),
    name: 'p',
    points: points(list),
    faceOffsets: Uint32Array.of(0, list.length),
    faceVertices: Uint32Array.from(list.keys()),
    uvSets: [],
    ...more,
  })
  /** Area of all triangles of a file, which is the polygon's own where they cover it once. */
  function areaOf(result: ReturnType<typeof written>): number {
    const { scene } = readGltf(result.files[0]!, [])
    const bare = JSON.parse(JSON.stringify(document(result)), (key: string, value: unknown) =>
      key === 'extras' || key === 'extensions' ? undefined : value,
    ) as { meshes: { primitives: { indices: number }[] }[] }
    expect(bare.meshes).toHaveLength(1)
    const file = writeGltf(scene, 'x.glb', { polygons: false }).files[0]!
    const { points: own, faceVertices } = readGltf(file, [], { join: false }).scene.meshes[0]!
    let area = 0
    for (let at = 0; at < faceVertices.length; at += 3) {
      const [a, b, c] = [0, 1, 2].map((k) =>
        own.subarray(3 * faceVertices[at + k]!, 3 * faceVertices[at + k]! + 2),
      )
      area += ((b![0]! - a![0]!) * (c![1]! - a![1]!) - (c![0]! - a![0]!) * (b![1]! - a![1]!)) / 2
    }
    return area
  }
  test.each([
    ['an arrow', [[0, 0, 0], [2, 0, 0], [0.5, 0.5, 0], [0, 2, 0]], 1], // prettier-ignore
    ['a U, which is no fan from anywhere', [[0, 0, 0], [3, 0, 0], [3, 3, 0], [2, 3, 0], [2, 1, 0], [1, 1, 0], [1, 3, 0], [0, 3, 0]], 7], // prettier-ignore
    ['a corner on a straight side', [[0, 0, 0], [1, 0, 0], [2, 0, 0], [2, 1, 0], [0, 1, 0]], 2], // prettier-ignore
  ] as const)('%s is cut into what covers it once, and is whole again', (_name, list, area) => {
    const result = written(sceneOf([polygon(list)], { space: metres }))
    const [mesh] = back(result).scene.meshes
    expect([...mesh!.faceOffsets]).toEqual([0, list.length])
    expect([...mesh!.faceVertices]).toEqual([...list.keys()])
    expect(areaOf(result)).toBeCloseTo(area, 6)
  })
  test('two polygons in a row that begin at one point are two', () => {
    const fan = polygon([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0], [-1, 1, 0], [-1, 0, 0]], {
      faceOffsets: Uint32Array.of(0, 4, 8),
      faceVertices: Uint32Array.of(0, 1, 2, 3, 0, 3, 4, 5),
    }) // prettier-ignore
    const result = written(sceneOf([fan], { space: metres }))
    expect([...back(result).scene.meshes[0]!.faceVertices]).toEqual([0, 1, 2, 3, 0, 3, 4, 5])
  })
  test('what a file was split at is joined when its notes are gone', () => {
    const { files } = writeGltf(sceneOf([cubeOf()], { space: metres }), 'x.gltf', { form: 'inside' })
    const bare = JSON.stringify(
      JSON.parse(new TextDecoder().decode(files[0]!.bytes), (key: string, value: unknown) =>
        key === 'extras' || key.startsWith('_') ? undefined : value,
      ),
    )
    const file = { name: 'x.gltf', bytes: new TextEncoder().encode(bare) }
    const joined = readGltf(file, [])
    expect(joined.scene.meshes[0]!.points).toHaveLength(24)
    expect(joined.findings.map(({ code }) => code)).toEqual(['gltf.joined'])
    const apart = readGltf(file, [], { join: false })
    expect(apart.scene.meshes[0]!.points.length).toBeGreaterThan(24)
    expect(apart.findings).toEqual([])
  })
})
