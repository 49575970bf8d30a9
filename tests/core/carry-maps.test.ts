/** Maps carried from one UV set to another: what was painted stays where it is on the surface. */
import sharp from 'sharp'
import { describe, expect, test } from 'vitest'
import { carryMaps } from '../../src/app/carry-maps.ts'
import { QUIET } from '../../src/app/host.ts'
import { workOnImages } from '../../src/app/work-on-images.ts'
import type { OptionValues } from '../../src/core/base/options/option.ts'
import { readPng } from '../../src/core/image/codecs/read-png.ts'
import { defaultsOf, hasValue } from '../../src/core/base/options/option.ts'
import { imageOperation } from '../../src/core/image/operations/registry.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { runStep } from '../../src/core/steps/run-steps.ts'
import { NODE_HOST } from '../../src/host/node-host.ts'
import { gridOf, sceneOf } from '../solids.ts'
import { IN_THE_LONG_RUN } from '../how-many.ts'

const operation = imageOperation('carry-maps-to-uvs')!
const carry = (
  scene: Scene | null,
  files: { name: string; bytes: Uint8Array }[],
  options: OptionValues = {},
) =>
  workOnImages(
    operation,
    { ...defaultsOf(operation.options.filter(hasValue)), ...options },
    files,
    QUIET,
    NODE_HOST.images,
    scene,
  )

const SIDE = 128
/** Smooth hills of colour. */
async function painted(name: string, of: (u: number, v: number) => number[], channels: 3 | 4 = 3) {
  const values = new Uint8Array(SIDE * SIDE * channels)
  for (let row = 0; row < SIDE; row++)
    for (let column = 0; column < SIDE; column++)
      of((column + 0.5) / SIDE, 1 - (row + 0.5) / SIDE).forEach((value, channel) => {
        values[(row * SIDE + column) * channels + channel] = Math.round(255 * value)
      })
  const png = await sharp(values, { raw: { width: SIDE, height: SIDE, channels } })
    .png()
    .toBuffer()
  return { name, bytes: new Uint8Array(png) }
}
const hills = (u: number, v: number): number[] => [
  0.5 + 0.4 * Math.sin(5 * u),
  0.5 + 0.4 * Math.cos(4 * v),
  0.5 + 0.3 * Math.sin(3 * (u + v)),
]

/** A hilly sheet with its own UVs in “old” and others, as two islands side by side and upright, in “new”. */
function twoSets(): Scene {
  const grid = gridOf(8, 8, {}, (x, z) => Math.sin(x / 3) + 0.2 * z)
  const faceSets = Int32Array.from({ length: 64 }, (_, face) => (face % 8 < 3 ? 0 : 1))
  const scene = sceneOf([
    {
      ...grid,
      uvSets: [{ ...grid.uvSets[0]!, name: 'old' }],
      groups: { names: ['a', 'b'], sets: [[0], [1]], faceSets },
    },
  ])
  return runStep(scene, {
    step: 'unwrap',
    params: { set: 'new', seams: 'groups', mapSize: SIDE, padding: 4 },
  }).scene
}

/** What a map shows at the middle of each polygon, through a set. */
function shownAt(scene: Scene, setName: string, png: Uint8Array): number[][] {
  const [mesh] = scene.meshes
  const set = mesh!.uvSets.find(({ name }) => name === setName)!
  const { width, channels, values } = readPng(png)!
  return Array.from({ length: 64 }, (_, face) => {
    let [u, v] = [0, 0]
    for (let corner = 4 * face; corner < 4 * face + 4; corner++) {
      u += set.values[2 * set.indices[corner]!]! / 4
      v += set.values[2 * set.indices[corner]! + 1]! / 4
    }
    const at = (Math.floor((1 - v) * width) * width + Math.floor(u * width)) * channels
    return Array.from(values.subarray(at, at + channels), (value) => value / 255)
  })
}

describe('row by row', () => {
  test.each(IN_THE_LONG_RUN ? [0, 1, 7, 40] : [0, 7])(
    'the same pixels as in one go, padded by %i',
    async (padding) => {
      const scene = twoSets()
      const maps = [
        await painted('cloth_basecolor.png', (u, v) => [...hills(u, v), 0.2 + 0.6 * u], 4),
        await painted('cloth_normal_dx.png', (u, v) => [0.5 + 0.3 * u, 0.5 - 0.2 * v, 0.9]),
      ]
      const made = async (pixelsAtOnce?: number) => {
        const options = { from: 'old', set: 'new', size: 48, padding, kind: 'byName' }
        const told: number[] = []
        const { files, notes, refused } = await carryMaps(
          scene,
          maps,
          options,
          (share) => told.push(share),
          NODE_HOST.images,
          pixelsAtOnce,
        )
        expect(told).toEqual([...told].sort((a, b) => a - b))
        expect(told.at(-1)).toBeCloseTo(1)
        return { notes, refused, pixels: files.map(({ name, bytes }) => ({ name, ...readPng(bytes)! })) }
      }
      const whole = await made()
      expect(whole.pixels.map(({ name, channels }) => [name, channels])).toEqual([
        ['cloth_basecolor.png', 4],
        ['cloth_normal_dx.png', 3],
      ])
      expect(whole.pixels[0]!.values.some((value) => value > 0)).toBe(true)
      for (const rows of [1, 5, 30]) expect(await made(rows * 48)).toEqual(whole)
    },
  )
})

describe('carried', () => {
  test('colours stay on the surface, with opacity, and how far they are off is measured', async () => {
    const scene = twoSets()
    const source = await painted('cloth_basecolor.png', (u, v) => [...hills(u, v), 0.2 + 0.6 * u], 4)
    const { files, refused, notes } = await carry(scene, [source], { from: 'old', set: 'new' })
    expect(refused).toEqual([])
    expect(files.map(({ name }) => name)).toEqual(['cloth_basecolor.png'])
    const [before, after] = [shownAt(scene, 'old', source.bytes), shownAt(scene, 'new', files[0]!.bytes)]
    after.forEach((own, face) => {
      expect(own).toHaveLength(4)
      own.forEach((value, channel) => expect(Math.abs(value - before[face]![channel]!)).toBeLessThan(0.03))
    })
    const [, mean, most] = /off by ([\d.]+) in the mean and ([\d.]+) at most/.exec(notes!.join(' '))!
    expect(Number(mean)).toBeGreaterThan(0)
    expect(Number(mean)).toBeLessThan(0.5)
    expect(Number(most)).toBeLessThan(6)
  })
  test('and is padded: rings of what is nearest lie past the islands', async () => {
    const source = await painted('cloth_basecolor.png', () => [1, 1, 1])
    const whiteWith = async (padding: number): Promise<number> => {
      const { files } = await carry(twoSets(), [source], { padding })
      const { channels, values } = readPng(files[0]!.bytes)!
      return values.filter((value, at) => at % channels === 0 && value > 250).length
    }
    const [bare, four, all] = [await whiteWith(0), await whiteWith(4), await whiteWith(SIDE)]
    // the islands' borders are more than 200 pixels long
    expect(four).toBeGreaterThan(bare + 300)
    expect(all).toBe(SIDE * SIDE)
  })
  test('normals are turned with the islands: a lean to the model’s own side stays one', async () => {
    const scene = twoSets()
    // leaning along u everywhere
    const lean = 0.5 + 0.5 * Math.sin(0.5)
    const up = 0.5 + 0.5 * Math.cos(0.5)
    const source = await painted('cloth_normal_gl.png', () => [lean, 0.5, up])
    const there = await carry(scene, [source], { from: 'old', set: 'new' })
    const back = await carry(scene, [{ name: 'cloth_normal_gl.png', bytes: there.files[0]!.bytes }], {
      from: 'new',
      set: 'old',
    })
    for (const own of shownAt(scene, 'old', back.files[0]!.bytes))
      [lean, 0.5, up].forEach((value, channel) => expect(Math.abs(own[channel]! - value)).toBeLessThan(0.03))
    // an island that lies turned has another way to lean in its map
    const turned = shownAt(scene, 'new', there.files[0]!.bytes)
    expect(turned.some(([x]) => Math.abs(x! - lean) > 0.1)).toBe(true)
  })
  test('plain numbers are no colours; one channel stays one', async () => {
    const scene = twoSets()
    const grey = await sharp(Buffer.from((await painted('x.png', hills)).bytes))
      .greyscale()
      .toColourspace('b-w')
      .png()
      .toBuffer()
    const { files, notes } = await carry(scene, [
      { name: 'cloth_roughness.png', bytes: new Uint8Array(grey) },
    ])
    expect(readPng(files[0]!.bytes)!.channels).toBe(1)
    expect(notes!.join(' ')).toMatch(/off by [\d.]+ % in the mean/)
  })
  test('what can’t be carried is said', async () => {
    const source = await painted('cloth_basecolor.png', hills)
    const why = async (scene: Scene | null, options: OptionValues = {}) =>
      (await carry(scene, [source], options)).refused.map((one) => one.why)
    expect(await why(null)).toEqual(['it takes a model with UVs'])
    expect(await why(sceneOf([gridOf(2, 2)]))).toEqual(['the model has no second UV set'])
    expect(await why(twoSets(), { from: 'gone' })).toEqual(['the model has no UV set “gone”'])
    expect(await why(twoSets(), { from: 'old', set: 'old' })).toEqual([
      'it is carried to the set that it was painted for',
    ])
    const broken = await carry(twoSets(), [{ name: 'a.png', bytes: Uint8Array.of(1, 2, 3) }, source])
    expect(broken.refused.map(({ file }) => file)).toEqual(['a.png'])
    expect(broken.files).toHaveLength(1)
  })
})
