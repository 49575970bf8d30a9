import { decode } from 'fast-png'
import type { Pixels } from '../pixels.ts'
import { readImageSize } from '../read-image-size.ts'

/** Pixels of an image at most that is unpacked in one go. */
const MOST_PIXELS = 4096 * 4096

/** @returns null where it is no PNG, is broken, or is larger than is looked at in one go. */
export function readPng(bytes: Uint8Array): Pixels | null {
  const size = readImageSize(bytes)
  if (size?.kind !== 'png' || size.width * size.height > MOST_PIXELS) return null
  try {
    const { width, height, channels, depth, data } = decode(bytes)
    if (depth !== 8 && depth !== 16) return null
    if (data.length < width * height * channels) return null
    return {
      width,
      height,
      channels: channels as 1 | 2 | 3 | 4,
      bits: depth,
      values: data instanceof Uint16Array ? data : new Uint8Array(data.buffer, data.byteOffset, data.length),
    }
  } catch {
    // a file that ends early or is no PNG behind its first bytes: the caller says so
    return null
  }
}
