/** The polygons that one map is drawn for, as triangles in the chosen UV set. */
import { computeFaceNormals } from '../../mesh/relations/face-normals.ts'
import { triangulateFace } from '../../mesh/triangles/triangulate-face.ts'
import { tileLabel, type UvTile } from '../../scene/image-tiles.ts'
import type { Mesh, UvSet } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { coverTexels, type TexelCover, type TexelRows } from '../../uv/texels/cover-texels.ts'

export interface DrawnSurface {
  /** Name of the set as most parts have it. */
  readonly set: string
  /** 6 x triangleCount: UVs of the chosen set, V up. */
  readonly uvs: Float64Array
  /** triangleCount, into `scene.meshes`. */
  readonly meshes: Int32Array
  /** 3 x triangleCount, numbers of corners within the mesh. */
  readonly corners: Uint32Array
  /** triangleCount, into `scene.materials`; -1 for none. */
  readonly materials: Int32Array
  /** Squares of the UVs that it lies in, each with the triangles that have a share of it. */
  readonly tiles: readonly {
    readonly tile: UvTile
    readonly label: string
    readonly triangles: Uint32Array
  }[]
  /** meshCount flags a face: drawn. Null for a mesh of which nothing is. */
  readonly drawnFaces: readonly (Uint8Array | null)[]
  /** Parts that don't have the set. */
  readonly withoutSet: readonly string[]
  /** Polygons with a corner outside all UVs of the set, or in squares that no tile's number means. */
  readonly leftOut: number
}

/** The part of a surface that one tile of the drawn map shows. */
export interface TileSurface {
  readonly cover: TexelCover
  /** 6 x triangleCount, from the tile's lower left corner. */
  readonly uvs: Float64Array
  readonly meshes: ArrayLike<number>
  /** 3 x triangleCount. */
  readonly corners: ArrayLike<number>
  readonly materials: ArrayLike<number>
  /** By material the pixels that its triangles own, triangle by triangle. */
  readonly texels: ReadonlyMap<number, Uint32Array>
}

/** Squares at most: UVs that are laid over a pattern again and again are no place to draw into. */
export const MOST_TILES = 100

/** @param takes whether a material (or none: -1) is drawn. */
export function drawnSurface(
  scene: Scene,
  setName: string | null,
  takes: (material: number) => boolean,
): DrawnSurface {
  const set = setName ?? bestSet(scene, takes)
  const uvs: number[] = []
  const meshes: number[] = []
  const corners: number[] = []
  const materials: number[] = []
  const withoutSet: string[] = []
  let leftOut = 0
  const drawnFaces = scene.meshes.map((mesh, index): Uint8Array | null => {
    const faceCount = mesh.faceOffsets.length - 1
    const wanted = (face: number): boolean => takes(mesh.faceMaterials?.[face] ?? -1)
    let some = false
    for (let face = 0; face < faceCount && !some; face++) some = wanted(face)
    if (!some) return null
    const own = setOf(mesh, set)
    if (!own) {
      withoutSet.push(mesh.name)
      return null
    }
    const drawn = new Uint8Array(faceCount)
    const normals = computeFaceNormals(mesh)
    const cut: number[] = []
    for (let face = 0; face < faceCount; face++) {
      if (!wanted(face)) continue
      const start = mesh.faceOffsets[face]!
      let isWhole = true
      for (let corner = start; corner < mesh.faceOffsets[face + 1]!; corner++) {
        const at = own.indices[corner]!
        const [u, v] = at < 0 ? [NaN, NaN] : [own.values[2 * at]!, own.values[2 * at + 1]!]
        // the numbers of tiles end at column 10 and row 899; NaN fails as well
        if (!(u >= -1e-6 && v >= -1e-6 && u <= 10 + 1e-6 && v <= 899)) isWhole = false
      }
      if (!isWhole) {
        leftOut++
        continue
      }
      drawn[face] = 1
      cut.length = 0
      triangulateFace(mesh, face, normals, cut)
      for (let at = 0; at < cut.length; at += 3) {
        meshes.push(index)
        materials.push(mesh.faceMaterials?.[face] ?? -1)
        for (let k = 0; k < 3; k++) {
          const corner = start + cut[at + k]!
          corners.push(corner)
          const place = own.indices[corner]!
          uvs.push(own.values[2 * place]!, own.values[2 * place + 1]!)
        }
      }
    }
    return drawn
  })
  return {
    set,
    uvs: Float64Array.from(uvs),
    meshes: Int32Array.from(meshes),
    corners: Uint32Array.from(corners),
    materials: Int32Array.from(materials),
    tiles: tilesOf(uvs),
    drawnFaces,
    withoutSet,
    leftOut,
  }
}

/** A mesh's set of a name. */
export const setOf = (mesh: Mesh, name: string): UvSet | null =>
  mesh.uvSets.find((one) => one.name === name) ?? null

/** Triangles by the squares that they have a share of; one on the border between two belongs to where its middle lies. */
function tilesOf(uvs: readonly number[]): DrawnSurface['tiles'] {
  const tiles = new Map<string, { tile: UvTile; label: string; triangles: number[] }>()
  for (let triangle = 0; triangle < uvs.length / 6; triangle++) {
    const at = 6 * triangle
    const [leastU, mostU] = extent(uvs[at]!, uvs[at + 2]!, uvs[at + 4]!)
    const [leastV, mostV] = extent(uvs[at + 1]!, uvs[at + 3]!, uvs[at + 5]!)
    for (let row = leastV; row <= mostV; row++)
      for (let column = leastU; column <= mostU; column++) {
        const tile = { column, row }
        const label = tileLabel('<UDIM>', tile)
        if (label === null) continue
        const known = tiles.get(label)
        if (known) known.triangles.push(triangle)
        else tiles.set(label, { tile, label, triangles: [triangle] })
      }
  }
  return [...tiles.values()]
    .sort((a, b) => Number(a.label) - Number(b.label))
    .map(({ triangles, ...rest }) => ({ ...rest, triangles: Uint32Array.from(triangles) }))
}

/** First and last square between the least and the largest of three; what only touches a square has no share of it. */
function extent(a: number, b: number, c: number): [number, number] {
  const first = Math.floor(Math.min(a, b, c) + 1e-6)
  return [first, Math.max(first, Math.ceil(Math.max(a, b, c) - 1e-6) - 1)]
}

/** Pixels on a side that sets are compared with. */
const COARSE = 256

/** The set in which the least lies over each other, of those that most parts have; what lies in many squares comes last. */
function bestSet(scene: Scene, takes: (material: number) => boolean): string {
  const meshes = scene.meshes.filter((mesh) => mesh.faceOffsets.length > 1)
  const names = [...new Set(meshes.flatMap(({ uvSets }) => uvSets.map(({ name }) => name)))]
  let best = names[0] ?? ''
  let least = Infinity
  for (const [place, name] of names.entries()) {
    const { uvs, tiles, withoutSet, leftOut } = drawnSurface(scene, name, takes)
    const many = Math.max(0, tiles.length - MOST_TILES)
    let shared = 0
    let owned = 0
    for (const { tile, triangles } of many ? [] : tiles) {
      const cover = coverTexels(tileUvs(uvs, tile, triangles), COARSE)
      shared += cover.sharedCount
      for (const owner of cover.owners) if (owner > 0) owned++
    }
    const badness =
      withoutSet.length * 10 + (leftOut ? 5 : 0) + (many ? 5 : 0) + shared / Math.max(1, owned) + place * 1e-6
    if (badness < least) {
      least = badness
      best = name
    }
  }
  return best
}

/**
 * One tile's share of a surface, with its pixels.
 * @param rows those of its pixels that are asked for, with the triangles that reach into them; null: all.
 */
export function tileSurface(
  surface: DrawnSurface,
  { tile, triangles: all }: DrawnSurface['tiles'][number],
  size: number,
  rows: TexelRows | null = null,
): TileSurface {
  const triangles = rows ? all.filter((triangle) => reaches(surface.uvs, triangle, tile, size, rows)) : all
  const uvs = tileUvs(surface.uvs, tile, triangles)
  const cover = coverTexels(uvs, size, rows)
  const materials = Int32Array.from(triangles, (triangle) => surface.materials[triangle]!)
  return {
    uvs,
    cover,
    materials,
    texels: texelsByMaterial(cover.owners, materials),
    meshes: Int32Array.from(triangles, (triangle) => surface.meshes[triangle]!),
    corners: Uint32Array.from(
      { length: 3 * triangles.length },
      (_, at) => surface.corners[3 * triangles[Math.floor(at / 3)]! + (at % 3)]!,
    ),
  }
}

/** Whether a triangle owns, or touches, any pixel of some rows; one more or less decides nothing. */
function reaches(
  uvs: Float64Array,
  triangle: number,
  { row: tileRow }: UvTile,
  size: number,
  { first, count }: TexelRows,
): boolean {
  const [a, b, c] = [1, 3, 5].map((k) => (1 - (uvs[6 * triangle + k]! - tileRow)) * size) as [
    number,
    number,
    number,
  ]
  return Math.min(a, b, c) <= first + count + 1 && Math.max(a, b, c) >= first - 1
}

/**
 * By material its pixels, those of one triangle behind another: what is looked up for a triangle is looked up once, and
 * the place of the map that it shows stays near.
 */
function texelsByMaterial(owners: Int32Array, materials: Int32Array): Map<number, Uint32Array> {
  const counts = new Uint32Array(materials.length)
  for (let at = 0; at < owners.length; at++) {
    const owner = owners[at]!
    if (owner !== 0) counts[(owner < 0 ? -owner : owner) - 1]!++
  }
  const totals = new Map<number, number>()
  for (let triangle = 0; triangle < counts.length; triangle++)
    if (counts[triangle]! > 0)
      totals.set(materials[triangle]!, (totals.get(materials[triangle]!) ?? 0) + counts[triangle]!)
  const texels = new Map([...totals].map(([material, total]) => [material, new Uint32Array(total)]))
  // all of them behind each other, so that a triangle's place is one number
  const all = new Uint32Array([...totals.values()].reduce((sum, total) => sum + total, 0))
  const starts = new Map<number, number>()
  let place = 0
  for (const [material, total] of totals) {
    starts.set(material, place)
    place += total
  }
  const next = new Uint32Array(counts.length)
  const filled = new Map(starts)
  for (let triangle = 0; triangle < counts.length; triangle++) {
    const count = counts[triangle]!
    if (count === 0) continue
    const from = filled.get(materials[triangle]!)!
    next[triangle] = from
    filled.set(materials[triangle]!, from + count)
  }
  for (let at = 0; at < owners.length; at++) {
    const owner = owners[at]!
    if (owner !== 0) all[next[(owner < 0 ? -owner : owner) - 1]!++] = at
  }
  for (const [material, own] of texels) {
    const from = starts.get(material)!
    own.set(all.subarray(from, from + own.length))
  }
  return texels
}

/** UVs of some triangles, from the lower left corner of a tile. */
export function tileUvs(uvs: Float64Array, { column, row }: UvTile, triangles: Uint32Array): Float64Array {
  const own = new Float64Array(6 * triangles.length)
  for (let at = 0; at < triangles.length; at++)
    for (let k = 0; k < 6; k++) own[6 * at + k] = uvs[6 * triangles[at]! + k]! - (k % 2 ? row : column)
  return own
}
