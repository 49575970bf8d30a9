/**
 * One map for all against the truth: every material's maps are functions of a place that are known, laid through UVs that
 * are known, so that each pixel of the drawn image can be said beforehand.
 */
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import sharp from 'sharp'
import { describe, expect, test } from 'vitest'
import { QUIET } from '../../src/app/host.ts'
import { remapModel, type RemappedModel } from '../../src/app/remap-model.ts'
import { readPng } from '../../src/core/image/codecs/read-png.ts'
import { writePng } from '../../src/core/image/codecs/write-png.ts'
import type { KelboError } from '../../src/core/base/messages/collector.ts'
import { readColorSpace } from '../../src/core/image/read-color-space.ts'
import { decodeSrgb, encodeSrgb } from '../../src/core/image/transfer.ts'
import type { Material, MaterialMap, MapPlacement } from '../../src/core/scene/material.ts'
import { EMPTY_MESH, type Mesh, type UvSet } from '../../src/core/scene/mesh.ts'
import { EMPTY_SCENE, rootNodes, type Scene, type SceneImage } from '../../src/core/scene/scene.ts'
import { imageFiles } from '../../src/core/scene/image-tiles.ts'
import type { OneMapOptions } from '../../src/core/surfaces/one-map/options.ts'
import { ONE_MAP_DEFAULTS } from '../../src/core/surfaces/one-map/options.ts'
import { surfaceModelNamed } from '../../src/core/surfaces/registry.ts'
import { NODE_HOST } from '../../src/host/node-host.ts'

type Rgb = readonly [number, number, number]

function randomOf(seed: number): () => number {
  let state = seed * 2654435761 + 1
  return () => {
    state = (Math.imul(state ^ (state >>> 15), 2246822519) + 0x9e3779b9) | 0
    return ((state ^ (state >>> 13)) >>> 0) / 4294967296
  }
}

/** An image of a function of U and V (V up), as stored values from 0 to 1. */
function imageOf(
  side: number,
  channels: 1 | 3 | 4,
  value: (u: number, v: number) => readonly number[],
): Uint8Array {
  const pixels = new Uint8Array(side * side * channels)
  for (let row = 0; row < side; row++)
    for (let column = 0; column < side; column++) {
      const own = value((column + 0.5) / side, 1 - (row + 0.5) / side)
      for (let channel = 0; channel < channels; channel++)
        pixels[(row * side + column) * channels + channel] = Math.round(255 * own[channel]!)
    }
  return writePng({ width: side, height: side, channels, pixels })
}

interface Patch {
  /** Corners in each UV set. */
  readonly sets: readonly (readonly (readonly [number, number])[])[]
  readonly material: number
}

function meshOf(patches: readonly Patch[], names: readonly string[]): Mesh {
  const points: number[] = []
  const faceOffsets = [0]
  const faceVertices: number[] = []
  patches.forEach(({ sets }, at) => {
    const corners = sets[0]!
    corners.forEach(([u, v]) => {
      faceVertices.push(points.length / 3)
      points.push(u * 10, v * 10, at)
    })
    faceOffsets.push(faceVertices.length)
  })
  const uvSets = names.map((name, set): UvSet => ({
    name,
    values: Float64Array.from(patches.flatMap((patch) => patch.sets[set]!.flat())),
    indices: Int32Array.from(
      patches.flatMap((patch) => patch.sets[set]!.map(([u]) => u)),
      (u, at) => (Number.isNaN(u) ? -1 : at),
    ),
    depths: null,
  }))
  return {
    ...EMPTY_MESH,
    name: 'patches',
    points: Float64Array.from(points),
    faceOffsets: Uint32Array.from(faceOffsets),
    faceVertices: Uint32Array.from(faceVertices),
    uvSets,
    faceMaterials: Int32Array.from(patches, ({ material }) => material),
  }
}

const sceneOf = (
  meshes: readonly Mesh[],
  materials: readonly Material[],
  images: readonly SceneImage[],
): Scene => ({
  ...EMPTY_SCENE,
  format: 'fbx',
  nodes: rootNodes(meshes),
  meshes,
  materials,
  images,
})

const image = (file: string, bytes: Uint8Array): SceneImage => ({ file, entry: file, bytes })
const placed = (uvSet: string, more: Partial<MapPlacement> = {}): MapPlacement => ({
  name: '',
  uvSet,
  wrapU: 'repeat',
  wrapV: 'repeat',
  scale: [1, 1],
  offset: [0, 0],
  kept: [],
  ...more,
})
const materialOf = (
  name: string,
  properties: Readonly<Record<string, readonly number[]>>,
  maps: readonly MaterialMap[] = [],
): Material => ({
  id: name,
  name,
  model: 'standard_surface',
  properties: Object.entries(properties).map(([key, values]) => ({ name: key, values, text: null })),
  maps,
  kept: [],
})
const mapOn = (
  property: string,
  slot: MaterialMap['slot'],
  file: string,
  placement?: MapPlacement,
): MaterialMap => ({
  property,
  slot,
  file,
  options: [],
  ...(placement ? { placement } : {}),
})

const draw = (
  scene: Scene,
  options: Partial<OneMapOptions>,
  surface = 'standard-surface',
): Promise<RemappedModel> =>
  remapModel(
    scene,
    {
      target: surfaceModelNamed(surface),
      files: [],
      rules: { rules: [], oneMap: { ...ONE_MAP_DEFAULTS, ...options } },
      stem: 'model',
      makes: true,
    },
    QUIET,
    NODE_HOST,
  )

/** The image that a parameter of the one material has, by its tile. */
function drawnOf(model: RemappedModel, parameter: string, label: string | null = null) {
  const row = model.plan.materials[0]!.parameters.find((one) => one.parameter === parameter)!
  const own = model.scene.images.find(({ file }) => file === row.map?.file)
  const found = imageFiles(own).find((one) => one.label === label)
  if (!found) throw new Error(`no image for ${parameter}`)
  return { row, pixels: readPng(found.bytes)!, bytes: found.bytes }
}

/** A square of the drawn set, with room at its border, and a turned, stretched square of the source's. */
function randomPatch(random: () => number, cell: number, cells: number, count: number): Patch['sets'] {
  const [row, column] = [Math.floor(cell / cells), cell % cells]
  const target: [number, number][] = []
  const source: [number, number][] = []
  const [turn, around] = [random() * 2 * Math.PI, random() * 2 * Math.PI]
  // at the scale of the drawing, so that no filter has anything to smooth
  const stretch = 0.6 + random() * 0.3
  const from = [random() * 0.4, random() * 0.4] as const
  for (let corner = 0; corner < count; corner++) {
    const angle = turn + (2 * Math.PI * corner) / count
    const [x, y] = [0.5 + 0.42 * Math.cos(angle), 0.5 + 0.42 * Math.sin(angle)]
    target.push([(column + x) / cells, (row + y) / cells])
    const [dx, dy] = [(x - 0.5) * stretch * 0.5, (y - 0.5) * stretch * 0.5]
    source.push([
      0.3 + from[0] + dx * Math.cos(around) - dy * Math.sin(around),
      0.3 + from[1] + dx * Math.sin(around) + dy * Math.cos(around),
    ])
  }
  return [target, source]
}

/** Place in the source for a place in the drawing, by three corners. */
function through(target: readonly (readonly [number, number])[], source: typeof target) {
  const [[ax, ay], [bx, by], [cx, cy]] = target as [[number, number], [number, number], [number, number]]
  const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
  return (u: number, v: number): [number, number] => {
    const b = ((u - ax) * (cy - ay) - (v - ay) * (cx - ax)) / area
    const c = ((bx - ax) * (v - ay) - (by - ay) * (u - ax)) / area
    return [0, 1].map(
      (axis) => source[0]![axis]! * (1 - b - c) + source[1]![axis]! * b + source[2]![axis]! * c,
    ) as [number, number]
  }
}

/** Whether a place lies within a polygon that turns the usual way, by a margin. */
const inside = (
  corners: readonly (readonly [number, number])[],
  u: number,
  v: number,
  margin: number,
): boolean =>
  corners.every(([ax, ay], at) => {
    const [bx, by] = corners[(at + 1) % corners.length]!
    return ((bx - ax) * (v - ay) - (by - ay) * (u - ax)) / Math.hypot(bx - ax, by - ay) > margin
  })

const wave: (u: number, v: number) => Rgb = (u, v) => [
  0.5 + 0.3 * Math.sin(3 * u + v),
  0.5 + 0.3 * Math.cos(2 * v - u),
  0.25 + 0.5 * u * (1 - u) + 0.2 * v,
]

describe('each pixel is what its material’s map has at that place', () => {
  test.each([1, 2, 3, 4, 5, 6])(
    'values, maps times values, channels, inverted, any polygons: seed %i',
    async (seed) => {
      const random = randomOf(seed)
      const cells = 4
      const patches = Array.from({ length: cells * cells }, (_, cell): Patch => ({
        sets: randomPatch(random, cell, cells, 3 + Math.floor(random() * 4)),
        material: Math.floor(random() * 4),
      }))
      const tint: Rgb = [random(), random(), random()]
      const scene = sceneOf(
        [meshOf(patches, ['flat', 'own'])],
        [
          materialOf('plain', { base_color: tint, base: [1], specular_roughness: [0.7] }),
          materialOf('mapped', { base_color: [1, 1, 1], base: [1] }, [
            mapOn('base_color', 'baseColor', 'wave.png', placed('own')),
            mapOn('specular_roughness', 'roughness', 'grey.png', placed('own')),
          ]),
          // MTL's specification has the map times the value, Standard Surface in the value's place
          {
            ...materialOf('tinted', { Kd: tint, Pr: [0.25] }, [
              mapOn('map_Kd', 'baseColor', 'wave.png', placed('own')),
            ]),
            model: 'mtl',
          },
          materialOf('again', { base_color: [1, 1, 1], base: [1], specular_roughness: [0.5] }, [
            mapOn(
              'base_color',
              'baseColor',
              'wave.png',
              placed('own', { scale: [-1, 0.5], offset: [1.25, -0.125] }),
            ),
          ]),
        ],
        [
          image('wave.png', imageOf(512, 3, wave)),
          image(
            'grey.png',
            imageOf(512, 1, (u, v) => [wave(u, v)[1]]),
          ),
        ],
      )
      const size = 256
      const model = await draw(scene, { size, set: 'flat' })
      const color = drawnOf(model, 'base_color')
      const rough = drawnOf(model, 'specular_roughness')
      expect(model.scene.materials).toHaveLength(1)
      expect(model.scene.meshes[0]!.uvSets.map(({ name }) => name)).toEqual(['flat'])
      expect(new Set(model.scene.meshes[0]!.faceMaterials)).toEqual(new Set([0]))
      let looked = 0
      let worst = 0
      let worstAt = ''
      const compare = (own: number, expected: number, where: () => string): void => {
        const off = Math.abs(own - 255 * expected)
        if (off <= worst) return
        worst = off
        worstAt = where()
      }
      for (const { sets, material } of patches) {
        const place = through(sets[0]!, sets[1]!)
        for (let row = 0; row < size; row++)
          for (let column = 0; column < size; column++) {
            const [u, v] = [(column + 0.5) / size, 1 - (row + 0.5) / size]
            if (!inside(sets[0]!, u, v, 0.001)) continue
            looked++
            let [su, sv] = place(u, v)
            if (material === 3) [su, sv] = [1.25 - su, sv * 0.5 - 0.125]
            // the pattern goes on beyond the square from 0 to 1, and jumps there
            const [fu, fv] = [su - Math.floor(su), sv - Math.floor(sv)]
            if (Math.min(fu, fv, 1 - fu, 1 - fv) < 0.004) continue
            const stored = wave(fu, fv)
            const expected: Rgb =
              material === 0
                ? (tint.map(encodeSrgb) as unknown as Rgb)
                : material === 2
                  ? (stored.map((value, channel) =>
                      encodeSrgb(decodeSrgb(value) * tint[channel]!),
                    ) as unknown as Rgb)
                  : stored
            const at = (row * size + column) * color.pixels.channels
            for (let channel = 0; channel < 3; channel++)
              compare(
                color.pixels.values[at + channel]!,
                expected[channel]!,
                () => `material ${material}, ${column} ${row}, channel ${channel}`,
              )
            const grey = [0.7, stored[1], 0.25, 0.5][material]!
            compare(
              rough.pixels.values[row * size + column]!,
              grey,
              () => `roughness of ${material}, ${column} ${row}`,
            )
          }
      }
      expect(worst, worstAt).toBeLessThan(2)
      expect(looked).toBeGreaterThan(size * size * 0.2)
    },
  )
})

/** A square of one set from `at`, laid through any other square of the next. */
const square = (x: number, y: number, side: number): [number, number][] => [
  [x, y],
  [x + side, y],
  [x + side, y + side],
  [x, y + side],
]
const NOWHERE = square(NaN, NaN, 0)
const flat = (r: number, g: number, b: number, side = 4): Uint8Array => imageOf(side, 3, () => [r, g, b])
const pixelAt = ({ pixels }: ReturnType<typeof drawnOf>, u: number, v: number): number[] => {
  const [x, y] = [Math.floor(u * pixels.width), Math.floor((1 - v) * pixels.height)]
  return [
    ...pixels.values.slice(
      (y * pixels.width + x) * pixels.channels,
      (y * pixels.width + x + 1) * pixels.channels,
    ),
  ]
}
const codes = (model: RemappedModel): string[] => model.findings.map(({ code }) => code)
const near = (own: readonly number[], expected: readonly number[], within = 1.01): void => {
  own.forEach((value, at) =>
    expect(Math.abs(value - expected[at]!), `${own} for ${expected}`).toBeLessThan(within),
  )
}
const light = (value: number): number => 255 * encodeSrgb(value)

describe('what lies over a map', () => {
  const decal = imageOf(64, 4, (u) => [1, 0, 0, u < 0.5 ? 1 : 0.25])
  const scene = (
    stack: MapPlacement['stack'],
    second = decal,
    values: Readonly<Record<string, readonly number[]>> = {},
  ): Scene =>
    sceneOf(
      [
        meshOf(
          [
            { sets: [square(0, 0, 0.5), square(0, 0, 1), square(0, 0, 1)], material: 0 },
            { sets: [square(0.5, 0.5, 0.5), square(0, 0, 1), NOWHERE], material: 0 },
          ],
          ['flat', 'cloth', 'decals'],
        ),
      ],
      [
        {
          ...materialOf('cloth', values, [
            mapOn(
              'DiffuseColor',
              'baseColor',
              'cloth.png',
              placed('cloth', { stack: { name: 's', blend: 0, alpha: 1 } }),
            ),
            mapOn('DiffuseColor', 'baseColor', 'decal.png', placed('decals', { stack })),
          ]),
          model: 'phong',
        },
      ],
      [image('cloth.png', flat(0.2, 0.6, 0.2)), image('decal.png', second)],
    )
  const green = [0.2, 0.6, 0.2].map(decodeSrgb) as unknown as Rgb
  const red: Rgb = [1, 0, 0]
  const colors = async (stack: MapPlacement['stack'], second?: Uint8Array) => {
    const model = await draw(scene(stack, second), { size: 128, set: 'flat' })
    const drawn = drawnOf(model, 'base_color')
    return {
      model,
      full: pixelAt(drawn, 0.1, 0.25),
      thin: pixelAt(drawn, 0.4, 0.25),
      bare: pixelAt(drawn, 0.75, 0.75),
    }
  }
  test.each([
    ['over', 0, 1, (a: number, b: number, opacity: number) => a * (1 - opacity) + b * opacity],
    ['over, half of it', 0, 0.5, (a: number, b: number, opacity: number) => a * (1 - opacity) + b * opacity],
    ['added', 1, 1, (a: number, b: number, opacity: number) => a + b * opacity],
    ['multiplied', 2, 1, (a: number, b: number, opacity: number) => a * (1 - opacity) + a * b * opacity],
    [
      'multiplied twice',
      3,
      1,
      (a: number, b: number, opacity: number) => a * (1 - opacity) + 2 * a * b * opacity,
    ],
  ] as const)('%s', async (_, blend, alpha, mix) => {
    const { model, full, thin, bare } = await colors({ name: 's', blend, alpha })
    near(
      full,
      green.map((one, at) => light(Math.min(1, mix(one, red[at]!, alpha)))),
    )
    near(
      thin,
      green.map((one, at) => light(Math.min(1, mix(one, red[at]!, 0.25 * alpha)))),
    )
    // where it has no UVs it is not
    near(bare, green.map(light))
    expect(model.sheets[0]!.lost).toEqual([])
    expect(codes(model)).toEqual([])
  })
  test.each(['gltf', 'gltf-specular-glossiness', 'openpbr'])(
    'the lowest map takes the place of the colour that its file has, for %s',
    async (surface) => {
      const grey = scene({ name: 's', blend: 0, alpha: 1 }, decal, { DiffuseColor: [0.5, 0.5, 0.5] })
      const target = surfaceModelNamed(surface)
      const plain = await remapModel(
        grey,
        { target, files: [], rules: { rules: [] }, stem: 'm', makes: true },
        QUIET,
        NODE_HOST,
      )
      const row = (one: RemappedModel) =>
        one.sheets[0]!.parameters.find(({ slot }) => slot === 'baseColor' && slot !== null)!
      // where the model multiplies, nothing darkens the map; where the map replaces the value it stays as the ground
      expect(row(plain).value).toEqual(target.timesMap === 'all' ? [1, 1, 1] : [0.5, 0.5, 0.5])
      const drawn = await remapModel(
        grey,
        {
          target,
          files: [],
          rules: { rules: [], oneMap: { ...ONE_MAP_DEFAULTS, size: 128, set: 'flat' } },
          stem: 'm',
          makes: true,
        },
        QUIET,
        NODE_HOST,
      )
      expect(row(drawn).value).toEqual([1, 1, 1])
      near(pixelAt(drawnOf(drawn, row(drawn).parameter), 0.75, 0.75), green.map(light))
    },
  )
  test('in a way that is not known: told, and by its opacity: one-map.blend', async () => {
    const { model, full } = await colors({ name: 's', blend: 23, alpha: 1 })
    near(full, [255, 0, 0])
    expect(codes(model)).toEqual(['one-map.blend'])
  })
  test('without one map it has no place, and that is said with what would draw it', async () => {
    const plain = await remapModel(
      scene({ name: 's', blend: 0, alpha: 1 }),
      { target: surfaceModelNamed('openpbr'), files: [], rules: { rules: [] }, stem: 'm', makes: true },
      QUIET,
      NODE_HOST,
    )
    expect(plain.sheets[0]!.lost.map(({ note }) => note)).toEqual([
      'lies over another map: one map for all draws both',
    ])
  })

  const decalScene = (bytes: Uint8Array): Scene =>
    sceneOf(
      [meshOf([{ sets: [square(0, 0, 1)], material: 0 }], ['flat'])],
      [
        {
          ...materialOf('sign', { Kd: [0, 0, 1] }, [
            mapOn('map_Kd', 'baseColor', 'white.png'),
            mapOn('decal', 'decal', 'mask.png'),
          ]),
          model: 'mtl',
        },
      ],
      [image('white.png', flat(1, 1, 1)), image('mask.png', bytes)],
    )
  test('MTL’s decal says where the map shows instead of the colour', async () => {
    const mask = imageOf(64, 1, (u) => [u < 0.5 ? 1 : 0])
    const drawn = drawnOf(await draw(decalScene(mask), { size: 64 }), 'base_color')
    // the map times the colour, and the colour: both blue here
    near(pixelAt(drawn, 0.25, 0.5), [0, 0, 255])
    near(pixelAt(drawn, 0.75, 0.5), [0, 0, 255])
  })
  test('a decal without an opacity that is no mask is told and left out: one-map.not-drawn', async () => {
    const model = await draw(decalScene(flat(1, 0, 0)), { size: 64 })
    near(pixelAt(drawnOf(model, 'base_color'), 0.5, 0.5), [0, 0, 255])
    expect(codes(model)).toEqual(['one-map.not-drawn'])
    expect(model.sheets[0]!.lost.map(({ what }) => what)).toEqual(['sign: map of decal: mask.png'])
  })
})

describe('normals', () => {
  /** A flat square whose source UVs are turned by an angle, and mirrored on request. */
  const scene = (angle: number, isMirrored: boolean, bytes: Uint8Array): Scene => {
    const target = square(0, 0, 1)
    const source = target.map(([u, v]): [number, number] => {
      const [x, y] = [(u - 0.5) * (isMirrored ? -1 : 1), v - 0.5]
      return [
        0.5 + 0.5 * (x * Math.cos(angle) - y * Math.sin(angle)),
        0.5 + 0.5 * (x * Math.sin(angle) + y * Math.cos(angle)),
      ]
    })
    return sceneOf(
      [meshOf([{ sets: [target, source], material: 0 }], ['flat', 'own'])],
      [materialOf('stone', {}, [mapOn('normal', 'normal', 'n.png', placed('own'))])],
      [image('n.png', bytes)],
    )
  }
  const lean = (x: number, y: number): number[] => {
    const z = Math.sqrt(1 - x * x - y * y)
    return [x, y, z].map((one) => one * 0.5 + 0.5)
  }
  test.each([
    [0, false],
    [Math.PI / 2, false],
    [0.7, false],
    [2.5, true],
    [0, true],
  ])('turned by %f, mirrored %s: they lean the same way on the model', async (angle, isMirrored) => {
    const [x, y] = [0.5, 0.2]
    const model = await draw(
      scene(
        angle,
        isMirrored,
        imageOf(16, 3, () => lean(x, y)),
      ),
      { size: 32, set: 'flat' },
    )
    // the source's U runs along this on the model, seen in the drawn set
    const back = isMirrored ? -1 : 1
    const u = [back * Math.cos(angle), -Math.sin(angle)]
    const v = [back * Math.sin(angle), Math.cos(angle)]
    const expected = lean(x * u[0]! + y * v[0]!, x * u[1]! + y * v[1]!)
    near(
      pixelAt(drawnOf(model, 'normal'), 0.5, 0.5),
      expected.map((one) => one * 255),
      1.6,
    )
  })
})

describe('the drawn image', () => {
  const one = (bytes: Uint8Array, source = square(0, 0, 1), target = square(0.25, 0.25, 0.5)): Scene =>
    sceneOf(
      [meshOf([{ sets: [target, source], material: 0 }], ['flat', 'own'])],
      [materialOf('m', { base: [1] }, [mapOn('base_color', 'baseColor', 'c.png', placed('own'))])],
      [image('c.png', bytes)],
    )
  test('past the borders of islands their last pixels go on, as far as was asked', async () => {
    const model = await draw(one(flat(1, 0, 0)), { size: 64, padding: 4, set: 'flat' })
    const { pixels } = drawnOf(model, 'base_color')
    const red = (column: number, row: number): boolean => {
      const at = (row * 64 + column) * pixels.channels
      return pixels.values[at]! > 200 && pixels.values[at + 1]! < 50
    }
    expect([16, 15, 12, 11, 47, 48, 51, 52].map((column) => red(column, 32))).toEqual([
      true,
      true,
      true,
      false,
      true,
      true,
      true,
      false,
    ])
  })
  test('what is finer than a pixel is its mean light', async () => {
    const checker = imageOf(256, 3, (u, v) => {
      const white = (Math.floor(u * 256) + Math.floor(v * 256)) % 2
      return [white, white, white]
    })
    const drawn = drawnOf(await draw(one(checker, square(0, 0, 8)), { size: 64, set: 'flat' }), 'base_color')
    near(pixelAt(drawn, 0.5, 0.5), [light(0.5), light(0.5), light(0.5)], 2)
    near(pixelAt(drawn, 0.3, 0.6), [light(0.5), light(0.5), light(0.5)], 2)
  })
  test('the same UVs at the same size: pixel for pixel', async () => {
    const random = randomOf(9)
    const noise = imageOf(64, 3, () => [random(), random(), random()])
    const model = await draw(one(noise, square(0, 0, 1), square(0, 0, 1)), { size: 64, set: 'flat' })
    const { pixels } = drawnOf(model, 'base_color')
    expect([...pixels.values]).toEqual([...readPng(noise)!.values])
  })
  test('colours say that they are, numbers say nothing', async () => {
    const { bytes } = drawnOf(await draw(one(flat(1, 0, 0)), { size: 32, set: 'flat' }), 'base_color')
    expect(readColorSpace(bytes)).toBe('sRGB')
  })
  test('several squares of the drawn set are as many images; several of the source’s are found', async () => {
    const scene = sceneOf(
      [
        meshOf(
          [
            { sets: [square(0.1, 0.1, 0.8), square(1.1, 0.1, 0.8)], material: 0 },
            { sets: [square(1.1, 0.1, 0.8), square(0.1, 0.1, 0.8)], material: 0 },
          ],
          ['flat', 'own'],
        ),
      ],
      [materialOf('m', { base: [1] }, [mapOn('base_color', 'baseColor', 'c.<UDIM>.png', placed('own'))])],
      [
        {
          file: 'c.<UDIM>.png',
          entry: null,
          bytes: flat(1, 0, 0),
          tiles: [
            { label: '1001', entry: 'a', bytes: flat(1, 0, 0) },
            { label: '1002', entry: 'b', bytes: flat(0, 0, 1) },
          ],
        },
      ],
    )
    const model = await draw(scene, { size: 32, set: 'flat' })
    near(pixelAt(drawnOf(model, 'base_color', '1001'), 0.5, 0.5), [0, 0, 255])
    near(pixelAt(drawnOf(model, 'base_color', '1002'), 0.5, 0.5), [255, 0, 0])
  })
  test('glTF’s packed image is packed from what was drawn', async () => {
    const scene = sceneOf(
      [
        meshOf(
          [
            { sets: [square(0, 0, 0.5)], material: 0 },
            { sets: [square(0.5, 0.5, 0.5)], material: 1 },
          ],
          ['flat'],
        ),
      ],
      [
        materialOf('wood', { metalness: [0], specular_roughness: [0.8] }),
        materialOf('brass', { metalness: [1], specular_roughness: [0.2] }),
      ],
      [],
    )
    const model = await draw(scene, { size: 32 }, 'gltf')
    const rough = drawnOf(model, 'roughness')
    expect(rough.row.map).toMatchObject({ channel: 'g', file: drawnOf(model, 'metallic').row.map!.file })
    near(pixelAt(rough, 0.25, 0.25), [255, 204, 0])
    near(pixelAt(rough, 0.75, 0.75), [255, 51, 255])
    expect(model.gltf!.materials).toHaveLength(1)
  })
  test('16 bits stay 16 bits', async () => {
    const deep = new Uint8Array(
      await sharp(
        Uint16Array.from({ length: 16 * 16 }, (_, at) => 1000 + 37 * at),
        {
          raw: { width: 16, height: 16, channels: 1 },
        },
      )
        .toColourspace('grey16')
        .png()
        .toBuffer(),
    )
    const scene = sceneOf(
      [meshOf([{ sets: [square(0, 0, 1)], material: 0 }], ['flat'])],
      [materialOf('m', {}, [mapOn('specular_roughness', 'roughness', 'r.png')])],
      [image('r.png', deep)],
    )
    const { pixels } = drawnOf(await draw(scene, { size: 16 }), 'specular_roughness')
    expect(pixels.bits).toBe(16)
    expect([...pixels.values]).toEqual(Array.from({ length: 256 }, (_, at) => 1000 + 37 * at))
  })
})

describe('what can’t be drawn is said', () => {
  const values = (scene: Partial<Scene> = {}): Scene => ({
    ...sceneOf(
      [
        meshOf(
          [
            { sets: [square(0, 0, 0.5)], material: 0 },
            { sets: [square(0.5, 0, 0.5)], material: 1 },
          ],
          ['flat'],
        ),
      ],
      [materialOf('a', { base_color: [1, 0, 0] }), materialOf('b', { base_color: [0, 1, 0] })],
      [],
    ),
    ...scene,
  })
  const refused = async (work: Promise<unknown>): Promise<string> => {
    try {
      await work
    } catch (error) {
      return (error as KelboError).code
    }
    return 'nothing'
  }
  test('one-map.nothing: no such set, no such material', async () => {
    expect(await refused(draw(values(), { set: 'other' }))).toBe('one-map.nothing')
    expect(await refused(draw(values(), { materials: 'z*' }))).toBe('one-map.nothing')
    expect(await refused(draw(values(), { materials: 'a' }))).toBe('nothing')
  })
  test('one-map.no-uvs', async () => {
    const bare = { ...values().meshes[0]!, uvSets: [] }
    expect(await refused(draw(values({ meshes: [bare] }), {}))).toBe('one-map.no-uvs')
  })
  test('one-map.many-tiles', async () => {
    const wide = meshOf(
      [{ sets: [square(0, 0, 9.9).map(([u, v]) => [u, v * 2] as const)], material: 0 }],
      ['flat'],
    )
    expect(await refused(draw(values({ meshes: [wide] }), { set: 'flat' }))).toBe('one-map.many-tiles')
  })
  test('one-map.without-set, one-map.left-out: such polygons keep what they have', async () => {
    const bare = { ...meshOf([{ sets: [square(0, 0, 1)], material: 1 }], ['x']), name: 'bare' }
    const astray = meshOf(
      [
        { sets: [square(0, 0, 0.5)], material: 0 },
        { sets: [square(-3, 0, 0.5)], material: 1 },
      ],
      ['flat'],
    )
    const meshes = [astray, bare]
    const model = await draw(values({ meshes, nodes: rootNodes(meshes) }), { size: 32, set: 'flat' })
    expect(codes(model).sort()).toEqual(['one-map.left-out', 'one-map.without-set'])
    expect(model.scene.materials.map(({ name }) => name)).toEqual(['all', 'b'])
    expect(model.scene.meshes.map(({ faceMaterials }) => [...faceMaterials!])).toEqual([[0, 1], [1]])
    expect(model.scene.meshes[1]!.uvSets[0]!.name).toBe('x')
  })
  test('some materials of a part alone: what stays lies as it lay, and the drawn maps name their set', async () => {
    const mixed = meshOf(
      [
        { sets: [square(0, 0, 1), square(0, 0, 0.5)], material: 0 },
        { sets: [square(0, 0, 1), square(0.5, 0, 0.5)], material: 1 },
      ],
      ['own', 'flat'],
    )
    const model = await draw(values({ meshes: [mixed] }), { size: 32, set: 'flat', materials: 'a' })
    expect(model.scene.materials.map(({ name }) => name)).toEqual(['a', 'b'])
    expect(model.scene.meshes[0]!.uvSets.map(({ name }) => name)).toEqual(['own', 'flat'])
    const whole = await draw(values({ meshes: [mixed] }), { size: 32, set: 'flat' })
    expect(whole.scene.materials[0]!.maps[0]!.placement).toBeUndefined()
    const drawn = await draw(
      values({
        meshes: [
          { ...mixed, faceMaterials: Int32Array.of(0, 2) },
          { ...mixed, name: 'more' },
        ],
        nodes: rootNodes([mixed, mixed]),
        materials: [...values().materials, materialOf('c', { base_color: [0, 0, 1] })],
      }),
      { size: 32, set: 'flat', materials: '*', name: 'one' },
    )
    expect(drawn.scene.materials.map(({ name }) => name)).toEqual(['one'])
    const part = await draw(
      values({
        meshes: [
          { ...mixed, faceMaterials: Int32Array.of(0, 2) },
          { ...mixed, name: 'more' },
        ],
        nodes: rootNodes([mixed, mixed]),
        materials: [
          materialOf('sail_a', { base_color: [1, 0, 0] }),
          materialOf('sail_b', { base_color: [0, 1, 0] }),
          materialOf('rope', { base_color: [0, 0, 1] }),
        ],
      }),
      { size: 32, set: 'flat', materials: 'sail*' },
    )
    expect(part.scene.materials[0]!.maps[0]!.placement?.uvSet).toBe('flat')
  })
  test('one-map.shared: islands over each other, with their share', async () => {
    const over = meshOf(
      [
        { sets: [square(0, 0, 0.5)], material: 0 },
        { sets: [square(0.25, 0, 0.5)], material: 1 },
      ],
      ['flat'],
    )
    const model = await draw(values({ meshes: [over] }), { size: 64 })
    expect(model.findings.map(({ code, parameters }) => [code, parameters['share']])).toEqual([
      ['one-map.shared', expect.closeTo(100 / 3, -0.5) as number],
    ])
    near(pixelAt(drawnOf(model, 'base_color'), 0.3, 0.3), [255, 0, 0])
    // a pixel that many share is one pixel
    const heap = meshOf(
      Array.from({ length: 7 }, (_, at) => ({ sets: [square(0, 0, 0.5)], material: at % 2 })),
      ['flat'],
    )
    const heaped = await draw(values({ meshes: [heap] }), { size: 64 })
    expect(heaped.findings[0]!.parameters['share']).toSatisfy((share: number) => share > 95 && share <= 100)
  })
  test('one-map.differs: what takes no map, by the larger share of the surface', async () => {
    const model = await draw(
      values({
        materials: [
          materialOf('a', { thin_walled: [1], transmission: [0.5] }),
          materialOf('b', { thin_walled: [0], transmission: [0.5] }),
        ],
      }),
      { size: 32 },
    )
    expect(codes(model)).toContain('one-map.differs')
  })
  test('one-map.not-drawn: a map that is missing or broken; its value stands there', async () => {
    const model = await draw(
      values({
        materials: [
          materialOf('a', {}, [mapOn('base_color', 'baseColor', 'gone.png')]),
          materialOf('b', {}, [mapOn('base_color', 'baseColor', 'broken.png')]),
        ],
        images: [image('broken.png', new Uint8Array([1, 2, 3]))],
      }),
      { size: 32 },
    )
    expect(codes(model)).toEqual(['one-map.not-drawn', 'one-map.not-drawn'])
  })
  test('one-map.light: what is brighter than white', async () => {
    const hdr = readFileSync(join(import.meta.dirname, '../reference/images/exr-float-none.exr'))
    const model = await draw(
      values({
        materials: [
          materialOf('a', { emission: [1] }, [mapOn('emission_color', 'emissive', 'sun.exr')]),
          materialOf('b', {}),
        ],
        images: [image('sun.exr', new Uint8Array(hdr))],
      }),
      { size: 32 },
    )
    expect(codes(model)).toContain('one-map.light')
  })
  test('a set that repeats a pattern is not chosen where another has no overlaps', async () => {
    const mesh = meshOf(
      [
        { sets: [square(0, 0, 1), square(0, 0, 0.5)], material: 0 },
        { sets: [square(0, 0, 1), square(0.5, 0.5, 0.5)], material: 1 },
      ],
      ['pattern', 'flat'],
    )
    const model = await draw(values({ meshes: [mesh] }), { size: 32 })
    expect(model.scene.meshes[0]!.uvSets.map(({ name }) => name)).toEqual(['flat'])
    expect(codes(model)).toEqual([])
  })
})
