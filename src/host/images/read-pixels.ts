/** Images by sharp, under the names that the core has. */
import sharp, { type Metadata } from 'sharp'
import { readHdr } from '../../core/image/codecs/read-hdr.ts'
import { readTga } from '../../core/image/codecs/read-tga.ts'
import { readImageSize, type ImageSize } from '../../core/image/read-image-size.ts'
import type { Pixels } from '../../core/image/pixels.ts'

/** Pixels of an image at most; what is larger is told and left. */
export const MOST_PIXELS = 16384 * 16384

const BITS: Readonly<Record<string, number>> = {
  uchar: 8,
  char: 8,
  ushort: 16,
  short: 16,
  uint: 32,
  int: 32,
  float: 32,
  double: 64,
}

export class ImageRefused extends Error {}

/** What the library of images says of a file, in words for people. */
export function refusal(error: unknown): ImageRefused {
  const [text] = (error as Error).message.split('\n')
  return new ImageRefused(
    /corrupt|unsupported image format|input buffer|end of|premature|truncated|bad seek|read error|^vips/i.test(
      text!,
    )
      ? 'it is broken or ends early'
      : text!.toLowerCase().replace(/[.:\s]+$/, ''),
  )
}

/** Kinds that are unpacked here and not by the library. */
const OWN_KINDS: ReadonlySet<string> = new Set(['tga', 'hdr', 'exr'])

/** Pixels of a kind that the library doesn't know. @throws ImageRefused where they can't be read. */
async function readOwn(bytes: Uint8Array, kind: ImageSize['kind']): Promise<Pixels> {
  let pixels: Pixels | null
  try {
    pixels =
      kind === 'tga'
        ? readTga(bytes)
        : kind === 'hdr'
          ? readHdr(bytes)
          : await (await import('./read-exr.ts')).readExr(bytes)
  } catch (error) {
    throw refusal(error)
  }
  if (!pixels)
    throw new ImageRefused(
      `it is a ${kind.toUpperCase()} file of a kind that can’t be unpacked, or ends early`,
    )
  return pixels
}

export interface ImageHeader {
  readonly width: number
  readonly height: number
  readonly bits: number | null
  readonly channels: number | null
  readonly pages: number
  readonly space: string | null
  readonly kind: ImageSize['kind']
}

/** What the header says, before a pixel is unpacked. @throws ImageRefused with why. */
export async function readHeader(bytes: Uint8Array, name: string): Promise<ImageHeader> {
  if (/\.svgz?$/i.test(name)) throw new ImageRefused('it is a drawing, not pixels')
  const size = readImageSize(bytes)
  if (!size) throw new ImageRefused('it is of no kind that is known, or ends before its size')
  if (size.width * size.height > MOST_PIXELS)
    throw new ImageRefused(`it would be ${size.width} × ${size.height} pixels`)
  if (['exr', 'hdr', 'tga', 'bmp'].includes(size.kind))
    return {
      ...size,
      bits: size.kind === 'exr' || size.kind === 'hdr' ? 32 : 8,
      channels: null,
      pages: 1,
      space: null,
    }
  let meta: Metadata
  try {
    meta = await sharp(bytes, { limitInputPixels: MOST_PIXELS }).metadata()
  } catch (error) {
    throw refusal(error)
  }
  const bits = BITS[meta.depth ?? ''] ?? null
  if (meta.space === 'cmyk') throw new ImageRefused('its colours are mixed for print (CMYK)')
  if ((meta.pages ?? 1) > 1 && meta.format !== 'tiff')
    throw new ImageRefused('it moves: it has several frames')
  return {
    width: size.width,
    height: size.height,
    bits,
    channels: meta.channels ?? null,
    pages: meta.pages ?? 1,
    space: meta.space ?? null,
    kind: size.kind,
  }
}

/**
 * @param largest pixels on a side; a larger image is made smaller by leaving pixels out, so that no value is mixed.
 * @throws ImageRefused with why.
 */
export async function readPixels(bytes: Uint8Array, largest = Infinity): Promise<Pixels> {
  const size = readImageSize(bytes)
  if (size && OWN_KINDS.has(size.kind)) {
    if (size.width * size.height > MOST_PIXELS) throw new ImageRefused('it is too large')
    return readOwn(bytes, size.kind)
  }
  try {
    let image = sharp(bytes, { limitInputPixels: MOST_PIXELS })
    const { depth, channels, width, height } = await image.metadata()
    const isDeep = depth === 'ushort'
    const isFloat = depth === 'float' || depth === 'double'
    if (isDeep) image = image.toColourspace(channels < 3 ? 'grey16' : 'rgb16')
    else if (!isFloat && channels === 1) image = image.toColourspace('b-w')
    if (isFloat) image = image.toColourspace(channels < 3 ? 'b-w' : 'scrgb')
    if (Math.max(width, height) > largest)
      image = image.resize({
        width: Math.round(Math.min(1, largest / Math.max(width, height)) * width),
        kernel: 'nearest',
      })
    const { data, info } = await image
      .raw({ depth: isFloat ? 'float' : isDeep ? 'ushort' : 'uchar' })
      .toBuffer({
        resolveWithObject: true,
      })
    const plain = data.buffer.slice(data.byteOffset, data.byteOffset + data.byteLength) as ArrayBuffer
    return {
      width: info.width,
      height: info.height,
      channels: info.channels as 3,
      bits: isFloat ? 32 : isDeep ? 16 : 8,
      values: isFloat ? new Float32Array(plain) : isDeep ? new Uint16Array(plain) : new Uint8Array(plain),
    }
  } catch (error) {
    throw refusal(error)
  }
}

/** All pixels of an image, its header read first; what can't be read says why. */
export async function pixelsOrWhy(bytes: Uint8Array): Promise<Pixels | { readonly why: string }> {
  try {
    await readHeader(bytes, '')
    return await readPixels(bytes)
  } catch (error) {
    if (!(error instanceof ImageRefused)) throw error
    return { why: error.message }
  }
}
