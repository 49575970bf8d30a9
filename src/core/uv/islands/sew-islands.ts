/** Islands put together again along some of their seams. */
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { nextCorner } from '../../mesh/relations/mesh-facts.ts'
import type { UvSet } from '../../scene/mesh.ts'
import { bordersCross } from '../flatten/borders-cross.ts'
import { flattenFaces, isSound } from '../flatten/flatten-net.ts'
import { islandNet, type IslandNet } from '../flatten/island-net.ts'
import { findSeams, uvAreas } from '../uv-measures.ts'
import { applySimilarity, fitFlat } from './fit-flat.ts'
import { islandsInSet, type LaidIsland } from './laid-island.ts'
import { worstStretch } from './worst-stretch.ts'
import { relaxIsland } from './relax-island.ts'

export interface SewnIslands {
  /** Those that changed. */
  readonly islands: readonly LaidIsland[]
  readonly sewnEdges: number
  /** Edges that stay seams, since what they join would lie over itself, fold or be stretched. */
  readonly refusedEdges: number
}

/** Rings of corners about what is sewn that give way. */
const RINGS = 3
const ROUNDS = 30
/** Polygons may be stretched so many times after it, or as much as they were. */
const MOST_STRETCH = 1.7

/**
 * The smaller island comes to the larger, as it is there turned and scaled; what is near gives way.
 * @param wanted edgeCount flags.
 */
export function sewIslands(facts: MeshFacts, set: UvSet, wanted: Uint8Array): SewnIslands {
  const { mesh } = facts
  const { edgeCorners, edgeCount } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const seams = findSeams(facts, set)
  const held = new Map<number, LaidIsland>()
  const owner = new Int32Array(facts.faceCount).fill(-1)
  islandsInSet(facts, set, null, null, false).forEach((island, number) => {
    held.set(number, island)
    for (let at = 0; at < island.net.faces.length; at++) owner[island.net.faces[at]!] = number
  })
  const areas = uvAreas(mesh, set)
  const areaOf = ({ net }: LaidIsland): number => {
    let sum = 0
    for (let at = 0; at < net.faces.length; at++) sum += areas[net.faces[at]!]!
    return sum
  }
  // the seams between two islands at once, the longest first
  const groups = new Map<string, number[]>()
  for (let edge = 0; edge < edgeCount; edge++) {
    if (!wanted[edge] || !seams[edge]) continue
    const [a, b] = [
      owner[cornerFaces[edgeCorners[2 * edge]!]!]!,
      owner[cornerFaces[edgeCorners[2 * edge + 1]!]!]!,
    ]
    if (
      a < 0 ||
      b < 0 ||
      mesh.faceVertices[edgeCorners[2 * edge]!] === mesh.faceVertices[edgeCorners[2 * edge + 1]!]
    )
      continue
    const key = a < b ? `${a} ${b}` : `${b} ${a}`
    const known = groups.get(key)
    if (known) known.push(edge)
    else groups.set(key, [edge])
  }
  const changed = new Set<number>()
  let [sewnEdges, refusedEdges] = [0, 0]
  for (const edges of [...groups.values()].sort((a, b) => b.length - a.length)) {
    const [p, q] = [0, 1].map((side) => owner[cornerFaces[edgeCorners[2 * edges[0]! + side]!]!]!) as [
      number,
      number,
    ]
    const [stays, comes] = Math.abs(areaOf(held.get(p)!)) >= Math.abs(areaOf(held.get(q)!)) ? [p, q] : [q, p]
    for (const edge of edges) seams[edge] = 0
    const sewn = join(
      facts,
      seams,
      edges,
      held.get(stays)!,
      stays === comes ? null : held.get(comes)!,
      owner,
      stays,
      areaOf,
    )
    const before = Math.max(
      MOST_STRETCH,
      ...[stays, comes].map((number) => worstStretch(facts, held.get(number)!)),
    )
    if (!sewn || worstStretch(facts, sewn) > before) {
      for (const edge of edges) seams[edge] = 1
      refusedEdges += edges.length
      continue
    }
    sewnEdges += edges.length
    held.set(stays, sewn)
    changed.add(stays)
    if (stays !== comes) {
      held.delete(comes)
      changed.delete(comes)
    }
    for (let at = 0; at < sewn.net.faces.length; at++) owner[sewn.net.faces[at]!] = stays
  }
  return {
    islands: [...changed].sort((a, b) => a - b).map((number) => held.get(number)!),
    sewnEdges,
    refusedEdges,
  }
}

/** Coordinates of a corner of the mesh in an island. */
function cornersOf(facts: MeshFacts, { net, flat }: LaidIsland): Map<number, readonly [number, number]> {
  const places = new Map<number, readonly [number, number]>()
  for (let at = 0; at < net.faces.length; at++) {
    const start = facts.mesh.faceOffsets[net.faces[at]!]!
    for (let k = net.faceStarts[at]!; k < net.faceStarts[at + 1]!; k++)
      places.set(start + k - net.faceStarts[at]!, [
        flat[2 * net.vertices[k]!]!,
        flat[2 * net.vertices[k]! + 1]!,
      ])
  }
  return places
}

function join(
  facts: MeshFacts,
  seams: Uint8Array,
  edges: readonly number[],
  stays: LaidIsland,
  comes: LaidIsland | null,
  owner: Int32Array,
  number: number,
  areaOf: (island: LaidIsland) => number,
): LaidIsland | null {
  const { mesh } = facts
  const { edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const firm = cornersOf(facts, stays)
  let loose: ReadonlyMap<number, readonly [number, number]> = new Map()
  if (comes) {
    const own = cornersOf(facts, comes)
    const [from, to]: [number[], number[]] = [[], []]
    for (const edge of edges) {
      const [a, b] = [edgeCorners[2 * edge]!, edgeCorners[2 * edge + 1]!]
      const [here, there] = owner[cornerFaces[a]!] === number ? [a, b] : [b, a]
      from.push(...own.get(there)!, ...own.get(nextCorner(mesh, cornerFaces[there]!, there))!)
      to.push(...firm.get(nextCorner(mesh, cornerFaces[here]!, here))!, ...firm.get(here)!)
    }
    const isMirrored = areaOf(stays) * areaOf(comes) < 0
    const moved = applySimilarity(comes.flat, fitFlat(from, to, false, isMirrored))
    if (!moved.every(Number.isFinite)) return null
    loose = cornersOf(facts, { ...comes, flat: moved })
  }
  const faces = [...Array.from(stays.net.faces), ...(comes ? Array.from(comes.net.faces) : [])].sort(
    (a, b) => a - b,
  )
  const net = islandNet(facts, faces, seams)
  // where both sides say a place the one that stays is right; of two of its own their middle
  const sums = new Float64Array(3 * net.vertexCount)
  for (const places of [loose, firm]) {
    const isFirm = places === firm
    if (isFirm && comes)
      for (let at = 0; at < faces.length; at++)
        for (let k = net.faceStarts[at]!; k < net.faceStarts[at + 1]!; k++)
          if (firm.has(mesh.faceOffsets[faces[at]!]! + k - net.faceStarts[at]!))
            sums.fill(0, 3 * net.vertices[k]!, 3 * net.vertices[k]! + 3)
    for (let at = 0; at < faces.length; at++)
      for (let k = net.faceStarts[at]!; k < net.faceStarts[at + 1]!; k++) {
        const place = places.get(mesh.faceOffsets[faces[at]!]! + k - net.faceStarts[at]!)
        if (!place) continue
        const vertex = 3 * net.vertices[k]!
        sums[vertex]! += place[0]
        sums[vertex + 1]! += place[1]
        sums[vertex + 2]! += 1
      }
  }
  const flat = new Float64Array(2 * net.vertexCount)
  for (let vertex = 0; vertex < net.vertexCount; vertex++)
    for (let axis = 0; axis < 2; axis++)
      flat[2 * vertex + axis] = sums[3 * vertex + axis]! / sums[3 * vertex + 2]!
  const turned = flat.map((value, at) => (at % 2 ? -value : value))
  if (isSound(net, flat) || isSound(net, turned)) {
    const relaxed = relaxIsland(facts, { net, flat }, seams, {
      method: 'leastDistortion',
      rounds: ROUNDS,
      keepBorder: false,
      pinned: farFrom(facts, net, edges),
    })
    const better = relaxed?.island ?? { net, flat }
    return bordersCross(better.net, better.flat) ? null : better
  }
  // folded where it was sewn: laid flat anew, where it lay
  const anew = flattenFaces(facts, faces, seams)
  if (!anew || anew.net.vertexCount !== net.vertexCount) return null
  anew.relax('leastDistortion', ROUNDS)
  if (!isSound(anew.net, anew.flat()) || bordersCross(anew.net, anew.flat())) return null
  return {
    net: anew.net,
    flat: applySimilarity(anew.flat(), fitFlat(anew.flat(), flat, false, areaOf(stays) < 0)),
  }
}

/** Flags of the vertices that stay; null where none is far enough. */
function farFrom(facts: MeshFacts, net: IslandNet, edges: readonly number[]): Uint8Array | null {
  const { edgePoints } = facts.edges()
  const points = new Set<number>()
  for (const edge of edges) points.add(edgePoints[2 * edge]!).add(edgePoints[2 * edge + 1]!)
  let near = new Uint8Array(net.vertexCount)
  for (let vertex = 0; vertex < net.vertexCount; vertex++)
    if (points.has(net.vertexPoints[vertex]!)) near[vertex] = 1
  for (let ring = 0; ring < RINGS; ring++) {
    const wider = near.slice()
    for (let at = 0; at < net.triangles.length; at += 3)
      if (near[net.triangles[at]!]! | near[net.triangles[at + 1]!]! | near[net.triangles[at + 2]!]!)
        for (let k = 0; k < 3; k++) wider[net.triangles[at + k]!] = 1
    near = wider
  }
  const pinned = near.map((flag) => 1 - flag)
  return pinned.includes(1) ? pinned : null
}
