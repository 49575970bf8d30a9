/** The pixels of a map that was painted for one UV set, as they lie in another. */
import type { PackageFile } from '../core/formats/package/package-file.ts'
import { squareOf } from '../core/image/operations/join-tiles.ts'
import { fullScale, type Pixels } from '../core/image/pixels.ts'
import type { Slot } from '../core/scene/material.ts'
import type { Scene } from '../core/scene/scene.ts'
import { bitsFor, createDrawer, type StrokeImage } from '../core/surfaces/one-map/draw-tile.ts'
import { setOf, tileSurface, type DrawnSurface } from '../core/surfaces/one-map/drawn-surface.ts'
import type { Drawing, DrawingKind } from '../core/surfaces/one-map/plan-one-map.ts'
import { PLAIN_PLACEMENT } from '../core/surfaces/remap/map-use.ts'
import type { TexelRows } from '../core/uv/texels/cover-texels.ts'
import { padTexels } from '../core/uv/texels/pad-texels.ts'

/** One map: an image, or one for each tile. */
export interface SourceMap {
  readonly stem: string
  readonly files: readonly PackageFile[]
  readonly pixels: readonly Pixels[]
  readonly kind: DrawingKind
  readonly slot: Slot
  readonly colorSpace: 'sRGB' | 'linear'
  readonly direction: 'up' | 'down' | null
}

export interface Way {
  readonly from: string
  readonly to: string
  readonly pixelsAtOnce: number
}

/** What is drawn of a map. */
export interface Drawn extends Way {
  /** Pixels of a side. */
  readonly size: number
  readonly padding: number
  /** Without the opacity that the map has. */
  readonly isBare: boolean
}

/** Pixels that are drawn at once: a map of any size takes the memory of some of its rows, and of what it is drawn from. */
export const PIXELS_AT_ONCE = 2 ** 22

interface SomeRows extends TexelRows {
  readonly pixels: Pixels
  /** width x count: whose each pixel is, see `TexelCover`. */
  readonly owners: Int32Array
}

type Source = Pick<SourceMap, 'files' | 'pixels' | 'kind' | 'slot' | 'colorSpace' | 'direction'>

/** The rows of one tile of a map as it lies in another set, from the top. */
export async function* drawRows(
  scene: Scene,
  surface: DrawnSurface,
  tile: DrawnSurface['tiles'][number],
  source: Source,
  way: Drawn,
): AsyncGenerator<SomeRows> {
  const { from, to, pixelsAtOnce, size, padding, isBare } = way
  const [{ channels, bits }] = source.pixels as [Pixels]
  const hasOpacity = !isBare && (channels === 2 || channels === 4)
  const known = new Map<Uint8Array, Pixels>()
  const layers = (['color', ...(hasOpacity ? ['opacity'] : [])] as const).map((which) => {
    const images = source.files.map(({ name, bytes }, at): StrokeImage => {
      const square = squareOf(name)
      // pixels that are unpacked already are known by the bytes that they are of
      const own = which === 'opacity' ? new Uint8Array(0) : bytes
      known.set(own, which === 'opacity' ? lastChannel(source.pixels[at]!) : source.pixels[at]!)
      return { bytes: own, path: name, tile: square ? { column: square.column, row: square.row } : null }
    })
    const drawing = drawingOf(scene, surface, source, which === 'opacity', from)
    return createDrawer(
      { meshes: scene.meshes, drawing, set: to, images: drawing.strokes.map(() => images) },
      async (bytes) => known.get(bytes)!,
      bitsFor(drawing.kind, bits),
    )
  })
  // rows of pixels that pad others need those that they repeat; these are few, or all is drawn at once
  const margin = Math.min(size, Math.max(0, padding))
  const step = Math.min(size, Math.max(1, Math.floor(pixelsAtOnce / size), margin))
  for (let first = 0; first < size; first += step) {
    const count = Math.min(step, size - first)
    const top = Math.max(0, first - margin)
    const rows = { first: top, count: Math.min(size, first + count + margin) - top }
    const part = tileSurface(surface, tile, size, rows)
    // the pixels that a border only touches are the first ring past it
    const around = padTexels(part.cover.owners, size, Math.max(0, padding - 1))
    const drawn: Pixels[] = []
    for (const layer of layers) drawn.push((await layer(part, around)).pixels)
    const whole = together(drawn, source)
    const [low, high] = [(first - top) * size, (first - top + count) * size]
    yield {
      first,
      count,
      owners: part.cover.owners.subarray(low, high),
      pixels: {
        ...whole,
        height: count,
        values: whole.values.subarray(low * whole.channels, high * whole.channels),
      },
    }
  }
}

function lastChannel(pixels: Pixels): Pixels {
  const { width, height, channels, values } = pixels
  const own = new (values.constructor as new (length: number) => Pixels['values'])(width * height)
  for (let at = 0, from = channels - 1; at < own.length; at++, from += channels) own[at] = values[from]!
  return { ...pixels, channels: 1, values: own }
}

/** A map that is shown once ends at its border; one that is laid again and again goes on at its other side. */
function wrapOf(scene: Scene, from: string, isTiled: boolean): 'clamp' | 'repeat' {
  const isWithin = scene.meshes.every((mesh) =>
    (setOf(mesh, from)?.values ?? []).every((value) => value >= -ON_BORDER && value <= 1 + ON_BORDER),
  )
  return isTiled || isWithin ? 'clamp' : 'repeat'
}

const ON_BORDER = 1e-6

function drawingOf(
  scene: Scene,
  surface: DrawnSurface,
  {
    kind,
    slot,
    colorSpace,
    direction,
    files,
  }: Pick<SourceMap, 'kind' | 'slot' | 'colorSpace' | 'direction' | 'files'>,
  isOpacity: boolean,
  from: string,
): Drawing {
  const channels = !isOpacity && kind !== 'number' ? 3 : 1
  const ground = kind === 'normal' && !isOpacity ? [0.5, 0.5, 1] : new Array<number>(channels).fill(0)
  const materials = [...new Set(surface.materials)]
  const wrap = wrapOf(
    scene,
    from,
    files.some((file) => squareOf(file.name) !== null),
  )
  return {
    parameter: '',
    kind: isOpacity ? 'number' : kind,
    channels,
    colorSpace: isOpacity ? 'linear' : colorSpace,
    scale: new Array<number>(channels).fill(1),
    grounds: new Map(materials.map((material) => [material, ground])),
    strokes: materials.map((material) => ({
      material,
      factor: new Array<number>(channels).fill(1),
      share: 1,
      layer: null,
      use: {
        file: files[0]!.name,
        slot: isOpacity ? 'opacity' : slot,
        channel: channels === 1 ? 'r' : 'rgb',
        isPart: false,
        inverted: false,
        amount: 1,
        colorSpace: isOpacity ? 'linear' : colorSpace,
        direction: isOpacity ? null : direction,
        from: 'folder',
        uvSet: from,
        placement: { ...PLAIN_PLACEMENT, wrapU: wrap, wrapV: wrap },
      },
    })),
  }
}

/** Colours and opacity in one, and green the way it was. */
function together(layers: readonly Pixels[], { direction }: Pick<SourceMap, 'direction'>): Pixels {
  const [first, second] = layers as [Pixels, Pixels | undefined]
  const channels = (first.channels + (second ? 1 : 0)) as 1 | 2 | 3 | 4
  if (!second && direction !== 'down') return first
  const full = fullScale(first)
  const bits = Math.max(first.bits, second?.bits ?? 8) as 8 | 16
  const scale = fullScale({ ...first, bits }) / full
  const other = second ? fullScale({ ...second, bits }) / fullScale(second) : 1
  const count = first.width * first.height
  const values = bits === 8 ? new Uint8Array(count * channels) : new Uint16Array(count * channels)
  for (let at = 0; at < count; at++) {
    for (let channel = 0; channel < first.channels; channel++) {
      const own = first.values[at * first.channels + channel]!
      values[at * channels + channel] = (direction === 'down' && channel === 1 ? full - own : own) * scale
    }
    if (second) values[at * channels + channels - 1] = second.values[at]! * other
  }
  return { width: first.width, height: first.height, channels, bits, values }
}
