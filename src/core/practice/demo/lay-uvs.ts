/** Gives islands that lie at their own size a place in the tile. */
import { findIslands } from '../../uv/find-islands.ts'
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'

/** Between two islands, and to the tile's border: six pixels of 2 048. */
const PADDING = 6 / 2048

interface Island {
  readonly mesh: number
  readonly material: number
  /** Indices of UVs. */
  readonly uvs: Set<number>
  readonly u: number
  readonly v: number
  readonly width: number
  readonly height: number
}

function islandsOf(mesh: Mesh, index: number): Island[] {
  const set = mesh.uvSets[0]!
  const { islandCount, faceIslands } = findIslands(mesh, set)
  const uvs = Array.from({ length: islandCount }, () => new Set<number>())
  const materials = new Int32Array(islandCount)
  for (let face = 0; face < faceCountOf(mesh); face++) {
    materials[faceIslands[face]!] = mesh.faceMaterials?.[face] ?? -1
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
      uvs[faceIslands[face]!]!.add(set.indices[corner]!)
  }
  return uvs.map((own, island) => {
    const us = [...own].map((uv) => set.values[2 * uv]!)
    const vs = [...own].map((uv) => set.values[2 * uv + 1]!)
    const u = Math.min(...us)
    const v = Math.min(...vs)
    return {
      mesh: index,
      material: materials[island]!,
      uvs: own,
      u,
      v,
      width: Math.max(...us) - u,
      height: Math.max(...vs) - v,
    }
  })
}

/** Lower left corners on shelves, the tallest first; null where they don't fit the tile at this scale. */
function shelve(islands: readonly Island[], scale: number): [number, number][] | null {
  let left = PADDING
  let bottom = PADDING
  let shelf = 0
  const places: [number, number][] = []
  for (const { width, height } of islands) {
    const [w, h] = [width * scale, height * scale]
    if (left > PADDING && left + w + PADDING > 1) {
      left = PADDING
      bottom += shelf + PADDING
      shelf = 0
    }
    if (left + w + PADDING > 1 || bottom + h + PADDING > 1) return null
    places.push([left, bottom])
    left += w + PADDING
    shelf = Math.max(shelf, h)
  }
  return places
}

/**
 * Islands of one material share a tile, without touching each other, at one scale: as large as shelves allow.
 * @param meshes whose first UV set is in the lengths of their points.
 */
export function layUvs(meshes: readonly Mesh[]): Mesh[] {
  const values = meshes.map((mesh) => mesh.uvSets[0]!.values.slice())
  const islands = meshes.flatMap(islandsOf).sort((a, b) => b.height - a.height)
  for (const material of new Set(islands.map((island) => island.material))) {
    const own = islands.filter((island) => island.material === material)
    let scale = 0
    let step = 1 / Math.max(...own.map((island) => Math.max(island.width, island.height)))
    for (let round = 0; round < 24; round++, step /= 2) if (shelve(own, scale + step)) scale += step
    const places = shelve(own, scale)!
    for (const [at, { mesh, uvs, u, v }] of own.entries())
      for (const uv of uvs) {
        values[mesh]![2 * uv] = Number(((values[mesh]![2 * uv]! - u) * scale + places[at]![0]).toFixed(6))
        values[mesh]![2 * uv + 1] = Number(
          ((values[mesh]![2 * uv + 1]! - v) * scale + places[at]![1]).toFixed(6),
        )
      }
  }
  return meshes.map((mesh, index) => ({
    ...mesh,
    uvSets: [{ ...mesh.uvSets[0]!, values: values[index]! }],
  }))
}
