/** Base colour and metalness as diffuse and specular colour, and back, pixel by pixel. */
import { describe, expect, test } from 'vitest'
import { QUIET } from '../../src/app/host.ts'
import { remapModel, type RemappedModel } from '../../src/app/remap-model.ts'
import { readPng } from '../../src/core/image/codecs/read-png.ts'
import { writePng } from '../../src/core/image/codecs/write-png.ts'
import { decodeSrgb, encodeSrgb } from '../../src/core/image/transfer.ts'
import { imageFiles } from '../../src/core/scene/image-tiles.ts'
import { EMPTY_SCENE, type Scene } from '../../src/core/scene/scene.ts'
import { ONE_MAP_DEFAULTS } from '../../src/core/surfaces/one-map/options.ts'
import { surfaceModelNamed } from '../../src/core/surfaces/registry.ts'
import type { RemapRules } from '../../src/core/surfaces/remap/rules.ts'
import { NODE_HOST } from '../../src/host/node-host.ts'
import { reference } from '../reference/reference.ts'
import { gridOf, sceneOf } from '../solids.ts'

const scene = (model = 'mtl'): Scene => ({
  ...EMPTY_SCENE,
  materials: [{ id: 'm', name: 'brass', model, properties: [], maps: [], kept: [] }],
})
const png = (channels: 1 | 3, side: number, values: readonly number[]): Uint8Array =>
  writePng({ width: side, height: side, channels, pixels: Uint8Array.from(values) })
const remap = (
  surface: string,
  files: Readonly<Record<string, Uint8Array>>,
  rules: RemapRules = { rules: [] },
  own = scene(),
): Promise<RemappedModel> =>
  remapModel(
    own,
    {
      target: surfaceModelNamed(surface),
      files: Object.entries(files).map(([name, bytes]) => ({ name, bytes })),
      rules,
      stem: 'model',
      makes: true,
    },
    QUIET,
    NODE_HOST,
  )
const rowOf = (model: RemappedModel, parameter: string) =>
  model.plan.materials[0]!.parameters.find((row) => row.parameter === parameter)!
const pixelsOf = (model: RemappedModel, parameter: string, label: string | null = null) => {
  const { map } = rowOf(model, parameter)
  const image = model.scene.images.find(({ file }) => file === map?.file)
  return readPng(imageFiles(image).find((one) => one.label === label)!.bytes)!
}
const SIDE = 32
let state = 7
const random = (): number => {
  state = (Math.imul(state, 1664525) + 1013904223) >>> 0
  return state / 4294967296
}
const colors = Array.from({ length: SIDE * SIDE * 3 }, () => Math.floor(random() * 256))
const metals = Array.from(
  { length: SIDE * SIDE },
  (_, at) => [0, 255, 0, Math.floor(random() * 256)][at % 4]!,
)

describe('metalness for what has none', () => {
  test('glTF specular-glossiness: diffuse and reflectance of every pixel, by the formulas of the Khronos example', async () => {
    const model = await remap('gltf-specular-glossiness', {
      'brass_BaseColor.png': png(3, SIDE, colors),
      'brass_Metalness.png': png(1, SIDE, metals),
      'brass_Roughness.png': png(1, 1, [60]),
    })
    expect(model.sheets[0]!.lost).toEqual([])
    const diffuse = pixelsOf(model, 'diffuseFactor')
    const specular = pixelsOf(model, 'specularFactor')
    // gloss goes along in its fourth channel
    expect(specular.channels).toBe(4)
    let worst = 0
    for (let at = 0; at < SIDE * SIDE; at++) {
      const metal = metals[at]! / 255
      const base = [0, 1, 2].map((channel) => decodeSrgb(colors[3 * at + channel]! / 255))
      const f0 = base.map((one) => 0.04 * (1 - metal) + one * metal)
      const strength = 1 - Math.max(...f0)
      base.forEach((one, channel) => {
        const own = strength < 1e-6 ? 0 : (one * 0.96 * (1 - metal)) / strength
        worst = Math.max(
          worst,
          Math.abs(diffuse.values[diffuse.channels * at + channel]! - 255 * encodeSrgb(own)),
          Math.abs(specular.values[4 * at + channel]! - 255 * encodeSrgb(f0[channel]!)),
        )
      })
      expect(specular.values[4 * at + 3]).toBe(255 - 60)
    }
    expect(worst).toBeLessThan(1)
  })
  test('reflection and glossiness: a metal is black, reflects its colour, and its index is a map of its own', async () => {
    const model = await remap('reflection-glossiness', {
      'brass_BaseColor.png': png(3, 2, [200, 150, 50, 200, 150, 50, 10, 20, 30, 10, 20, 30]),
      'brass_Metalness.png': png(1, 2, [255, 0, 0, 255]),
    })
    const diffuse = pixelsOf(model, 'diffuse')
    expect([...diffuse.values.slice(0, 3)]).toEqual([0, 0, 0])
    expect([...diffuse.values.slice(3, 6)]).toEqual([200, 150, 50])
    const reflection = pixelsOf(model, 'reflection')
    expect([...reflection.values.slice(0, 6)]).toEqual([200, 150, 50, 255, 255, 255])
    const ior = pixelsOf(model, 'ior')
    const most = rowOf(model, 'ior').value as number
    expect(ior.bits).toBe(16)
    expect((ior.values[1]! / 65535) * most).toBeCloseTo(1.5, 2)
    expect((ior.values[0]! / 65535) * most).toBeCloseTo(most, 2)
  })
  test('images of several sizes, and tiles', async () => {
    const model = await remap('gltf-specular-glossiness', {
      'brass_BaseColor.1001.png': png(3, 4, new Array<number>(48).fill(255)),
      'brass_BaseColor.1002.png': png(3, 4, new Array<number>(48).fill(0)),
      'brass_Metalness.1001.png': png(1, 1, [255]),
      'brass_Metalness.1002.png': png(1, 1, [0]),
    })
    expect([...pixelsOf(model, 'diffuseFactor', '1001').values.slice(0, 3)]).toEqual([0, 0, 0])
    expect(pixelsOf(model, 'specularFactor', '1001').width).toBe(4)
    expect([...pixelsOf(model, 'specularFactor', '1001').values.slice(0, 3)]).toEqual([255, 255, 255])
    // 0.04 as it is stored
    expect(pixelsOf(model, 'specularFactor', '1002').values[0]).toBe(Math.round(255 * encodeSrgb(0.04)))
  })
  test('a part of it that can’t be read: none of it is made, and that is said', async () => {
    const model = await remap('gltf-specular-glossiness', {
      'brass_BaseColor.png': png(3, SIDE, colors),
      'brass_Metalness.png': png(1, SIDE, metals).slice(0, 400),
    })
    expect(model.findings.map(({ code }) => code)).toContain('remap.image-not-made')
    expect(rowOf(model, 'diffuseFactor').map).toBeNull()
  })
})

test('materials whose names a disk takes for one keep their own pixels', async () => {
  const own = {
    ...scene(),
    materials: ['Brass', 'brass'].map((name, at) => ({
      ...scene().materials[0]!,
      id: name,
      name,
      model: 'gltf_pbr',
      maps: [
        { property: 'baseColorTexture', slot: 'baseColor' as const, file: `${at}_c.png`, options: [] },
        {
          property: 'metallicRoughnessTexture',
          slot: 'metalness' as const,
          file: `${at}_m.png`,
          options: [],
        },
      ],
    })),
    images: [0, 1].flatMap((at) => [
      { file: `${at}_c.png`, entry: 'x', bytes: png(3, 1, at ? [200, 150, 50] : [10, 20, 30]) },
      { file: `${at}_m.png`, entry: 'x', bytes: png(3, 1, [0, 0, 255]) },
    ]),
  }
  const model = await remap('gltf-specular-glossiness', {}, { rules: [] }, own)
  const colors = model.plan.materials.map(({ parameters }) => {
    const file = parameters.find(({ parameter }) => parameter === 'specularFactor')!.map!.file
    return [
      ...readPng(imageFiles(model.scene.images.find((image) => image.file === file))[0]!.bytes)!.values.slice(
        0,
        3,
      ),
    ]
  })
  expect(colors).toEqual([
    [10, 20, 30],
    [200, 150, 50],
  ])
})

describe('diffuse and specular colour for what has metalness', () => {
  interface Case {
    diffuseFactor: number[]
    specularFactor: number[]
    glossinessFactor: number
    expected: { baseColor: number[]; metallic: number; roughness: number }
  }
  const { cases } = reference<{ cases: Case[] }>('materials/spec-gloss-to-metal-rough.json')
  test('the reference’s cases, one a pixel', async () => {
    const side = Math.ceil(Math.sqrt(cases.length))
    const fill = (of: (one: Case) => readonly number[]): number[] =>
      Array.from({ length: side * side }, (_, at) => of(cases[at] ?? cases[0]!)).flat()
    const stored = (values: readonly number[]): number[] =>
      values.map((one) => Math.round(255 * encodeSrgb(one)))
    const model = await remap('openpbr', {
      'brass_diffuse.png': png(
        3,
        side,
        fill((one) => stored(one.diffuseFactor)),
      ),
      'brass_specular.png': png(
        3,
        side,
        fill((one) => stored(one.specularFactor)),
      ),
      'brass_glossiness.png': png(
        1,
        side,
        fill((one) => [Math.round(255 * one.glossinessFactor)]),
      ),
    })
    const base = pixelsOf(model, 'base_color')
    const metal = pixelsOf(model, 'base_metalness')
    const rough = pixelsOf(model, 'specular_roughness')
    cases.forEach(({ expected }, at) => {
      // what 8 bits keep of the inputs moves the solved metalness by up to two steps
      expected.baseColor.forEach((one, channel) =>
        expect(
          Math.abs(base.values[base.channels * at + channel]! - 255 * encodeSrgb(one)),
          `case ${at}`,
        ).toBeLessThan(4),
      )
      expect(
        Math.abs(metal.values[metal.channels * at]! - 255 * expected.metallic),
        `case ${at}`,
      ).toBeLessThan(4)
      expect(Math.abs(rough.values[rough.channels * at]! - 255 * expected.roughness)).toBeLessThan(1.01)
    })
  })
  test('a grey map of specular beside metalness is no colour of it: it goes as it is', async () => {
    const model = await remap('standard-surface', {
      'brass_BaseColor.png': png(3, 2, new Array<number>(12).fill(9)),
      'brass_Metalness.png': png(1, 2, [0, 0, 0, 0]),
      'brass_specular.png': png(3, 2, new Array<number>(12).fill(9)),
    })
    expect(rowOf(model, 'metalness').map!.source!.file).toBe('brass_Metalness.png')
    expect(rowOf(model, 'base_color').map!.source!.file).toBe('brass_BaseColor.png')
  })
  test('drawn into one map with the rest', async () => {
    const own = sceneOf([gridOf(2, 2)])
    const model = await remap(
      'gltf-specular-glossiness',
      { 'brass_BaseColor.png': png(3, 1, [200, 150, 50]), 'brass_Metalness.png': png(1, 1, [255]) },
      { rules: [], oneMap: { ...ONE_MAP_DEFAULTS, size: 16 } },
      {
        ...own,
        materials: scene().materials,
        meshes: own.meshes.map((mesh) => ({
          ...mesh,
          faceMaterials: new Int32Array(mesh.faceOffsets.length - 1),
        })),
      },
    )
    const specular = pixelsOf(model, 'specularFactor')
    const middle = (8 * 16 + 8) * specular.channels
    expect([...specular.values.slice(middle, middle + 3)]).toEqual([200, 150, 50])
  })
})
