/** Seams that are so short that they are slips of the hand. */
import { nextCorner, type MeshFacts } from '../mesh/relations/mesh-facts.ts'
import type { UvSet } from '../scene/mesh.ts'
import { findIslands } from './find-islands.ts'
import { findSeams } from './uv-measures.ts'

/** Edges of a cut that is taken for a slip of the hand. */
const MOST_EDGES = 2

/**
 * Seams of one or two edges that end inside an island (a nick), and slivers: islands of one or two faces cut
 * out of the middle of a larger one. Each a list of point pairs.
 */
export function findTinyCuts(
  facts: MeshFacts,
  set: UvSet,
): { nicks: number[][]; slivers: number[][]; parted: number[][] } {
  const seams = findSeams(facts, set)
  const { edgeCount, edgePoints, edgeSides, edgeCorners } = facts.edges()
  const onBorder = new Uint8Array(facts.pointCount)
  const seamEdges = new Map<number, number[]>()
  for (let edge = 0; edge < edgeCount; edge++) {
    const ends = [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!]
    if (edgeSides[edge] !== 2) for (const point of ends) onBorder[point] = 1
    if (!seams[edge]) continue
    for (const point of ends) {
      const held = seamEdges.get(point)
      if (held) held.push(edge)
      else seamEdges.set(point, [edge])
    }
  }
  const { faceIslands, islandCount } = findIslands(facts.mesh, set)
  const cornerFaces = facts.cornerFaces()
  const sizes = new Uint32Array(islandCount)
  for (const island of faceIslands) if (island >= 0) sizes[island]!++
  const islandsAt = (edge: number): [number, number] => [
    faceIslands[cornerFaces[edgeCorners[2 * edge]!]!]!,
    faceIslands[cornerFaces[edgeCorners[2 * edge + 1]!]!]!,
  ]
  const nicks: number[][] = []
  const seen = new Set<number>()
  for (const [point, edges] of seamEdges) {
    // a cut ends inside where one seam edge comes to a point that lies on no border
    if (edges.length !== 1 || onBorder[point] || seen.has(edges[0]!)) continue
    const path: number[] = []
    let at = point
    let edge: number | undefined = edges[0]!
    while (edge !== undefined && path.length <= MOST_EDGES) {
      path.push(edge)
      at = edgePoints[2 * edge] === at ? edgePoints[2 * edge + 1]! : edgePoints[2 * edge]!
      const on: number[] = seamEdges.get(at)!.filter((other) => other !== edge)
      // where other seams meet, or at a border, the nick is over
      edge = on.length === 1 && !onBorder[at] ? on[0] : undefined
    }
    if (path.length > MOST_EDGES) continue
    const [a, b] = islandsAt(path[0]!)
    if (a !== b) continue
    for (const each of path) seen.add(each)
    nicks.push(path.flatMap((each) => [edgePoints[2 * each]!, edgePoints[2 * each + 1]!]))
  }
  const around: Map<number, number[]> = new Map()
  for (let edge = 0; edge < edgeCount; edge++) {
    if (!seams[edge]) continue
    const [a, b] = islandsAt(edge)
    for (const [island, other] of [
      [a, b],
      [b, a],
    ] as const)
      if (
        island >= 0 &&
        other >= 0 &&
        island !== other &&
        sizes[island]! <= MOST_EDGES &&
        sizes[other]! >= 8
      ) {
        const held = around.get(island)
        if (held) held.push(edge)
        else around.set(island, [edge])
      }
  }
  const slivers: number[][] = []
  for (const [island, edges] of around) {
    // wholly inside one larger island: every side of it is cut from the same one
    const others = new Set(edges.map((edge) => islandsAt(edge).find((other) => other !== island)))
    let sides = 0
    for (let face = 0; face < faceIslands.length; face++)
      if (faceIslands[face] === island)
        for (
          let corner = facts.mesh.faceOffsets[face]!;
          corner < facts.mesh.faceOffsets[face + 1]!;
          corner++
        ) {
          const edge = facts.edges().cornerEdges[corner]!
          if (seams[edge] || edgeSides[edge] !== 2) sides++
        }
    if (others.size === 1 && sides === edges.length)
      slivers.push(edges.flatMap((edge) => [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!]))
  }
  return { nicks, slivers, parted: findParted(facts, set, seams, islandsAt, sizes) }
}

/** Share by which the two sides of a cut may differ in length and still be taken to have been one. */
const FITTING = 0.01
/** Islands smaller than this are pieces of a kind that is cut apart on purpose (the sides of a box). */
const LEAST_ISLAND = 6

/**
 * Pairs of islands that meet only along one or two edges, with the same length on either side of the cut: they
 * would lie together as one, had the cut not been made.
 */
function findParted(
  facts: MeshFacts,
  set: UvSet,
  seams: Uint8Array,
  islandsAt: (edge: number) => [number, number],
  sizes: Uint32Array,
): number[][] {
  const { edgeCount, edgePoints, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const pairs = new Map<string, number[]>()
  for (let edge = 0; edge < edgeCount; edge++) {
    if (!seams[edge]) continue
    const [a, b] = islandsAt(edge)
    if (a === b || a < 0 || b < 0 || sizes[a]! < LEAST_ISLAND || sizes[b]! < LEAST_ISLAND) continue
    const key = a < b ? `${a} ${b}` : `${b} ${a}`
    const held = pairs.get(key)
    if (held) held.push(edge)
    else pairs.set(key, [edge])
  }
  const lengthOn = (corner: number): number => {
    const i = 2 * set.indices[corner]!
    const j = 2 * set.indices[nextCorner(facts.mesh, cornerFaces[corner]!, corner)]!
    return Math.hypot(set.values[i]! - set.values[j]!, set.values[i + 1]! - set.values[j + 1]!)
  }
  const fits = (edge: number): boolean => {
    const a = lengthOn(edgeCorners[2 * edge]!)
    const b = lengthOn(edgeCorners[2 * edge + 1]!)
    return Math.abs(a - b) <= FITTING * Math.max(a, b)
  }
  return [...pairs.values()]
    .filter((edges) => edges.length <= MOST_EDGES && edges.every(fits))
    .map((edges) => edges.flatMap((edge) => [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!]))
}
