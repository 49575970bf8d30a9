/** Pixels as a PNG file, by sharp. */
import sharp from 'sharp'
import type { Pixels } from '../../core/image/pixels.ts'
import { tagPng } from '../../core/image/codecs/tag-png.ts'

/** @param pixels of 8 or 16 bits. @param space said in the file for colours; what holds numbers says nothing. */
export async function packPng(
  { width, height, channels, bits, values }: Pixels,
  space: 'sRGB' | 'linear',
  isPassing = false,
): Promise<Uint8Array> {
  let image = sharp(values as Uint8Array, { raw: { width, height, channels }, limitInputPixels: false })
  if (bits !== 8) image = image.toColourspace(channels < 3 ? 'grey16' : 'rgb16')
  else if (channels < 3) image = image.toColourspace('b-w')
  // the filter that predicts from both neighbours packs drawn maps best, and level 3 is as small as 4 and quicker
  const packed = await image
    .png(isPassing ? { compressionLevel: 1 } : { compressionLevel: 3, adaptiveFiltering: true })
    .toBuffer()
  return tagPng(new Uint8Array(packed), space)
}
