/** Operations on images: against values by hand, the reference's transfer, and files of the command line. */
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import sharp from 'sharp'
import { FloatType } from 'three'
import { HDRLoader } from 'three/addons/loaders/HDRLoader.js'
import { TGALoader } from 'three/addons/loaders/TGALoader.js'
import { afterAll, describe, expect, test } from 'vitest'
import { defaultsOf, hasValue, type OptionValues } from '../../src/core/base/options/option.ts'
import { normalFacts } from '../../src/core/image/operations/normal-direction.ts'
import { imageOperation, IMAGE_OPERATIONS } from '../../src/core/image/operations/registry.ts'
import type { Pixels } from '../../src/core/image/pixels.ts'
import { readPng } from '../../src/core/image/codecs/read-png.ts'
import { decodeSrgb, encodeSrgb } from '../../src/core/image/transfer.ts'
import { canvasPixels, createCanvas } from '../../src/core/surfaces/one-map/canvas.ts'
import { workOnImage } from '../../src/core/image/operations/work-on-image.ts'
import { workOnImages } from '../../src/app/work-on-images.ts'
import { NODE_HOST } from '../../src/host/node-host.ts'
import { kelbo } from '../command-line.ts'
import { readText } from '../meshes.ts'
import { IMAGE_READER } from '../../src/host/images/image-reader.ts'
import { pixelsOrWhy } from '../../src/host/images/read-pixels.ts'
import { writeExr } from '../../src/host/images/write-exr.ts'
import { reference, referenceBytes } from '../reference/reference.ts'

const image = (
  width: number,
  height: number,
  channels: 1 | 2 | 3 | 4,
  values: readonly number[],
  bits: 8 | 16 | 32 = 8,
): Pixels => ({
  width,
  height,
  channels,
  bits,
  values:
    bits === 8 ? Uint8Array.from(values) : bits === 16 ? Uint16Array.from(values) : Float32Array.from(values),
})
function run(
  id: string,
  given: readonly Pixels[],
  options: OptionValues = {},
  names: readonly string[] = [],
) {
  const operation = imageOperation(id)!
  const all = { ...defaultsOf(operation.options.filter(hasValue)), ...options }
  return operation.run(
    given.map((pixels, at) => ({ name: names[at] ?? `image${at}.png`, pixels })),
    all,
  )
}
const one = (id: string, pixels: Pixels, options: OptionValues = {}): Pixels =>
  run(id, [pixels], options)[0]!.pixels

const anyImage = fc
  .record({
    width: fc.integer({ min: 1, max: 9 }),
    height: fc.integer({ min: 1, max: 9 }),
    channels: fc.constantFrom(1, 2, 3, 4),
    bits: fc.constantFrom(8, 16),
    seed: fc.integer({ min: 1, max: 1e6 }),
  })
  .map(({ width, height, channels, bits, seed }) => {
    let state = seed
    const values = Array.from({ length: width * height * channels }, () => {
      state = (Math.imul(state, 1664525) + 1013904223) >>> 0
      return state % (bits === 8 ? 256 : 65536)
    })
    return image(width, height, channels as 1, values, bits as 8)
  })

describe('there and back', () => {
  test('turned round twice, flipped twice, cut and joined: the same to the last bit', () => {
    fc.assert(
      fc.property(anyImage, (pixels) => {
        expect(one('invert', one('invert', pixels)).values).toEqual(pixels.values)
        if (pixels.channels >= 3)
          expect(one('flip-green', one('flip-green', pixels)).values).toEqual(pixels.values)
        const tiles = run('cut-tiles', [pixels], { columns: 1, rows: pixels.height }, ['cloth.png'])
        expect(tiles[1]?.name ?? 'cloth.1011').toBe('cloth.1011')
        const joined = run(
          'join-tiles',
          tiles.map((tile) => tile.pixels),
          {},
          tiles.map(({ name }) => `${name}.png`),
        )
        expect(joined[0]!.pixels.values).toEqual(pixels.values)
        expect(one('resize', pixels, { size: Math.max(pixels.width, pixels.height) }).values).toEqual(
          pixels.values,
        )
      }),
      { numRuns: 60 },
    )
  })
  test('16 bits as light and back are the same but for the dark, which 16 bits of light hold too', () => {
    const ramp = image(
      256,
      1,
      1,
      Array.from({ length: 256 }, (_, at) => at * 257),
      16,
    )
    const back = one('change-space', one('change-space', ramp), { to: 'sRGB' })
    for (let at = 0; at < 256; at++) expect(Math.round(back.values[at]! / 257)).toBe(at)
  })
  test('channels packed and taken out again', () => {
    const greys = [3, 90, 200, 77].map((value) => image(2, 2, 1, [value, 0, 255, value]))
    const [packed] = run('pack-channels', greys)
    for (const [at, channel] of ['r', 'g', 'b', 'a'].entries())
      expect(one('take-channel', packed!.pixels, { channel }).values).toEqual(greys[at]!.values)
    expect(one('take-channel', image(1, 1, 3, [1, 2, 3]), { channel: 'a' }).values).toEqual(
      Uint8Array.of(255),
    )
  })
})

describe('values by hand', () => {
  test('the transfer is that of the reference', () => {
    const { srgb, depth } = reference<{
      srgb: {
        decode8: { code: number; linear: number }[]
        decode16: { code: number; linear: number }[]
        encode: { linear: number; srgb: number; code8: number; code16: number }[]
      }
      depth: { '8to16': [number, number][]; '16to8': [number, number][] }
    }>('images/images.json')
    for (const { code, linear } of srgb.decode8) expect(decodeSrgb(code / 255)).toBeCloseTo(linear, 10)
    for (const { code, linear } of srgb.decode16) expect(decodeSrgb(code / 65535)).toBeCloseTo(linear, 10)
    for (const { linear, srgb: stored, code8, code16 } of srgb.encode) {
      expect(encodeSrgb(linear)).toBeCloseTo(stored, 8)
      const float = image(1, 1, 1, [linear], 32)
      const whole = (bits: 8 | 16): number =>
        one('change-bits', one('change-space', float, { to: 'sRGB' }), { bits, dither: false }).values[0]!
      expect([whole(8), whole(16)]).toEqual([code8, code16])
    }
    for (const [from, to] of depth['8to16'])
      expect(one('change-bits', image(1, 1, 1, [from]), { bits: 16 }).values[0]).toBe(to)
    for (const [from, to] of depth['16to8']) {
      expect(one('change-bits', image(1, 1, 1, [from], 16), { bits: 8, dither: false }).values[0]).toBe(to)
      const canvas = createCanvas(1, 1, 1, 'linear')
      canvas.values[0] = from
      expect(canvasPixels(canvas, 8).values[0]).toBe(to)
    }
    // IEC 61966-2-1: mid grey
    expect(decodeSrgb(0.5)).toBeCloseTo(0.21404114, 8)
    expect(one('change-space', image(1, 1, 2, [128, 77])).values).toEqual(Uint8Array.of(55, 77))
  })
  test('8 bits of 16: with noise what lies between steps stays in the mean, without it there are bands', () => {
    const between = image(64, 64, 1, new Array<number>(4096).fill(100 * 257 + 64), 16)
    const mean = ({ values }: Pixels): number =>
      [...values].reduce((sum, value) => sum + value, 0) / values.length
    expect(mean(one('change-bits', between, { bits: 8, dither: false }))).toBe(100)
    expect(mean(one('change-bits', between, { bits: 8, dither: true }))).toBeCloseTo(100 + 64 / 257, 1)
    const ends = image(2, 1, 1, [0, 65535], 16)
    expect(one('change-bits', ends, { bits: 8 }).values).toEqual(Uint8Array.of(0, 255))
    expect(one('change-bits', image(2, 1, 1, [7, 255]), { bits: 16 }).values).toEqual(
      Uint16Array.of(7 * 257, 65535),
    )
    expect(one('change-bits', image(3, 1, 1, [NaN, 7, -1], 32), { bits: 8 }).values).toEqual(
      Uint8Array.of(0, 255, 0),
    )
  })
  test('smaller: black and white are half the light, codes are never mixed, normals stay of unit length', () => {
    const checker = image(
      32,
      32,
      3,
      Array.from({ length: 32 * 32 * 3 }, (_, at) => ((Math.floor(at / 3) + Math.floor(at / 96)) % 2) * 255),
    )
    const small = one('resize', checker, { size: 4 })
    const middle = small.values[(1 * 4 + 1) * 3]!
    expect(Math.abs(middle - 255 * encodeSrgb(0.5))).toBeLessThan(3)
    const plain = one('resize', checker, { size: 4, kind: 'data' })
    expect(Math.abs(plain.values[(1 * 4 + 1) * 3]! - 127.5)).toBeLessThan(3)
    for (const value of one('resize', checker, { size: 5, kind: 'id' }).values)
      expect([0, 255]).toContain(value)
    const waves = readPng(referenceBytes('images/normal-waves-y-up.png'))!
    const half = one('resize', waves, { size: waves.width / 2, kind: 'normals' })
    for (let at = 0; at < half.values.length; at += 3) {
      const length = Math.hypot(...[0, 1, 2].map((part) => (half.values[at + part]! / 255) * 2 - 1))
      expect(Math.abs(length - 1)).toBeLessThan(0.01)
    }
    expect(normalFacts(half).direction).toBe('up')
    expect(normalFacts(one('flip-green', half)).direction).toBe('down')
  })
  test('colours under clear pixels do not come through', () => {
    const edge = image(2, 1, 4, [255, 0, 0, 255, 0, 255, 0, 0])
    expect([...one('resize', edge, { size: 1 }).values.slice(0, 3)]).toEqual([255, 0, 0])
  })
  test('normals that were scaled are of unit length again; what points nowhere points out', () => {
    const short = image(2, 1, 3, [128 + 32, 128, 128 + 32, 128, 128, 128])
    const [x, y, z] = one('renormalise', short).values
    expect(Math.hypot((x! / 255) * 2 - 1, (y! / 255) * 2 - 1, (z! / 255) * 2 - 1)).toBeCloseTo(1, 1)
    const nowhere = one('renormalise', image(1, 1, 3, [0.5, 0.5, 0.5], 32))
    expect([...nowhere.values]).toEqual([0.5, 0.5, 1])
  })
  test('floats are written as OpenEXR and read back as they are, rows the right way up', async () => {
    const values = [0.25, 1e-3, 70000, -2, 0.5, 3]
    const back = await pixelsOrWhy(await writeExr(image(1, 2, 3, values, 32)))
    if ('why' in back) throw new Error(back.why)
    expect([...back.values].filter((_, at) => at % 4 < 3)).toEqual(values.map(Math.fround))
  })
})

describe('what can’t be done is said', () => {
  test.each([
    ['flip-green', [image(1, 1, 1, [0])], 'is grey'],
    ['renormalise', [image(1, 1, 1, [0])], 'is grey'],
    ['pack-channels', [image(1, 1, 1, [0])], 'Two to four'],
    ['pack-channels', [image(1, 1, 1, [0]), image(2, 1, 1, [0, 0])], 'resize one of them first'],
    ['join-tiles', [image(1, 1, 1, [0])], 'no number of a tile'],
    ['cut-tiles', [image(3, 3, 1, new Array<number>(9).fill(0))], 'without a rest'],
  ] as const)('%s', (id, given, words) => {
    expect(() => run(id, given)).toThrow(words)
  })
})

describe('from the command line', () => {
  const folder = mkdtempSync(join(tmpdir(), 'kelbo-image-'))
  afterAll(() => rmSync(folder, { recursive: true, force: true }))
  test('every operation is listed, with its options', () => {
    const { operations } = JSON.parse(kelbo('image', '--list', '--json').out) as {
      operations: { id: string }[]
    }
    expect(operations.map(({ id }) => id)).toEqual(IMAGE_OPERATIONS.map(({ id }) => id))
  })
  test('a folder of images, one of them broken: the rest is done, and it is said', async () => {
    for (const name of ['a.png', 'b.webp'])
      await sharp({
        create: { width: 8, height: 4, channels: 3, background: { r: 10, g: 200, b: 30 } },
      }).toFile(join(folder, name))
    writeFileSync(join(folder, 'c.png'), 'no image')
    const answer = kelbo('image', 'resize', folder, join(folder, 'out'), '--option', 'size=4', '--json')
    expect(answer.status).toBe(1)
    expect(readdirSync(join(folder, 'out')).sort()).toEqual(['a.png', 'b.png'])
    const small = readPng(new Uint8Array(readFileSync(join(folder, 'out/a.png'))))!
    expect([small.width, small.height, ...small.values.slice(0, 3)]).toEqual([4, 2, 10, 200, 30])
    const { refused } = JSON.parse(answer.out) as { refused: { file: string }[] }
    expect(refused.map(({ file }) => file)).toEqual(['c.png'])
  })
  test('what is no operation, no option, no file: one sentence', () => {
    for (const args of [
      ['melt', folder, folder],
      ['resize', folder, folder, '--option', 'size=0'],
      ['resize', join(folder, 'none'), folder],
    ]) {
      const answer = kelbo('image', ...args)
      expect(answer.status).toBe(2)
      expect(answer.err.trim()).toMatch(/^[^\n]+[.)]$/)
    }
  })
})

describe('by rows', () => {
  const packed = (
    { width, height, channels, bits, values }: Pixels,
    progressive = false,
  ): Promise<Buffer> => {
    let made = sharp(values as Uint8Array, { raw: { width, height, channels } })
    if (bits === 16) made = made.toColourspace(channels < 3 ? 'grey16' : 'rgb16')
    else if (channels < 3) made = made.toColourspace('b-w')
    return made.png({ compressionLevel: 1, adaptiveFiltering: true, progressive }).toBuffer()
  }
  const random = (
    seed: number,
    width: number,
    height: number,
    channels: 1 | 2 | 3 | 4,
    bits: 8 | 16,
  ): Pixels => {
    let state = seed
    // slopes with noise, so that every filter of a row has its turn
    const values = Array.from({ length: width * height * channels }, (_, at) => {
      state = (Math.imul(state, 1103515245) + 12345) >>> 0
      const most = bits === 8 ? 255 : 65535
      const slope = ((at % (width * channels)) / (width * channels)) * most * 0.8
      return Math.min(most, Math.round(slope + ((state >>> 16) / 65536) * most * (seed % 3 ? 0.02 : 0.2)))
    })
    return image(width, height, channels, values, bits)
  }
  const rowsOf = async (bytes: Uint8Array, rowCount: number): Promise<Pixels> => {
    const reader = IMAGE_READER.rows(bytes)!
    const values: number[] = []
    for (let rows = await reader.next(rowCount); rows; rows = await reader.next(rowCount))
      values.push(...rows.values)
    const { width, height, channels, bits } = reader.form
    return image(width, height, channels, values, bits)
  }

  /** Grey with opacity, which sharp unpacks as three equal colours with it. */
  const onePerPixel = (pixels: Pixels, channels: number): Pixels =>
    pixels.channels === 4 && channels === 2
      ? image(
          pixels.width,
          pixels.height,
          2,
          [...pixels.values].filter((_, at) => at % 4 === 0 || at % 4 === 3),
          pixels.bits,
        )
      : pixels
  test('a PNG read and written by rows has the pixels that sharp finds and gives', async () => {
    for (const [at, [channels, bits]] of ([1, 2, 3, 4] as const)
      .flatMap((one) => [8, 16].map((two) => [one, two as 8 | 16] as const))
      .entries()) {
      const own = random(at + 1, 37 + at, 23 + 2 * at, channels, bits)
      const bytes = new Uint8Array(await packed(own))
      expect(await rowsOf(bytes, 5)).toEqual(own)
      const packer = IMAGE_READER.packRows(own, 'linear')
      const line = own.width * channels
      for (let row = 0; row < own.height; row += 7) {
        const height = Math.min(7, own.height - row)
        await packer.add({ ...own, height, values: own.values.subarray(row * line, (row + height) * line) })
      }
      const written = await pixelsOrWhy(await packer.end())
      expect(onePerPixel(written as Pixels, channels)).toEqual(own)
    }
  })
  test('what can’t be had by rows is left to the whole: interlaced, a palette, another kind of file', async () => {
    const own = random(1, 16, 16, 3, 8)
    expect(IMAGE_READER.rows(new Uint8Array(await packed(own, true)))).toBeNull()
    const palette = await sharp(own.values as Uint8Array, { raw: { width: 16, height: 16, channels: 3 } })
      .png({ palette: true })
      .toBuffer()
    expect(IMAGE_READER.rows(new Uint8Array(palette))).toBeNull()
    expect(IMAGE_READER.rows(Uint8Array.of(1, 2, 3))).toBeNull()
  })
  test.each(IMAGE_OPERATIONS.filter(({ byRows }) => byRows).map(({ id }) => id))(
    '%s gives the same by rows as at once',
    async (id) => {
      const operation = imageOperation(id)!
      const options = { ...defaultsOf(operation.options.filter(hasValue)), dither: true }
      for (const [seed, bits] of [
        [3, 8],
        [4, 16],
      ] as const) {
        const given = await Promise.all(
          Array.from({ length: operation.takes === 'all' ? 3 : 1 }, async (_, at) => ({
            name: `image${at}.png`,
            bytes: new Uint8Array(await packed(random(seed + at, 31, 29, 3, bits))),
          })),
        )
        const shares: number[] = []
        const rows = await workOnImage(
          operation,
          options,
          given,
          IMAGE_READER,
          (share) => shares.push(share),
          400,
        )
        expect(shares.length).toBeGreaterThan(5)
        const whole = await workOnImage(operation, options, given, IMAGE_READER)
        expect(rows.refused).toEqual([])
        expect(rows.files.map(({ name }) => name)).toEqual(whole.files.map(({ name }) => name))
        for (const [at, { bytes }] of rows.files.entries())
          expect(await pixelsOrWhy(bytes)).toEqual(await pixelsOrWhy(whole.files[at]!.bytes))
      }
    },
  )
  test.each([
    ['cut-tiles', { columns: 3, rows: 2 }, ['cloth.png'], 4],
    ['join-tiles', { name: 'all' }, ['a.1001.png', 'a.1012.png', 'a.1002.png'], 4],
    ['resize', { size: 90, kind: 'color' }, ['cloth.png'], 4],
    ['resize', { size: 17, kind: 'normals' }, ['cloth.png'], 3],
    ['resize', { size: 25, kind: 'data' }, ['cloth.png'], 1],
    ['resize', { size: 50, kind: 'id' }, ['cloth.png'], 3],
    ['resize', { size: 30, kind: 'color' }, ['same size.png'], 3],
    ['resize', { size: 1, kind: 'color' }, ['cloth.png'], 4],
  ] as const)(
    '%s %o makes the same of some rows at a time as of all',
    async (id, options, names, channels) => {
      const operation = imageOperation(id)!
      expect(operation.streamed).toBeDefined()
      for (const bits of [8, 16] as const) {
        const given = await Promise.all(
          names.map(async (name, at) => ({
            name,
            bytes: new Uint8Array(await packed(random(11 + at, 30, 28, channels, bits))),
          })),
        )
        const whole = await workOnImage(operation, options, given, IMAGE_READER)
        expect(whole.files.length).toBeGreaterThan(0)
        for (const stripValues of [1, 170, 400, 2500]) {
          const shares: number[] = []
          const rows = await workOnImage(
            operation,
            options,
            given,
            IMAGE_READER,
            (share) => shares.push(share),
            stripValues,
          )
          expect(rows.refused).toEqual([])
          if (stripValues === 1) expect(shares.length).toBeGreaterThanOrEqual(28)
          expect(rows.files.map(({ name }) => name).sort()).toEqual(
            whole.files.map(({ name }) => name).sort(),
          )
          for (const { name, bytes } of rows.files)
            expect(await pixelsOrWhy(bytes)).toEqual(
              await pixelsOrWhy(whole.files.find((one) => one.name === name)!.bytes),
            )
        }
      }
    },
  )
  test('tiles that can’t be cut or joined are refused before a row is read', async () => {
    const bytes = new Uint8Array(await packed(random(5, 64, 64, 3, 8)))
    const refusalOf = async (id: string, options: OptionValues, names: readonly string[]) =>
      (
        await workOnImage(
          imageOperation(id)!,
          options,
          names.map((name) => ({ name, bytes })),
          IMAGE_READER,
          undefined,
          400,
        )
      ).refused.map(({ why }) => why)
    expect(await refusalOf('cut-tiles', { columns: 3, rows: 2 }, ['a.png'])).toEqual([
      '“a.png” is 64 × 64: that can’t be cut into 3 by 2 without a rest.',
    ])
    expect(await refusalOf('join-tiles', { name: 'all' }, ['a.1001.png', 'b.png'])).toEqual([
      '“b.png” has no number of a tile in its name.',
    ])
  })
  test('a file that breaks off in the middle is said to be broken, by rows as well', async () => {
    const bytes = new Uint8Array(await packed(random(5, 64, 64, 3, 8)))
    const cut = bytes.slice(0, bytes.length >> 1)
    const { files, refused } = await workOnImage(
      imageOperation('invert')!,
      {},
      [{ name: 'cut.png', bytes: cut }],
      IMAGE_READER,
      undefined,
      400,
    )
    expect(files).toEqual([])
    expect(refused).toEqual([{ file: 'cut.png', why: 'it is broken or ends early' }])
  })
  test('a broken file whose rows nobody asks for disturbs nobody', async () => {
    const bytes = new Uint8Array(await packed(random(7, 64, 64, 3, 8)))
    const failed: unknown[] = []
    const onFailure = (error: unknown): void => void failed.push(error)
    process.on('uncaughtException', onFailure)
    // behind the header there is nothing
    expect(IMAGE_READER.rows(bytes.slice(0, 40))).toBeNull()
    bytes.fill(0xff, bytes.length >> 1, (bytes.length >> 1) + 40)
    expect(IMAGE_READER.rows(bytes)!.form.width).toBe(64)
    await IMAGE_READER.rows(bytes)!
      .next(2)
      .catch(() => undefined)
    await new Promise((resolve) => setTimeout(resolve, 50))
    process.off('uncaughtException', onFailure)
    expect(failed).toEqual([])
  })
  test('a wrong sum in the middle of the data ends in words, not in a hang', async () => {
    const bytes = new Uint8Array(await packed(random(6, 64, 64, 3, 8)))
    for (let at = bytes.length >> 1; at < (bytes.length >> 1) + 30; at++) bytes[at]! ^= 0x5a
    const { files, refused } = await workOnImage(
      imageOperation('invert')!,
      {},
      [{ name: 'bent.png', bytes }],
      IMAGE_READER,
      undefined,
      400,
    )
    expect(files.length + refused.length).toBe(1)
  })
})

describe('kinds of files', () => {
  const one = (bits: 8 | 16 | 32, channels: 1 | 3 | 4): Pixels => {
    const width = 13
    const height = 7
    const full = bits === 8 ? 255 : bits === 16 ? 65535 : 1
    const values = Array.from({ length: width * height * channels }, (_, at) => {
      const share = ((at * 37) % 101) / 100
      return bits === 32 ? share * 3 : Math.round(share * full)
    })
    return image(width, height, channels, values, bits)
  }
  const saved = async (pixels: Pixels, kind: string, space: 'sRGB' | 'linear' = 'linear') => {
    const bytes = await IMAGE_READER.packAs(pixels, space, { kind: kind as 'png', quality: 95 })
    const back = await pixelsOrWhy(bytes)
    if ('why' in back) throw new Error(`${kind}: ${back.why}`)
    return { bytes, back }
  }
  test.each([
    ['png', 8, 3],
    ['png', 16, 4],
    ['tiff', 8, 1],
    ['tiff', 16, 3],
    ['tga', 8, 1],
    ['tga', 8, 3],
    ['tga', 8, 4],
  ] as const)('%s of %i bits and %i channels comes back the same', async (kind, bits, channels) => {
    const own = one(bits, channels)
    expect((await saved(own, kind)).back).toEqual(own)
  })
  test('HDR is within the step of its mantissa, EXR the same; three reads both alike', async () => {
    const own = one(32, 3)
    const hdr = await saved(own, 'hdr')
    const { data } = new HDRLoader().setDataType(FloatType).parse(hdr.bytes.slice().buffer)
    own.values.forEach((value, at) => {
      const pixel = 3 * Math.floor(at / 3)
      const largest = Math.max(...own.values.subarray(pixel, pixel + 3))
      expect(Math.abs(hdr.back.values[at]! - value)).toBeLessThanOrEqual(largest / 255)
      expect(
        Math.abs((data as Float32Array)[4 * Math.floor(at / 3) + (at % 3)]! - value),
      ).toBeLessThanOrEqual(largest / 127)
    })
    const exr = await saved(own, 'exr')
    own.values.forEach((value, at) =>
      expect(exr.back.values[4 * Math.floor(at / 3) + (at % 3)]).toBe(Math.fround(value)),
    )
  })
  test('numbers that HDR can’t say: the largest, none, and such that are no numbers', async () => {
    const own = image(2, 2, 3, [1e30, 1e-30, 0, NaN, -1, 0.5, 1e39, 1, 1, 255.7, 255.4, 128], 32)
    const { back } = await saved(own, 'hdr')
    expect(back.values[0]! / 1e30).toBeCloseTo(1, 2)
    expect([...back.values.subarray(3, 6)]).toEqual([0, 0, 0.5])
    expect(back.values[6]).toBeGreaterThan(1e38)
    expect(back.values[9]! / 255.7).toBeCloseTo(1, 2)
    for (const value of back.values) expect(Number.isFinite(value)).toBe(true)
  })
  test('colours that say sRGB stand as light in floats', async () => {
    const { back } = await saved(image(1, 1, 3, [188, 188, 188]), 'exr', 'sRGB')
    expect(back.values[0]).toBeCloseTo(decodeSrgb(188 / 255), 6)
    const { back: data } = await saved(image(1, 1, 3, [188, 188, 188]), 'exr', 'linear')
    expect(data.values[0]).toBeCloseTo(188 / 255, 6)
  })
  test('TGA as three reads it', async () => {
    const own = one(8, 3)
    const { bytes } = await saved(own, 'tga')
    const { data } = new TGALoader().parse(bytes.slice().buffer)
    own.values.forEach((value, at) =>
      expect((data as Uint8Array)[4 * Math.floor(at / 3) + (at % 3)]).toBe(value),
    )
  })
  test('JPEG and WebP are nearly the same; the command line names them', async () => {
    const own = image(
      16,
      16,
      3,
      Array.from({ length: 768 }, (_, at) => 80 + (Math.floor(at / 48) + ((at / 3) % 16)) * 3),
    )
    for (const kind of ['jpeg', 'webp']) {
      const { back } = await saved(own, kind)
      own.values.forEach((value, at) => expect(Math.abs(back.values[at]! - value), kind).toBeLessThan(14))
    }
    const folder = mkdtempSync(join(tmpdir(), 'kelbo-kinds-'))
    writeFileSync(
      join(folder, 'a.png'),
      await sharp(own.values as Uint8Array, { raw: own })
        .png()
        .toBuffer(),
    )
    for (const [kind, name] of [
      ['jpeg', 'a.jpg'],
      ['tiff', 'a.tif'],
      ['tga', 'a.tga'],
      ['hdr', 'a.hdr'],
    ] as const) {
      const { status } = kelbo(
        'image',
        'save-as',
        join(folder, 'a.png'),
        join(folder, 'out'),
        '--option',
        `kind=${kind}`,
      )
      expect(status).toBe(0)
      expect(readdirSync(join(folder, 'out'))).toContain(name)
    }
    rmSync(folder, { recursive: true })
  })
})

test('tiles that an image is cut into are files of their own, and come together again', async () => {
  const values = Array.from({ length: 8 * 8 * 3 }, (_, at) => at % 251)
  const bytes = new Uint8Array(
    await sharp(Uint8Array.from(values), { raw: { width: 8, height: 8, channels: 3 } })
      .png()
      .toBuffer(),
  )
  const work = (id: string, options: OptionValues, files: { name: string; bytes: Uint8Array }[]) =>
    workOnImages(imageOperation(id)!, options, files, () => undefined, NODE_HOST.images)
  const cut = await work('cut-tiles', { columns: 2, rows: 2 }, [{ name: 'sail.v2.png', bytes }])
  expect(cut.files.map(({ name }) => name).sort()).toEqual([
    'sail.v2.1001.png',
    'sail.v2.1002.png',
    'sail.v2.1011.png',
    'sail.v2.1012.png',
  ])
  const joined = await work('join-tiles', { name: 'whole.v3' }, [...cut.files])
  expect(joined.files.map(({ name }) => name)).toEqual(['whole.v3.png'])
  expect([...readPng(joined.files[0]!.bytes)!.values]).toEqual(values)
})

test('a size that a kind of file can’t say is refused in words, and nothing else stops', async () => {
  const wide = await sharp({ create: { width: 20000, height: 2, channels: 3, background: '#123456' } })
    .png()
    .toBuffer()
  const { files, refused } = await workOnImages(
    imageOperation('save-as')!,
    { kind: 'webp', quality: 90 },
    [
      { name: 'wide.png', bytes: new Uint8Array(wide) },
      { name: 'small.png', bytes: new Uint8Array(await sharp(wide).resize(8, 2).png().toBuffer()) },
    ],
    () => undefined,
    NODE_HOST.images,
  )
  expect(files.map(({ name }) => name)).toEqual(['small.webp'])
  expect(refused[0]!.why).toBe('It is 20000 × 2, and a file of this kind has 16383 pixels a side at most.')
})

test('what would be of one name is kept apart', async () => {
  const color = (value: number) =>
    sharp({ create: { width: 2, height: 2, channels: 3, background: { r: value, g: value, b: value } } })
  const { files } = await workOnImages(
    imageOperation('invert')!,
    {},
    [
      { name: 'a.png', bytes: new Uint8Array(await color(10).png().toBuffer()) },
      { name: 'a.jpg', bytes: new Uint8Array(await color(20).jpeg().toBuffer()) },
      { name: 'A.PNG', bytes: new Uint8Array(await color(30).png().toBuffer()) },
    ],
    () => undefined,
    NODE_HOST.images,
  )
  expect(files.map(({ name }) => name)).toEqual(['a.png', 'a_2.png', 'A_3.png'])
  expect(files.map(({ bytes }) => readPng(bytes)!.values[0])).toEqual([245, 235, 225])
})

describe('past the islands’ borders', () => {
  const OBJ = `o part
v 0 0 0
v 1 0 0
v 1 1 0
v 0 1 0
vt 0.25 0.25
vt 0.75 0.25
vt 0.75 0.75
vt 0.25 0.75
vt 1.25 0.25
vt 1.75 0.25
vt 1.75 0.75
vt 1.25 0.75
f 1/1 2/2 3/3 4/4
f 1/5 2/6 3/7 4/8
`
  const operation = imageOperation('pad-islands')!
  // black beside the island, its own rows of colour on it
  const map = async (side: number, width = side): Promise<Uint8Array> => {
    const values = new Uint8Array(3 * side * width)
    for (let row = 0; row < side; row++)
      for (let column = 0; column < width; column++) {
        const isOn = [row, column].every((at) => at >= side / 4 && at < (3 * side) / 4)
        if (isOn) values.set([200, 4 * row, 4 * column], 3 * (row * width + column))
      }
    return new Uint8Array(
      await sharp(values, { raw: { width, height: side, channels: 3 } })
        .png()
        .toBuffer(),
    )
  }
  const work = async (names: readonly string[], options: OptionValues, bytes: Uint8Array) => {
    const { scene } = readText(OBJ)
    return workOnImages(
      operation,
      { ...defaultsOf(operation.options.filter(hasValue)), ...options },
      names.map((name) => ({ name, bytes })),
      () => undefined,
      NODE_HOST.images,
      scene,
    )
  }
  test('repeat the nearest pixel of an island, so far as is asked; on it nothing changes', async () => {
    const { files } = await work(['a.png', 'a.1002.png', 'a_u2_v1.png'], { width: 4 }, await map(32))
    expect(files.map(({ name }) => name)).toEqual(['a.png', 'a.1002.png', 'a_u2_v1.png'])
    for (const { bytes } of files) {
      const { values } = readPng(bytes)!
      const at = (row: number, column: number) => [
        ...values.subarray(3 * (row * 32 + column), 3 * (row * 32 + column) + 3),
      ]
      expect(at(16, 16)).toEqual([200, 64, 64])
      expect(at(16, 5)).toEqual([200, 64, 32])
      expect(at(4, 16)).toEqual([200, 32, 64])
      expect(at(16, 3)).toEqual([0, 0, 0])
    }
  })
  test('a tile without islands and an image that is no square are left, with why', async () => {
    const { files, refused } = await work(['a.1003.png'], {}, await map(32))
    expect([files.length, refused[0]!.why]).toEqual([0, 'The model has no islands where “a.1003.png” lies.'])
    const wide = await work(['wide.png'], {}, await map(16, 32))
    expect(wide.refused[0]!.why).toContain('maps of islands are square')
  })
  test('without a model it is not done', async () => {
    const { refused } = await workOnImages(
      operation,
      {},
      [{ name: 'a.png', bytes: await map(8) }],
      () => undefined,
      NODE_HOST.images,
    )
    expect(refused).toEqual([{ file: 'a.png', why: 'it takes a model with UVs' }])
  })
})
