/** Islands that lie in a UV set, or are about to. */
import { withUvSets } from '../../mesh/rebuilding/with-uv-sets.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { Mesh, UvSet } from '../../scene/mesh.ts'
import { islandNet, piecesBetween, type IslandNet } from '../flatten/island-net.ts'
import type { Outline } from '../pack/outline.ts'
import { findIslands, type Islands } from '../find-islands.ts'
import { findSeams, isMapped } from '../uv-measures.ts'

export interface LaidIsland {
  readonly net: IslandNet
  /** 2 x net.vertexCount. */
  readonly flat: Float64Array
}

export const outlineOf = ({ net, flat }: LaidIsland): Outline => ({
  loops: net.loops.map((loop) => {
    const own = new Float64Array(2 * loop.length)
    loop.forEach((vertex, at) => {
      own[2 * at] = flat[2 * vertex]!
      own[2 * at + 1] = flat[2 * vertex + 1]!
    })
    return own
  }),
})

/**
 * The islands of a set, in the order of their first faces. Faces that aren't wholly mapped are in none.
 * @param chosen faceCount flags; null: all. An island takes part if one of its faces does.
 * @param further edgeCount flags of edges where islands end besides.
 * @param together what has the same UV at a point is one island, also where it hangs together over no side of two polygons;
 * such a one can be moved and not relaxed.
 */
export function islandsInSet(
  facts: MeshFacts,
  set: UvSet,
  chosen: Uint8Array | null = null,
  further: Uint8Array | null = null,
  together = !further,
): LaidIsland[] {
  const { mesh, faceCount } = facts
  const seams = findSeams(facts, set)
  if (further) for (let edge = 0; edge < seams.length; edge++) if (further[edge]) seams[edge] = 1
  const { pieceCount, facePieces } = together ? asPieces(findIslands(mesh, set)) : piecesBetween(facts, seams)
  const faces: number[][] = Array.from({ length: pieceCount }, () => [])
  const takesPart = new Uint8Array(pieceCount)
  for (let face = 0; face < faceCount; face++) {
    if (facePieces[face]! < 0 || !isMapped(mesh, set, face)) continue
    faces[facePieces[face]!]!.push(face)
    if (!chosen || chosen[face]) takesPart[facePieces[face]!] = 1
  }
  return faces
    .filter((own, piece) => own.length > 0 && takesPart[piece])
    .map((own) => {
      const net = islandNet(facts, own, seams)
      const flat = new Float64Array(2 * net.vertexCount)
      own.forEach((face, at) => {
        const start = mesh.faceOffsets[face]!
        for (let k = net.faceStarts[at]!; k < net.faceStarts[at + 1]!; k++) {
          const uv = set.indices[start + k - net.faceStarts[at]!]!
          flat[2 * net.vertices[k]!] = set.values[2 * uv]!
          flat[2 * net.vertices[k]! + 1] = set.values[2 * uv + 1]!
        }
      })
      return { net, flat }
    })
}

const asPieces = ({ islandCount, faceIslands }: Islands): { pieceCount: number; facePieces: Int32Array } => ({
  pieceCount: islandCount,
  facePieces: faceIslands,
})

/** A set in which the given islands lie as they say, and all other corners as in the set before. */
export function withIslands(
  mesh: Mesh,
  set: UvSet | null,
  name: string,
  islands: readonly LaidIsland[],
): UvSet {
  const indices = set ? set.indices.slice() : new Int32Array(mesh.faceVertices.length).fill(-1)
  for (const { net } of islands)
    for (let at = 0; at < net.faces.length; at++)
      indices.fill(-1, mesh.faceOffsets[net.faces[at]!]!, mesh.faceOffsets[net.faces[at]! + 1]!)
  // what stays comes first, in its order
  const numbers = new Map<number, number>()
  const values: number[] = []
  if (set)
    for (let corner = 0; corner < indices.length; corner++) {
      const uv = indices[corner]!
      if (uv < 0) continue
      let number = numbers.get(uv)
      if (number === undefined) {
        numbers.set(uv, (number = numbers.size))
        values.push(set.values[2 * uv]!, set.values[2 * uv + 1]!)
      }
      indices[corner] = number
    }
  // a third coordinate stays with what stays
  const depths = set?.depths ? Array.from(numbers.keys(), (uv) => set.depths![uv]!) : null
  let count = numbers.size
  for (const { net, flat } of islands) {
    for (let at = 0; at < net.faces.length; at++) {
      const start = mesh.faceOffsets[net.faces[at]!]!
      for (let k = net.faceStarts[at]!; k < net.faceStarts[at + 1]!; k++)
        indices[start + k - net.faceStarts[at]!] = count + net.vertices[k]!
    }
    for (const value of flat) values.push(value)
    if (depths) for (const depth of depthsOf(mesh, set!, net)) depths.push(depth)
    count += net.vertexCount
  }
  return { name, values: Float64Array.from(values), indices, depths: depths && Float64Array.from(depths) }
}

/** net.vertexCount third coordinates, as a set has them now; 0 where it has none. */
function depthsOf(mesh: Mesh, set: UvSet, net: IslandNet): Float64Array {
  const depths = new Float64Array(net.vertexCount)
  for (let at = 0; at < net.faces.length; at++) {
    const start = mesh.faceOffsets[net.faces[at]!]! - net.faceStarts[at]!
    for (let k = net.faceStarts[at]!; k < net.faceStarts[at + 1]!; k++) {
      const uv = set.indices[start + k]!
      if (uv >= 0) depths[net.vertices[k]!] = set.depths![uv]!
    }
  }
  return depths
}

/** The mesh with a set in the place of the one of its name, or behind all others. */
export function withUvSet(mesh: Mesh, set: UvSet): Mesh {
  const place = mesh.uvSets.findIndex(({ name }) => name === set.name)
  if (place < 0) return { ...mesh, uvSets: [...mesh.uvSets, set] }
  return withUvSets(
    mesh,
    mesh.uvSets.map((other, at) => (at === place ? set : other)),
  )
}
