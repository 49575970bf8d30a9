/**
 * A colour for each material or group as an image in the UVs, and read back: what tools that know neither can paint by
 * and hand on.
 */
import { readPng } from '../image/codecs/read-png.ts'
import { writePng } from '../image/codecs/write-png.ts'
import type { Pixels } from '../image/pixels.ts'
import { tilePattern, type UvTile } from '../scene/image-tiles.ts'
import type { Mesh } from '../scene/mesh.ts'
import type { Scene, SceneImage } from '../scene/scene.ts'
import { coverTexels } from '../uv/texels/cover-texels.ts'
import { padTexels } from '../uv/texels/pad-texels.ts'
import { GROUP_COLORS_FROM, hexOf, idColor } from './id-colors.ts'
import { drawnSurface, MOST_TILES, tileUvs, type DrawnSurface } from './one-map/drawn-surface.ts'

export interface IdMap {
  readonly image: SceneImage
  /** Name of the UV set that it lies in. */
  readonly set: string
  /** What each colour stands for. */
  readonly colors: readonly { readonly name: string; readonly color: string }[]
  /** Pixels of polygons that lie over each other; the first has them. */
  readonly sharedCount: number
}

/** The polygon that a corner is of. */
function faceOfCorner({ faceOffsets }: Mesh, corner: number): number {
  let low = 0
  let high = faceOffsets.length - 2
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if (faceOffsets[middle]! <= corner) low = middle
    else high = middle - 1
  }
  return low
}

const faceOf = ({ meshes: ofMesh, corners }: DrawnSurface, scene: Scene, triangle: number): number =>
  faceOfCorner(scene.meshes[ofMesh[triangle]!]!, corners[3 * triangle]!)

/**
 * @param by what has a colour: each material by its place in the list, or each group by its place among all names; what
 *   has none is black.
 * @param file its path; a word for tiles is put in where the UVs lie in several squares.
 * @returns null where nothing lies in the set, or in too many squares.
 */
export function drawIdMap(
  scene: Scene,
  by: 'materials' | 'groups',
  { set, size, padding, file }: { set: string | null; size: number; padding: number; file: string },
): IdMap | null {
  const surface = drawnSurface(scene, set, () => true)
  if (surface.materials.length === 0 || surface.tiles.length > MOST_TILES) return null
  const names = by === 'materials' ? scene.materials.map(({ name }) => name) : groupNames(scene)
  const places = new Map(names.map((name, place) => [name, place]))
  const colorOf = (place: number) => idColor(by === 'materials' ? place : GROUP_COLORS_FROM + place)
  const used = new Set<number>()
  const placeOf = (triangle: number): number => {
    if (by === 'materials') return surface.materials[triangle]!
    const { groups } = scene.meshes[surface.meshes[triangle]!]!
    const [first] = groups?.sets[groups.faceSets[faceOf(surface, scene, triangle)]!] ?? []
    return first === undefined ? -1 : (places.get(groups!.names[first]!) ?? -1)
  }
  let sharedCount = 0
  const drawn = surface.tiles.map(({ tile, label, triangles }) => {
    const cover = coverTexels(tileUvs(surface.uvs, tile, triangles), size)
    sharedCount += cover.sharedCount
    const pixels = new Uint8Array(3 * size * size)
    const colors = Array.from(triangles, (triangle) => {
      const place = placeOf(triangle)
      if (place >= 0) used.add(place)
      return place < 0 ? ([0, 0, 0] as const) : colorOf(place)
    })
    cover.owners.forEach((owner, at) => {
      if (owner !== 0) pixels.set(colors[Math.abs(owner) - 1]!, 3 * at)
    })
    const { texels, from } = padTexels(cover.owners, size, padding)
    texels.forEach((texel, at) => pixels.copyWithin(3 * texel, 3 * from[at]!, 3 * from[at]! + 3))
    return { label, bytes: writePng({ width: size, height: size, channels: 3, pixels, colorSpace: 'sRGB' }) }
  })
  const isTiled = drawn.length > 1 || drawn[0]!.label !== '1001'
  const path = isTiled ? file.replace(/(\.[^.]*)?$/, '.<UDIM>$1') : file
  return {
    set: surface.set,
    sharedCount,
    colors: [...used]
      .sort((a, b) => a - b)
      .map((place) => ({ name: names[place]!, color: hexOf(colorOf(place)) })),
    image: {
      file: path,
      entry: path,
      bytes: drawn[0]!.bytes,
      ...(isTiled
        ? { tiles: drawn.map(({ label, bytes }) => ({ label, entry: path.replace('<UDIM>', label), bytes })) }
        : {}),
    },
  }
}

const groupNames = (scene: Scene): string[] => [
  ...new Set(scene.meshes.flatMap(({ groups }) => groups?.names ?? [])),
]

/**
 * The colour that most pixels of each polygon have.
 * @returns for each mesh a colour a polygon in whole steps of 255, null where it has no pixel; null where the image can't
 *   be read, or nothing lies in the set.
 */
export function readIdMap(
  scene: Scene,
  image: SceneImage,
  set: string | null,
): (readonly (readonly [number, number, number] | null)[])[] | null {
  const surface = drawnSurface(scene, set, () => true)
  const found = scene.meshes.map((mesh) =>
    new Array<[number, number, number] | null>(mesh.faceOffsets.length - 1).fill(null),
  )
  let isRead = false
  const counts = new Map<string, Map<number, number>>()
  for (const { tile, triangles } of surface.tiles) {
    const pixels = tilePixels(image, tile)
    if (!pixels) continue
    isRead = true
    // pixels of an image that is no square are counted in one that is
    const size = Math.min(4096, Math.max(pixels.width, pixels.height))
    const { owners } = coverTexels(tileUvs(surface.uvs, tile, triangles), size)
    for (let at = 0; at < owners.length; at++) {
      const owner = owners[at]!
      if (owner === 0) continue
      const triangle = triangles[Math.abs(owner) - 1]!
      const [row, column] = [Math.floor(at / size), at % size]
      const color = colorAt(pixels, (column + 0.5) / size, (row + 0.5) / size)
      const key = `${surface.meshes[triangle]!} ${faceOf(surface, scene, triangle)}`
      const own = counts.get(key) ?? new Map<number, number>()
      // a pixel that a polygon only touches may be its neighbour's
      own.set(color, (own.get(color) ?? 0) + (owner > 0 ? 1 : 0.01))
      counts.set(key, own)
    }
    // what is smaller than a pixel has the colour at its middle
    for (const triangle of triangles) {
      const key = `${surface.meshes[triangle]!} ${faceOf(surface, scene, triangle)}`
      if (counts.has(key)) continue
      const middle = [0, 1].map(
        (axis) => [0, 2, 4].reduce((sum, k) => sum + surface.uvs[6 * triangle + k + axis]!, 0) / 3,
      )
      const [u, v] = [middle[0]! - tile.column, middle[1]! - tile.row]
      if (u >= 0 && u < 1 && v >= 0 && v < 1) counts.set(key, new Map([[colorAt(pixels, u, 1 - v), 1]]))
    }
  }
  if (!isRead) return null
  for (const [key, own] of counts) {
    const [mesh, face] = key.split(' ').map(Number) as [number, number]
    const [[color]] = [...own].sort((a, b) => b[1] - a[1]) as [[number, number]]
    found[mesh]![face] = [color >> 16, (color >> 8) & 255, color & 255]
  }
  return found
}

function tilePixels(image: SceneImage, tile: UvTile): Pixels | null {
  const pattern = tilePattern(image.file)
  const bytes = pattern
    ? image.tiles?.find(({ label }) => {
        const own = pattern.tileOf(label)
        return own.column === tile.column && own.row === tile.row
      })?.bytes
    : image.bytes
  return bytes ? readPng(bytes) : null
}

/** @param u,v from the top left. */
function colorAt({ width, height, channels, bits, values }: Pixels, u: number, v: number): number {
  const at =
    (Math.min(height - 1, Math.floor(v * height)) * width + Math.min(width - 1, Math.floor(u * width))) *
    channels
  const step = (channel: number): number => {
    const own = values[at + (channels < 3 ? 0 : channel)]!
    return bits === 8
      ? own
      : bits === 16
        ? Math.round(own / 257)
        : Math.round(255 * Math.min(1, Math.max(0, own)))
  }
  return (step(0) << 16) | (step(1) << 8) | step(2)
}
