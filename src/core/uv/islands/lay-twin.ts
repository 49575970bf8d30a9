/** The islands of a part laid for its twin too: as they are, or mirrored where the twin is. */
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { samePolygons, type SamePolygons } from '../../mesh/relations/same-polygons.ts'
import { islandNet } from '../flatten/island-net.ts'
import type { LaidFaces } from './lay-faces.ts'
import type { LaidIsland } from './laid-island.ts'

/**
 * @param laid islands of all faces of the part.
 * @param points for each point of the part that of its twin; null: the one of its number.
 * @param given edgeCount flags of the part's edges that had to be seams, and `twinGiven` of the twin's; null: none had to.
 * @returns null where the twin's polygons are others or have to be cut elsewhere: it is laid by itself.
 */
export function layTwin(
  facts: MeshFacts,
  laid: LaidFaces,
  twin: MeshFacts,
  points: Int32Array | null,
  given: Uint8Array | null,
  twinGiven: Uint8Array | null,
): LaidFaces | null {
  const found = samePolygons(facts, twin, points)
  if (!found) return null
  const { faces, corners, isTurned } = found
  const { edgeCount, edgeSides, edgeCorners } = facts.edges()
  const { faceOffsets } = facts.mesh
  const cornerFaces = facts.cornerFaces()
  const next = (corner: number): number => {
    const face = cornerFaces[corner]!
    return corner + 1 < faceOffsets[face + 1]! ? corner + 1 : faceOffsets[face]!
  }
  /** The twin's edge from a corner on; a face that goes round the other way has it before its corner. */
  const twinEdges = twin.edges().cornerEdges
  const twinEdgeOf = (corner: number): number =>
    twinEdges[corners[isTurned[cornerFaces[corner]!] ? next(corner) : corner]!]!
  // where each corner lies flat: one number for each vertex of all islands
  const places = new Int32Array(cornerFaces.length).fill(-1)
  let placeCount = 0
  for (const { net } of laid.islands) {
    for (let at = 0; at < net.faces.length; at++)
      for (let k = net.faceStarts[at]!; k < net.faceStarts[at + 1]!; k++)
        places[faceOffsets[net.faces[at]!]! + k - net.faceStarts[at]!] = placeCount + net.vertices[k]!
    placeCount += net.vertexCount
  }
  if (places.includes(-1)) return null
  const isSeam = new Uint8Array(twin.edges().edgeCount)
  for (let edge = 0; edge < edgeCount; edge++) {
    const [a, b] = [edgeCorners[2 * edge]!, edgeCorners[2 * edge + 1]!]
    const own = twinEdgeOf(a)
    if (Boolean(given?.[edge]) !== Boolean(twinGiven?.[own])) return null
    if (edgeSides[edge]! !== 2) continue
    const isWhole =
      (places[a] === places[next(b)] && places[next(a)] === places[b]) ||
      // two that pass in one direction
      (places[a] === places[b] && places[next(a)] === places[next(b)])
    if (!isWhole) isSeam[own] = 1
  }
  const islands: LaidIsland[] = []
  for (const island of laid.islands) {
    const mirrored = mirroredIsland(facts, island, twin, found, isSeam)
    if (!mirrored) return null
    islands.push(mirrored)
  }
  islands.sort((a, b) => a.net.faces[0]! - b.net.faces[0]!)
  return { ...laid, islands, shapeless: laid.shapeless.map((face) => faces[face]!) }
}

function mirroredIsland(
  facts: MeshFacts,
  { net, flat }: LaidIsland,
  twin: MeshFacts,
  { faces, corners, isTurned }: SamePolygons,
  isSeam: Uint8Array,
): LaidIsland | null {
  const turns = isTurned[net.faces[0]!]!
  const own = Uint32Array.from({ length: net.faces.length }, (_, at) => faces[net.faces[at]!]!).sort()
  const twinNet = islandNet(twin, own, isSeam, false)
  if (twinNet.vertexCount !== net.vertexCount || twinNet.loops.length !== net.loops.length) return null
  const placeOf = new Map<number, number>()
  own.forEach((face, at) => placeOf.set(face, at))
  const done = new Float64Array(flat.length).fill(NaN)
  for (let at = 0; at < net.faces.length; at++) {
    const face = net.faces[at]!
    if (isTurned[face] !== turns) return null
    const from = facts.mesh.faceOffsets[face]!
    const there = placeOf.get(faces[face]!)!
    const thereFrom = twin.mesh.faceOffsets[faces[face]!]!
    for (let k = net.faceStarts[at]!; k < net.faceStarts[at + 1]!; k++) {
      const corner = corners[from + k - net.faceStarts[at]!]!
      const vertex = twinNet.vertices[twinNet.faceStarts[there]! + corner - thereFrom]!
      const u = (turns ? -1 : 1) * flat[2 * net.vertices[k]!]!
      const v = flat[2 * net.vertices[k]! + 1]!
      // a vertex in two places: it hangs together otherwise
      if (done[2 * vertex]! === done[2 * vertex]! && (done[2 * vertex] !== u || done[2 * vertex + 1] !== v))
        return null
      done[2 * vertex] = u
      done[2 * vertex + 1] = v
    }
  }
  return { net: twinNet, flat: done }
}
