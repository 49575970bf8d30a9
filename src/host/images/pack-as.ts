/** Pixels as a file of a kind that is asked for. */
import sharp, { type Sharp } from 'sharp'
import { writeHdr } from '../../core/image/codecs/write-hdr.ts'
import { writeTga } from '../../core/image/codecs/write-tga.ts'
import { ImageRefusal } from '../../core/image/operations/operation.ts'
import { changePixelBits } from '../../core/image/operations/change-bits.ts'
import type { FileKind } from '../../core/image/file-kinds.ts'
import { fullScale, type Pixels } from '../../core/image/pixels.ts'
import { decodeSrgb } from '../../core/image/transfer.ts'
import { packPng } from './pack-png.ts'
import { writeExr } from './write-exr.ts'

/** What the formats can say (JPEG and TGA: 16 bits; WebP: 14). */
const MOST_A_SIDE: Partial<Record<FileKind, number>> = { jpeg: 65535, tga: 65535, webp: 16383 }

/** @throws ImageRefusal for a size that the kind can't say. @param space whether its numbers are colours; in EXR and HDR they stand as light. */
export async function packAs(
  pixels: Pixels,
  space: 'sRGB' | 'linear',
  { kind, quality }: { readonly kind: FileKind; readonly quality: number },
): Promise<Uint8Array> {
  const most = MOST_A_SIDE[kind]
  if (most && Math.max(pixels.width, pixels.height) > most)
    throw new ImageRefusal(
      `It is ${pixels.width} × ${pixels.height}, and a file of this kind has ${most} pixels a side at most.`,
    )
  switch (kind) {
    case 'png':
      return packPng(pixels.bits === 32 ? changePixelBits(pixels, 16, false) : pixels, space)
    case 'exr':
      return writeExr(asFloats(pixels, space))
    case 'hdr':
      return writeHdr(asFloats(pixels, space))
    case 'tga':
      return writeTga(changePixelBits(pixels, 8, true))
    case 'jpeg':
      return packed(changePixelBits(pixels, 8, true), (image) =>
        image.removeAlpha().jpeg({ quality, chromaSubsampling: '4:4:4' }),
      )
    case 'webp':
      return packed(changePixelBits(pixels, 8, true), (image) => image.webp({ quality, exact: true }))
    case 'tiff':
      // the library takes floats that it is handed for whole steps: they become such first
      return packed(pixels.bits === 32 ? changePixelBits(pixels, 16, false) : pixels, (image) =>
        image.tiff({ compression: 'deflate', predictor: 'horizontal' }),
      )
  }
}

async function packed(
  { width, height, channels, bits, values }: Pixels,
  as: (image: Sharp) => Sharp,
): Promise<Uint8Array> {
  let image = sharp(values as Uint8Array, { raw: { width, height, channels }, limitInputPixels: false })
  if (bits === 16) image = image.toColourspace(channels < 3 ? 'grey16' : 'rgb16')
  else if (bits === 8 && channels === 1) image = image.toColourspace('b-w')
  return new Uint8Array(await as(image).toBuffer())
}

function asFloats(pixels: Pixels, space: 'sRGB' | 'linear'): Pixels {
  if (pixels.bits === 32) return pixels
  const { channels } = pixels
  const full = fullScale(pixels)
  const colors = channels === 2 || channels === 4 ? channels - 1 : channels
  const values = Float32Array.from(pixels.values, (step, at) => {
    const value = step / full
    return space === 'sRGB' && at % channels < colors ? decodeSrgb(value) : value
  })
  return { ...pixels, bits: 32, values }
}
