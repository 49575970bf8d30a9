import type { drawTiles } from './images/draw-tiles.ts'
import type { imageFacts } from './images/image-facts.ts'
import type { packPng } from './images/pack-png.ts'
import type { packPngRows } from './images/png-rows.ts'
import type { pixelsOrWhy } from './images/read-pixels.ts'
import type { makeMaps } from './images/make-maps.ts'
import type { shrinkImage } from './images/shrink-image.ts'
import type { workOnImages } from './images/work-on-images.ts'
import { NODE_DECODERS } from './geometry-decoders.ts'
import { NODE_CODEC } from './node-codec.ts'
import { beginFacts } from './node-facts.ts'
import { NODE_PIECES } from './node-pieces.ts'

/** The library of images takes its time to load: only who asks for images waits for it. */
const IMAGES = {
  facts: async (...given: Parameters<typeof imageFacts>) =>
    (await import('./images/image-facts.ts')).imageFacts(...given),
  pixels: async (...given: Parameters<typeof pixelsOrWhy>) =>
    (await import('./images/read-pixels.ts')).pixelsOrWhy(...given),
  pack: async (...given: Parameters<typeof packPng>) =>
    (await import('./images/pack-png.ts')).packPng(...given),
  packRows: async (...given: Parameters<typeof packPngRows>) =>
    (await import('./images/png-rows.ts')).packPngRows(...given),
  draw: async (...given: Parameters<typeof drawTiles>) =>
    (await import('./images/draw-tiles.ts')).drawTiles(...given),
  work: async (...given: Parameters<typeof workOnImages>) =>
    (await import('./images/work-on-images.ts')).workOnImages(...given),
  shrink: async (...given: Parameters<typeof shrinkImage>) =>
    (await import('./images/shrink-image.ts')).shrinkImage(...given),
  make: async (...given: Parameters<typeof makeMaps>) =>
    (await import('./images/make-maps.ts')).makeMaps(...given),
}

/** All that Node offers to the core. */
export const NODE_HOST = {
  codec: NODE_CODEC,
  pieces: NODE_PIECES,
  facts: beginFacts,
  decoders: NODE_DECODERS,
  images: IMAGES,
} as const
