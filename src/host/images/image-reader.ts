import type { ImageWorker } from '../../core/image/image-reader.ts'
import { packAs } from './pack-as.ts'
import { packPng } from './pack-png.ts'
import { packPngRows, rowsOfPng } from './png-rows.ts'
import { pixelsOrWhy } from './read-pixels.ts'

export const IMAGE_READER: ImageWorker = {
  pixels: pixelsOrWhy,
  pack: packPng,
  packFloats: async (pixels) => (await import('./write-exr.ts')).writeExr(pixels),
  packAs,
  rows: rowsOfPng,
  packRows: packPngRows,
}
