/** Maps painted for one UV set of a model, drawn for another. */
import type { OptionValues } from '../core/base/options/option.ts'
import type { PackageFile } from '../core/formats/package/package-file.ts'
import { ciede2000, labOfSrgb } from '../core/image/color-difference.ts'
import { parseMapName } from '../core/image/map-sets/parse-map-name.ts'
import { squareOf } from '../core/image/operations/join-tiles.ts'
import { normalFacts } from '../core/image/operations/normal-direction.ts'
import type { ImageWork } from '../core/image/operations/work-on-image.ts'
import { fullScale, type Pixels } from '../core/image/pixels.ts'
import { readColorSpace } from '../core/image/read-color-space.ts'
import type { Slot } from '../core/scene/material.ts'
import type { Scene } from '../core/scene/scene.ts'
import type { StrokeImage, TileDrawing } from '../core/surfaces/one-map/draw-tile.ts'
import {
  drawnSurface,
  MOST_TILES,
  setOf,
  tileSurface,
  type DrawnSurface,
} from '../core/surfaces/one-map/drawn-surface.ts'
import type { Drawing, DrawingKind } from '../core/surfaces/one-map/plan-one-map.ts'
import { colorSpaceOf, PLAIN_PLACEMENT } from '../core/surfaces/remap/map-use.ts'
import { padTexels } from '../core/uv/texels/pad-texels.ts'
import type { ImageHost, Progress } from './host.ts'

/** One map: an image, or one for each tile. */
interface SourceMap {
  readonly stem: string
  readonly files: readonly PackageFile[]
  readonly pixels: readonly Pixels[]
  readonly kind: DrawingKind
  readonly slot: Slot
  readonly colorSpace: 'sRGB' | 'linear'
  readonly direction: 'up' | 'down' | null
}

const bare = (name: string): string => name.replace(/\.[^./\\]*$/, '')
const stemOf = (name: string): string => {
  const square = squareOf(name)
  return square ? bare(name).replace(new RegExp(`[._\\- ]?${square.label}$`, 'i'), '') : bare(name)
}

/**
 * @param options `from` and `set`: names of the sets, empty for the first and the second; `size`: pixels a side, null as the
 * source has; `padding`: pixels; `kind`: what the pixels are.
 * @returns images as PNG, with what was measured: each map is carried back as well, and compared on the surface.
 */
export async function carryMaps(
  given: Scene,
  files: readonly PackageFile[],
  options: OptionValues,
  progress: Progress,
  images: ImageHost,
): Promise<ImageWork> {
  const names = [...new Set(given.meshes.flatMap(({ uvSets }) => uvSets.map(({ name }) => name)))]
  const from = String(options['from'] ?? '') || (names[0] ?? '')
  const set = String(options['set'] ?? '') || (names.find((name) => name !== from) ?? '')
  const all = (why: string): ImageWork => ({
    files: [],
    refused: files.map(({ name }) => ({ file: name, why })),
  })
  for (const name of [from, set])
    if (!names.includes(name))
      return all(name ? `the model has no UV set “${name}”` : 'the model has no second UV set')
  if (from === set) return all('it is carried to the set that it was painted for')
  const notes: string[] = []
  const without = given.meshes.filter(
    (mesh) => mesh.uvSets.length && !(setOf(mesh, from) && setOf(mesh, set)),
  )
  if (without.length)
    notes.push(
      `${without.length === 1 ? `“${without[0]!.name}” has` : `${without.length} parts have`} only one of the two sets and ${without.length === 1 ? 'is' : 'are'} left out.`,
    )
  const scene: Scene = {
    ...given,
    meshes: given.meshes.map((mesh) =>
      setOf(mesh, from) && setOf(mesh, set) ? mesh : { ...mesh, uvSets: [] },
    ),
  }
  const [there, back] = [set, from].map((name) => drawnSurface(scene, name, () => true)) as [
    DrawnSurface,
    DrawnSurface,
  ]
  if (there.materials.length === 0) return all('no polygon has UVs in both sets')
  if (there.tiles.length > MOST_TILES) return all(`its UVs lie over ${there.tiles.length} tiles`)
  if (there.leftOut)
    notes.push(
      `${there.leftOut} ${there.leftOut === 1 ? 'polygon lies' : 'polygons lie'} in no tile and ${there.leftOut === 1 ? 'was' : 'were'} left out.`,
    )
  const refused: { file: string; why: string }[] = []
  const made: { name: string; bytes: Uint8Array }[] = []
  const byStem = new Map<string, PackageFile[]>()
  for (const file of files) {
    const known = byStem.get(stemOf(file.name))
    if (known) known.push(file)
    else byStem.set(stemOf(file.name), [file])
  }
  const groups = [...byStem]
  for (const [at, [stem, own]] of groups.entries()) {
    const told = (share: number): void => progress((at + share) / groups.length, 'Carrying maps to other UVs')
    told(0)
    const source = await readSource(stem, own, String(options['kind'] ?? 'byName'), images)
    if ('why' in source) {
      refused.push(...own.map((file) => ({ file: file.name, why: source.why })))
      continue
    }
    const most = Math.max(...source.pixels.map(({ width, height }) => Math.max(width, height)))
    const size = (options['size'] as number | null) ?? most
    const padding = options['padding'] as number
    const carried = await draw(scene, there, source, { from, to: set, size, padding }, images, told)
    made.push(...carried)
    notes.push(...(await measured(scene, back, source, carried, { from, to: set }, images)))
    told(1)
  }
  return { files: made, refused, notes }
}

async function readSource(
  stem: string,
  files: readonly PackageFile[],
  kind: string,
  images: ImageHost,
): Promise<SourceMap | { readonly why: string }> {
  const pixels: Pixels[] = []
  for (const { bytes } of files) {
    const answer = await images.pixels(bytes)
    if ('why' in answer) return answer
    pixels.push(answer)
  }
  const { meaning, direction } = parseMapName(files[0]!.name)
  const space = readColorSpace(files[0]!.bytes)
  const isNormals =
    kind === 'normals' ||
    (kind === 'byName' && (meaning?.slot === 'normal' || meaning?.slot === 'clearcoatNormal'))
  const slot: Slot = isNormals ? 'normal' : (meaning?.slot ?? 'baseColor')
  const colorSpace =
    isNormals || kind === 'data'
      ? 'linear'
      : kind === 'color'
        ? 'sRGB'
        : meaning
          ? colorSpaceOf(slot)
          : (space ?? (pixels[0]!.channels > 2 && pixels[0]!.bits === 8 ? 'sRGB' : 'linear'))
  return {
    stem,
    files,
    pixels,
    kind: isNormals ? 'normal' : pixels[0]!.channels > 2 ? 'color' : 'number',
    slot,
    colorSpace,
    direction: isNormals ? (direction ?? directionOf(pixels[0]!)) : null,
  }
}

const directionOf = (pixels: Pixels): 'up' | 'down' | null => {
  const { direction } = normalFacts(pixels)
  return direction === 'up' || direction === 'down' ? direction : null
}

interface Way {
  readonly from: string
  readonly to: string
}

/** A map as it lies in another set: one image for each tile of it. */
async function draw(
  scene: Scene,
  surface: DrawnSurface,
  source: Pick<SourceMap, 'stem' | 'files' | 'pixels' | 'kind' | 'slot' | 'colorSpace' | 'direction'>,
  { from, to, size, padding }: Way & { readonly size: number; readonly padding: number },
  images: ImageHost,
  told: (share: number) => void,
): Promise<{ name: string; bytes: Uint8Array }[]> {
  const isTiled = surface.tiles.length > 1 || surface.tiles[0]!.label !== '1001'
  const made: { name: string; bytes: Uint8Array }[] = []
  const channels = source.pixels[0]!.channels
  const sources = source.files.map(({ name, bytes }): StrokeImage => {
    const square = squareOf(name)
    return { bytes, path: name, tile: square ? { column: square.column, row: square.row } : null }
  })
  for (const [at, tile] of surface.tiles.entries()) {
    const part = tileSurface(surface, tile, size)
    const around = padTexels(part.cover.owners, size, Math.max(0, padding - 1))
    const work = (['color', ...(channels === 2 || channels === 4 ? ['opacity'] : [])] as const).map(
      (which): TileDrawing => ({
        surface: part,
        padding: around,
        meshes: scene.meshes,
        drawing: drawingOf(scene, surface, source, which === 'opacity', from),
        size,
        set: to,
        images: drawingOf(scene, surface, source, which === 'opacity', from).strokes.map(() => sources),
        isPassing: true,
      }),
    )
    const drawn = await images.draw(work, (share) => told(((at + share) / surface.tiles.length) * 0.6))
    const layers: Pixels[] = []
    for (const { bytes } of drawn) {
      const pixels = await images.pixels(bytes)
      if (!('why' in pixels)) layers.push(pixels)
    }
    const pixels = together(layers, source)
    made.push({
      name: `${source.stem}${isTiled ? `.${tile.label}` : ''}.png`,
      bytes: await images.pack(pixels, source.colorSpace),
    })
  }
  return made
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
        channel: isOpacity ? 'a' : channels === 1 ? 'r' : 'rgb',
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

/** How far a map is from itself after it was carried there and back, on the surface. */
async function measured(
  scene: Scene,
  back: DrawnSurface,
  source: SourceMap,
  carried: readonly { name: string; bytes: Uint8Array }[],
  { from, to }: Way,
  images: ImageHost,
): Promise<string[]> {
  let [sum, count, most] = [0, 0, 0]
  const isColor = source.colorSpace === 'sRGB' && source.kind === 'color'
  for (const tile of back.tiles) {
    const at = source.files.findIndex(({ name }) => {
      const square = squareOf(name)
      return square
        ? square.label === tile.label || (square.column === tile.tile.column && square.row === tile.tile.row)
        : true
    })
    const own = source.pixels[at]
    if (!own || own.width !== own.height) continue
    const only: DrawnSurface = { ...back, tiles: [tile] }
    const pixels: Pixels[] = []
    for (const { bytes } of carried) {
      const answer = await images.pixels(bytes)
      if (!('why' in answer)) pixels.push(answer)
    }
    const [again] = await draw(
      scene,
      only,
      { ...source, files: carried, pixels },
      { from: to, to: from, size: own.width, padding: 0 },
      images,
      () => undefined,
    )
    const drawn = await images.pixels(again!.bytes)
    if ('why' in drawn) continue
    const { owners } = tileSurface(back, tile, own.width).cover
    for (let pixel = 0; pixel < owners.length; pixel++) {
      if (owners[pixel]! <= 0) continue
      const off = isColor ? colorOff(own, drawn, pixel) : valueOff(own, drawn, pixel)
      sum += off
      count++
      if (off > most) most = off
    }
  }
  if (count === 0)
    return [`“${source.stem}”: how far it is off could not be measured, since its images are not square.`]
  const text = (value: number): string =>
    isColor ? value.toFixed(value < 1 ? 2 : 1) : `${(100 * value).toFixed(2)} %`
  return [
    `“${source.stem}”: there and back it is off by ${text(sum / count)} in the mean and ${text(most)} at most${isColor ? ' (CIEDE2000)' : ''}.`,
  ]
}

function colorOff(a: Pixels, b: Pixels, pixel: number): number {
  const lab = (pixels: Pixels): ReturnType<typeof labOfSrgb> => {
    const base = pixel * pixels.channels
    const full = fullScale(pixels)
    const [r, g, b] = [0, 1, 2].map(
      (channel) => pixels.values[base + Math.min(channel, pixels.channels - 1)]! / full,
    )
    return labOfSrgb(r!, g!, b!)
  }
  return ciede2000(lab(a), lab(b))
}

function valueOff(a: Pixels, b: Pixels, pixel: number): number {
  let most = 0
  for (let channel = 0; channel < Math.min(a.channels, b.channels); channel++)
    most = Math.max(
      most,
      Math.abs(
        a.values[pixel * a.channels + channel]! / fullScale(a) -
          b.values[pixel * b.channels + channel]! / fullScale(b),
      ),
    )
  return most
}
