/** Images made small enough for a look: never for what is written. */
import sharp from 'sharp'
import { readImageSize } from '../../core/image/read-image-size.ts'
import { asKnown } from './as-known.ts'
import { ImageRefused, readHeader, refusal } from './read-pixels.ts'

/**
 * @param largest pixels on the longer side.
 * @returns the bytes themselves where they are small enough and every reader knows their kind, else a PNG of as many
 * bits with the values mixed as they stand; null where it can't be read.
 */
export async function shrinkImage(bytes: Uint8Array, largest: number): Promise<Uint8Array | null> {
  try {
    const { width, height } = await readHeader(bytes, '')
    const isShown = ['png', 'jpeg', 'webp'].includes(readImageSize(bytes)!.kind)
    if (isShown && Math.max(width, height) <= largest) return bytes
    try {
      const known = await asKnown(bytes)
      let image = sharp(known, { limitInputPixels: false })
      const { depth, channels } = await image.metadata()
      if (depth === 'ushort') image = image.toColourspace(channels < 3 ? 'grey16' : 'rgb16')
      if (Math.max(width, height) > largest) {
        const share = largest / Math.max(width, height)
        image = image.resize({
          width: Math.max(1, Math.round(width * share)),
          height: Math.max(1, Math.round(height * share)),
          fit: 'fill',
        })
      }
      return new Uint8Array(await image.png({ compressionLevel: 3 }).toBuffer())
    } catch (error) {
      throw refusal(error)
    }
  } catch (error) {
    if (!(error instanceof ImageRefused)) throw error
    return null
  }
}
