import sharp from 'sharp'
import { readImageSize } from '../../core/image/read-image-size.ts'
import { readPixels } from './read-pixels.ts'

/**
 * A file that the library of images knows: what it doesn't, as PNG. Floats become 16 bits from 0 to 1 as they are: what
 * is brighter is cut off.
 */
export async function asKnown(bytes: Uint8Array): Promise<Uint8Array> {
  const kind = readImageSize(bytes)?.kind
  if (kind !== 'tga' && kind !== 'hdr' && kind !== 'exr') return bytes
  const { width, height, channels, bits, values } = await readPixels(bytes)
  const whole =
    bits === 32
      ? Uint16Array.from(values, (value) => Math.round(Math.min(1, Math.max(0, value)) * 65535))
      : (values as Uint8Array | Uint16Array)
  let image = sharp(whole, { raw: { width, height, channels }, limitInputPixels: false })
  if (bits !== 8) image = image.toColourspace(channels < 3 ? 'grey16' : 'rgb16')
  return new Uint8Array(await image.png({ compressionLevel: 1 }).toBuffer())
}
