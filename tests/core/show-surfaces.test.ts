/** Both looks of a model: what the page draws is what would be written, made small. */
import sharp from 'sharp'
import { expect, test } from 'vitest'
import { QUIET } from '../../src/app/host.ts'
import { LOOK_PIXELS, showSurfaces } from '../../src/app/show-surfaces.ts'
import { buildCourierHeron } from '../../src/core/practice/demo/courier-heron.ts'
import { buildSignalKite } from '../../src/core/practice/demo/signal-kite.ts'
import { parseOwnModel } from '../../src/core/surfaces/own-model.ts'
import { SURFACE_MODELS, surfaceModelNamed } from '../../src/core/surfaces/registry.ts'
import { NO_RULES } from '../../src/core/surfaces/remap/rules.ts'
import { recogniseSurface } from '../../src/core/surfaces/recognise-surface.ts'
import { ONE_MAP_DEFAULTS } from '../../src/core/surfaces/one-map/options.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { decodeSrgb } from '../../src/core/image/transfer.ts'
import { NODE_HOST } from '../../src/host/node-host.ts'

const flat = async (side: number, color: readonly [number, number, number]): Promise<Uint8Array> =>
  new Uint8Array(
    await sharp({
      create: {
        width: side,
        height: side,
        channels: 3,
        background: { r: color[0], g: color[1], b: color[2] },
      },
    })
      .png()
      .toBuffer(),
  )
const folder = async (side: number) => [
  { name: 'plumage_BaseColor.png', bytes: await flat(side, [200, 100, 50]) },
  { name: 'plumage_Roughness.png', bytes: await flat(side, [64, 64, 64]) },
  { name: 'plumage_Metalness.png', bytes: await flat(side, [0, 0, 0]) },
  { name: 'plumage_Normal_DirectX.png', bytes: await flat(side, [128, 100, 240]) },
]
const pixelOf = async (scene: Scene, property: string): Promise<readonly number[]> => {
  const file = scene.materials[0]!.maps.find((map) => map.property === property)!.file
  const { bytes } = scene.images.find((image) => image.file === file)!
  return [...(await sharp(bytes!).raw().toBuffer()).subarray(0, 3)]
}
const widthOf = async (bytes: Uint8Array): Promise<number> => (await sharp(bytes).metadata()).width

test.each(SURFACE_MODELS.map(({ id }) => id).filter((id) => !id.startsWith('fbx') && id !== 'mtl'))(
  'a folder of maps, for %s: drawn as its files would show it',
  async (surface) => {
    const { before, after } = await showSurfaces(
      buildCourierHeron(),
      { target: surfaceModelNamed(surface), files: await folder(16), rules: NO_RULES },
      QUIET,
      NODE_HOST,
    )
    for (const scene of [before, after])
      for (const material of scene.materials) expect(recogniseSurface(material).model.id).toBe('gltf')
    // its own map as it came, none of the folder's
    expect(before.materials[0]!.maps.map(({ property }) => property)).toEqual(['baseColorTexture'])
    const color = await pixelOf(after, 'baseColorTexture')
    ;[200, 100, 50].forEach((value, at) => expect(Math.abs(color[at]! - value)).toBeLessThanOrEqual(2))
    const rough = await pixelOf(after, 'metallicRoughnessTexture')
    expect(Math.abs(rough[1]! - 64)).toBeLessThanOrEqual(1)
    expect(rough[2]).toBeLessThanOrEqual(1)
    // its green pointed down, as its name says; drawn it points up, through whatever lies between
    expect(Math.abs((await pixelOf(after, 'normalTexture'))[1]! - 155)).toBeLessThanOrEqual(1)
  },
)

test.each(SURFACE_MODELS.map(({ id }) => id).filter((id) => id !== 'fbx-lambert'))(
  'values that maps are multiplied by arrive in %s, whether it multiplies or not',
  async (surface) => {
    const heron = buildCourierHeron()
    const scene: Scene = {
      ...heron,
      materials: [
        {
          ...heron.materials[0]!,
          model: 'gltf_pbr',
          properties: [
            { name: 'base_color', values: [0.5, 0.25, 1], text: null },
            { name: 'metallic', values: [0], text: null },
            { name: 'roughness', values: [0.6], text: null },
          ],
          maps: [
            { property: 'baseColorTexture', slot: 'baseColor', file: 'c.png', options: [] },
            { property: 'metallicRoughnessTexture', slot: 'roughness', file: 'r.png', options: [] },
          ],
        },
        ...heron.materials.slice(1),
      ],
      images: [
        { file: 'c.png', entry: 'c.png', bytes: await flat(8, [200, 100, 50]) },
        { file: 'r.png', entry: 'r.png', bytes: await flat(8, [255, 128, 0]) },
      ],
    }
    const { before, after } = await showSurfaces(
      scene,
      { target: surfaceModelNamed(surface), files: [], rules: NO_RULES },
      QUIET,
      NODE_HOST,
    )
    const light = async (shown: Scene): Promise<number[]> => {
      const { values } = recogniseSurface(shown.materials[0]!)
      const factor = values['base_color'] as readonly number[]
      const color = (await pixelOf(shown, 'baseColorTexture')).map(
        (step, at) => decodeSrgb(step / 255) * factor[at]!,
      )
      const rough = (await pixelOf(shown, 'metallicRoughnessTexture'))[1]! / 255
      return [...color, rough * (values['roughness'] as number)]
    }
    const [own, became] = [await light(before), await light(after)]
    own.forEach((value, at) =>
      expect(Math.abs(value - became[at]!), `${own} became ${became}`).toBeLessThan(0.004),
    )
  },
)

test('a glossiness below 1 times its map is a roughness that never reaches nothing', async () => {
  const scene = buildCourierHeron()
  const [first] = scene.materials
  const shiny: Scene = {
    ...scene,
    materials: [
      {
        ...first!,
        model: 'gltf_specular_glossiness',
        properties: [
          { name: 'diffuseFactor', values: [1, 1, 1], text: null },
          { name: 'specularFactor', values: [0.04, 0.04, 0.04], text: null },
          { name: 'glossinessFactor', values: [0.5], text: null },
        ],
        maps: [
          { property: 'specularGlossinessTexture', slot: 'roughness', file: 'gloss.png', options: [] },
          { property: 'specularGlossinessTexture', slot: 'specular', file: 'gloss.png', options: [] },
        ],
      },
      ...scene.materials.slice(1),
    ],
    images: [
      {
        file: 'gloss.png',
        entry: 'gloss.png',
        bytes: new Uint8Array(
          await sharp({
            create: { width: 8, height: 8, channels: 4, background: { r: 255, g: 255, b: 255, alpha: 0.8 } },
          })
            .png()
            .toBuffer(),
        ),
      },
    ],
  }
  const { before } = await showSurfaces(
    shiny,
    { target: surfaceModelNamed('openpbr'), files: [], rules: NO_RULES },
    QUIET,
    NODE_HOST,
  )
  // 1 - 0.5 × 0.8
  expect(Math.abs((await pixelOf(before, 'metallicRoughnessTexture'))[1]! / 255 - 0.6)).toBeLessThan(0.005)
  const { values } = recogniseSurface(before.materials[0]!)
  expect(values['roughness']).toBe(1)
})

test.each(['gltf', 'gltf-specular-glossiness'])(
  'an opacity without a word for how it counts stays see-through in %s itself',
  async (surface) => {
    const heron = buildCourierHeron()
    const model = surfaceModelNamed(surface)
    const scene: Scene = {
      ...heron,
      materials: [
        {
          ...heron.materials[0]!,
          model: model.materialModel,
          properties: [{ name: 'alpha', values: [0.4], text: null }],
          maps: [],
        },
        ...heron.materials.slice(1),
      ],
    }
    const { after } = await showSurfaces(
      scene,
      { target: model, files: [], rules: NO_RULES },
      QUIET,
      NODE_HOST,
    )
    const { values } = recogniseSurface(after.materials[0]!)
    expect([values['alpha'], values['alpha_mode']]).toEqual([0.4, 'BLEND'])
  },
)

test('large images are drawn small, and what can’t be read is left out', async () => {
  const files = [
    ...(await folder(LOOK_PIXELS + 200)),
    { name: 'horn_BaseColor.png', bytes: Uint8Array.of(137, 80, 78, 71, 1, 2, 3) },
  ]
  const { after } = await showSurfaces(
    buildCourierHeron(),
    { target: surfaceModelNamed('openpbr'), files, rules: NO_RULES },
    QUIET,
    NODE_HOST,
  )
  for (const { file } of after.materials[0]!.maps)
    expect(await widthOf(after.images.find((image) => image.file === file)!.bytes!)).toBe(LOOK_PIXELS)
  expect(after.materials[0]!.maps).toHaveLength(4)
})

test('a model of one’s own is drawn by what it says its slots are', async () => {
  const target = parseOwnModel(
    {
      name: 'Stage paint',
      slots: [
        { name: 'paint', kind: 'color', from: 'baseColor' },
        { name: 'gloss', kind: 'number', from: 'roughness', inverted: true },
      ],
    },
    'own',
  )
  const { after } = await showSurfaces(
    buildCourierHeron(),
    { target, files: (await folder(16)).slice(0, 2), rules: NO_RULES },
    QUIET,
    NODE_HOST,
  )
  expect(recogniseSurface(after.materials[0]!).model.id).toBe('gltf')
  expect(await pixelOf(after, 'baseColorTexture')).toEqual([200, 100, 50])
  expect(Math.abs((await pixelOf(after, 'metallicRoughnessTexture'))[1]! - 64)).toBeLessThanOrEqual(1)
})

test('one map for all is drawn on the model that it is made for', async () => {
  const { before, after, notDrawn } = await showSurfaces(
    buildSignalKite(),
    {
      target: surfaceModelNamed('openpbr'),
      files: [],
      rules: { rules: [], oneMap: { ...ONE_MAP_DEFAULTS, size: 4096 } },
    },
    QUIET,
    NODE_HOST,
  )
  expect(before.materials).toHaveLength(4)
  expect(after.materials).toHaveLength(1)
  // what lies over another map isn’t drawn as it came, and is in the one map
  expect(notDrawn.filter(({ side }) => side === 'before')).toHaveLength(2)
  expect(notDrawn.filter(({ side }) => side === 'after')).toEqual([])
  for (const { bytes } of after.images) expect(await widthOf(bytes!)).toBe(LOOK_PIXELS)
})
