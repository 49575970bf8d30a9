/**
 * Images of every kind against the pixels that OpenImageIO 2.4.7 reads of them: tests/reference/images/images.json.
 * EXR by three's loader, HDR and TGA by the project's own readers, the rest by sharp.
 */
import { describe, expect, test } from 'vitest'
import { readHdr } from '../../src/core/image/codecs/read-hdr.ts'
import { readTga } from '../../src/core/image/codecs/read-tga.ts'
import { ImageRefused, readHeader, readPixels } from '../../src/host/images/read-pixels.ts'
import { reference, referenceBytes } from '../reference/reference.ts'

interface Known {
  readonly file: string
  readonly width: number
  readonly height: number
  readonly channels: number
  readonly type: string
  readonly pixels: readonly number[]
}
const { images } = reference<{ images: readonly Known[] }>('images/images.json')

describe('pixels as OpenImageIO reads them', () => {
  test.each(images)('$file', async ({ file, width, height, channels, type, pixels }) => {
    const bytes = referenceBytes(`images/${file}`)
    const header = await readHeader(bytes, file)
    expect([header.width, header.height]).toEqual([width, height])
    const read = await readPixels(bytes)
    expect([read.width, read.height]).toEqual([width, height])
    const isFloat = type === 'float' || type === 'half'
    expect(read.bits).toBe(type === 'uint8' ? 8 : type === 'uint16' ? 16 : 32)
    for (let pixel = 0; pixel < width * height; pixel++)
      for (let channel = 0; channel < Math.min(3, channels); channel++) {
        // a grey image may come as three alike
        const own = read.values[pixel * read.channels + Math.min(channel, read.channels - 1)]!
        const expected = pixels[pixel * channels + channel]!
        if (isFloat)
          expect(Math.abs(own - expected), `${pixel}`).toBeLessThanOrEqual(
            1e-6 * Math.max(1, Math.abs(expected)),
          )
        else expect(own, `pixel ${pixel}, channel ${channel}`).toBe(expected)
      }
  })
})

describe('what can’t be read is said, and nothing is allocated for what a header claims', () => {
  const first = (file: string): Uint8Array => referenceBytes(`images/${file}`)
  test.each(images.map(({ file }) => file))('%s, cut off at every tenth part', async (file) => {
    const bytes = first(file)
    for (let share = 0; share < 10; share++) {
      const cut = bytes.subarray(0, Math.floor((bytes.length * share) / 10))
      // it is refused in words, or read as far as its library forgives; it never fails otherwise
      await readPixels(cut).catch((error: unknown) => expect(error).toBeInstanceOf(ImageRefused))
      await readHeader(cut, file).catch((error: unknown) => expect(error).toBeInstanceOf(ImageRefused))
    }
  })
  test('headers that claim more than the file holds', () => {
    const tga = first('tga8-rgb.tga').slice()
    new DataView(tga.buffer).setUint16(12, 60000, true)
    new DataView(tga.buffer).setUint16(14, 60000, true)
    expect(readTga(tga)).toBeNull()
    const text = '#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 60000 +X 60000\n'
    expect(readHdr(Uint8Array.from(text, (letter) => letter.charCodeAt(0)))).toBeNull()
  })
  test('random changes of TGA and HDR end in pixels or in nothing', () => {
    let seed = 7
    const chance = (): number => (seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648
    for (const [file, read] of [
      ['tga8-rgb.tga', readTga],
      ['tga8-grey.tga', readTga],
      ['hdr.hdr', readHdr],
    ] as const)
      for (let round = 0; round < 400; round++) {
        const bytes = first(file).slice()
        for (let change = 0; change < 1 + 6 * chance(); change++)
          bytes[Math.floor(chance() * bytes.length)] = Math.floor(chance() * 256)
        const pixels = read(bytes)
        if (pixels) expect(pixels.values.length).toBe(pixels.width * pixels.height * pixels.channels)
      }
  })
  test('other kinds by name and by content', async () => {
    await expect(readHeader(new TextEncoder().encode('<svg/>'), 'a.svg')).rejects.toThrow('it is a drawing')
    await expect(readHeader(new TextEncoder().encode('hello'), 'a.png')).rejects.toThrow(
      'of no kind that is known',
    )
  })
})
