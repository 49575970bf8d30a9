import type { ImageReader } from '../../core/surfaces/one-map/draw-tile.ts'
import { packPng } from './pack-png.ts'
import { pixelsOrWhy } from './read-pixels.ts'

export const IMAGE_READER: ImageReader = { pixels: pixelsOrWhy, pack: packPng }
