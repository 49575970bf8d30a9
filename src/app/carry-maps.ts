/** Maps painted for one UV set of a model, drawn for another. */
import type { OptionValues } from '../core/base/options/option.ts'
import type { PackageFile } from '../core/formats/package/package-file.ts'
import { parseMapName } from '../core/image/map-sets/parse-map-name.ts'
import { squareOf } from '../core/image/operations/join-tiles.ts'
import { normalFacts } from '../core/image/operations/normal-direction.ts'
import type { RowPacker } from '../core/image/image-reader.ts'
import type { ImageWork } from '../core/image/operations/work-on-image.ts'
import type { Pixels } from '../core/image/pixels.ts'
import { colorsOff, valuesOff } from '../core/image/pixel-difference.ts'
import { readColorSpace } from '../core/image/read-color-space.ts'
import type { Slot } from '../core/scene/material.ts'
import type { Scene } from '../core/scene/scene.ts'
import { drawnSurface, MOST_TILES, setOf, type DrawnSurface } from '../core/surfaces/one-map/drawn-surface.ts'
import { colorSpaceOf } from '../core/surfaces/remap/map-use.ts'
import { drawRows, PIXELS_AT_ONCE, type Drawn, type SourceMap, type Way } from './carry-rows.ts'
import type { ImageHost, Progress } from './host.ts'

const bare = (name: string): string => name.replace(/\.[^./\\]*$/, '')
const stemOf = (name: string): string => {
  const square = squareOf(name)
  return square ? bare(name).replace(new RegExp(`[._\\- ]?${square.label}$`, 'i'), '') : bare(name)
}

/**
 * @param options `from` and `set`: names of the sets, empty for the first and the second; `size`: pixels a side, null as the
 * source has; `padding`: pixels; `kind`: what the pixels are.
 * @param pixelsAtOnce drawn in one go; more rows are where padding takes them from.
 * @returns images as PNG, with what was measured: each map is carried back as well, and compared on the surface.
 */
export async function carryMaps(
  given: Scene,
  files: readonly PackageFile[],
  options: OptionValues,
  progress: Progress,
  images: ImageHost,
  pixelsAtOnce = PIXELS_AT_ONCE,
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
    const way = { from, to: set, pixelsAtOnce }
    const carried = await draw(
      scene,
      there,
      source,
      { ...way, size, padding, isBare: false },
      images,
      (share) => told(share * 0.6),
    )
    made.push(...carried)
    notes.push(
      ...(await measured(scene, back, source, carried, way, images, (share) => told(0.6 + share * 0.4))),
    )
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

/** A map as it lies in another set: one image for each tile of it. */
async function draw(
  scene: Scene,
  surface: DrawnSurface,
  source: SourceMap,
  way: Drawn,
  images: ImageHost,
  told: (share: number) => void,
): Promise<{ name: string; bytes: Uint8Array }[]> {
  const isTiled = surface.tiles.length > 1 || surface.tiles[0]!.label !== '1001'
  const made: { name: string; bytes: Uint8Array }[] = []
  for (const [at, tile] of surface.tiles.entries()) {
    let packer: RowPacker | null = null
    for await (const { first, count, pixels } of drawRows(scene, surface, tile, source, way)) {
      packer ??= await images.packRows({ ...pixels, height: way.size }, source.colorSpace)
      await packer.add(pixels)
      told((at + (first + count) / way.size) / surface.tiles.length)
    }
    made.push({
      name: `${source.stem}${isTiled ? `.${tile.label}` : ''}.png`,
      bytes: await packer!.end(),
    })
  }
  return made
}

/** How far a map is from itself after it was carried there and back, on the surface. */
async function measured(
  scene: Scene,
  back: DrawnSurface,
  source: SourceMap,
  carried: readonly { name: string; bytes: Uint8Array }[],
  { from, to, pixelsAtOnce }: Way,
  images: ImageHost,
  told: (share: number) => void,
): Promise<string[]> {
  let [sum, count, most] = [0, 0, 0]
  const isColor = source.colorSpace === 'sRGB' && source.kind === 'color'
  const offOf = isColor ? colorsOff() : valuesOff
  let again: SourceMap | null = null
  for (const [place, tile] of back.tiles.entries()) {
    const at = source.files.findIndex(({ name }) => {
      const square = squareOf(name)
      return square
        ? square.label === tile.label || (square.column === tile.tile.column && square.row === tile.tile.row)
        : true
    })
    const own = source.pixels[at]
    if (!own || own.width !== own.height) continue
    again ??= { ...source, files: carried, pixels: await unpacked(carried, images) }
    const way = { from: to, to: from, pixelsAtOnce, size: own.width, padding: 0, isBare: isColor }
    for await (const { first, count: rows, owners, pixels } of drawRows(scene, back, tile, again, way)) {
      const start = first * own.width
      for (let pixel = 0; pixel < owners.length; pixel++) {
        if (owners[pixel]! <= 0) continue
        const off = offOf(own, start + pixel, pixels, pixel)
        sum += off
        count++
        if (off > most) most = off
      }
      told((place + (first + rows) / own.height) / back.tiles.length)
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

/** @throws Error where one that was made a moment ago can't be read. */
async function unpacked(
  files: readonly { name: string; bytes: Uint8Array }[],
  images: ImageHost,
): Promise<Pixels[]> {
  const all: Pixels[] = []
  for (const { name, bytes } of files) {
    const answer = await images.pixels(bytes)
    if ('why' in answer) throw new Error(`“${name}” was made and can’t be read: ${answer.why}`)
    all.push(answer)
  }
  return all
}
