/** Images of a scene as textures. */
import * as THREE from 'three'
import { tilePattern } from '../../core/scene/image-tiles.ts'
import type { SceneImage } from '../../core/scene/scene.ts'

/** Pixels along the longer side of a picture that all tiles of a map are drawn into. */
const MOST_PIXELS = 4096

/** Squares along a side of it. */
const MOST_SQUARES = 100

/** Numbers as they stand in the file: neither multiplied by the opacity nor turned into other colours. */
const bitmapOf = (bytes: Uint8Array): Promise<ImageBitmap> =>
  createImageBitmap(new Blob([bytes.slice()]), {
    imageOrientation: 'flipY',
    premultiplyAlpha: 'none',
    colorSpaceConversion: 'none',
  })

/** Tiles side by side; squares without one stay white. */
async function drawTiles(image: SceneImage): Promise<THREE.Texture> {
  const { tileOf } = tilePattern(image.file)!
  const tiles = image.tiles!.map(({ label, bytes }) => ({ ...tileOf(label), bytes }))
  const columns = 1 + Math.max(...tiles.map(({ column }) => column))
  const rows = 1 + Math.max(...tiles.map(({ row }) => row))
  if (Math.max(columns, rows) > MOST_SQUARES)
    throw new RangeError('These tiles lie too far apart for a picture.')
  const [first] = tiles
  const size = Math.max(
    1,
    Math.min((await bitmapOf(first!.bytes)).width, Math.floor(MOST_PIXELS / Math.max(columns, rows))),
  )
  const canvas = new OffscreenCanvas(columns * size, rows * size)
  const context = canvas.getContext('2d')!
  context.fillStyle = 'white'
  context.fillRect(0, 0, canvas.width, canvas.height)
  for (const { column, row, bytes } of tiles) {
    // what a tile lets through is not white
    context.clearRect(column * size, row * size, size, size)
    context.drawImage(await bitmapOf(bytes), column * size, row * size, size, size)
  }
  const texture = new THREE.Texture(canvas.transferToImageBitmap())
  texture.repeat.set(1 / columns, 1 / rows)
  return texture
}

/**
 * A map's image as a texture, V up; tiles side by side, which `repeat` makes up for.
 * @param isColor its numbers are colours in sRGB.
 * @returns null for what this browser can't show.
 */
export async function drawImage(image: SceneImage, isColor: boolean): Promise<THREE.Texture | null> {
  let texture: THREE.Texture
  try {
    texture = image.tiles ? await drawTiles(image) : new THREE.Texture(await bitmapOf(image.bytes!))
  } catch {
    return null
  }
  texture.flipY = false
  texture.colorSpace = isColor ? THREE.SRGBColorSpace : THREE.NoColorSpace
  texture.wrapS = texture.wrapT = THREE.RepeatWrapping
  texture.needsUpdate = true
  return texture
}
