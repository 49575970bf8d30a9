/** Regions of a surface between lines: every polygon belongs to one, lines have no room of their own. */
import { createHeap } from '../../base/math/heap.ts'
import { edgeLength } from '../../mesh/relations/edge-paths.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { DrawnLines } from './drawn-lines.ts'

export interface Regions {
  /** faceCount region numbers, in the order of their first faces. */
  readonly faceRegions: Int32Array
  readonly count: number
  /** Regions that were smaller than asked for and went into the one that they share most of their border with. */
  readonly joined: number
}

/** @param least polygons; smaller regions are slips of the hand. */
export function regionsBetween(
  facts: MeshFacts,
  { edges: isSeam, faces: isLine }: DrawnLines,
  least: number,
): Regions {
  const { faceCount } = facts
  const { edgeCount, edgeSides, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const neighbours: { face: number; edge: number }[][] = Array.from({ length: faceCount }, () => [])
  for (let edge = 0; edge < edgeCount; edge++) {
    // more than two polygons on an edge part there
    if (edgeSides[edge] !== 2) continue
    const [a, b] = [cornerFaces[edgeCorners[2 * edge]!]!, cornerFaces[edgeCorners[2 * edge + 1]!]!]
    if (a === b) continue
    neighbours[a]!.push({ face: b, edge })
    neighbours[b]!.push({ face: a, edge })
  }
  const regionOf = new Int32Array(faceCount).fill(-1)
  let count = 0
  const spread = (first: number, takes: (face: number) => boolean): void => {
    const waiting = [first]
    regionOf[first] = count
    while (waiting.length)
      for (const { face, edge } of neighbours[waiting.pop()!]!) {
        if (isSeam[edge] || regionOf[face]! >= 0 || !takes(face)) continue
        regionOf[face] = count
        waiting.push(face)
      }
    count++
  }
  for (let face = 0; face < faceCount; face++)
    if (regionOf[face]! < 0 && !isLine[face]) spread(face, (one) => !isLine[one])
  growIntoLines(facts, neighbours, isSeam, regionOf)
  // a line that nothing else reaches is a region by itself
  for (let face = 0; face < faceCount; face++) if (regionOf[face]! < 0) spread(face, () => true)

  // slips go where most of their border is
  const lengthOf = (edge: number): number => edgeLength(facts, edge)
  const facesOf: number[][] = Array.from({ length: count }, () => [])
  regionOf.forEach((region, face) => facesOf[region]!.push(face))
  let joined = 0
  for (const region of facesOf.map((_, at) => at).sort((a, b) => facesOf[a]!.length - facesOf[b]!.length)) {
    const own = facesOf[region]!
    if (own.length === 0 || own.length >= least) continue
    const shared = new Map<number, number>()
    for (const face of own)
      for (const { face: other, edge } of neighbours[face]!)
        if (regionOf[other] !== region)
          shared.set(regionOf[other]!, (shared.get(regionOf[other]!) ?? 0) + lengthOf(edge))
    let [into, most] = [-1, -1]
    for (const [other, length] of shared) if (length > most) [into, most] = [other, length]
    if (into < 0) continue
    for (const face of own) regionOf[face] = into
    facesOf[into]!.push(...own)
    facesOf[region] = []
    joined++
  }
  const numbers = new Map<number, number>()
  const faceRegions = regionOf.map((region) => {
    const known = numbers.get(region)
    if (known !== undefined) return known
    numbers.set(region, numbers.size)
    return numbers.size - 1
  })
  return { faceRegions, count: numbers.size, joined }
}

/** Polygons of broad lines go to the region that is nearest over the surface. */
function growIntoLines(
  facts: MeshFacts,
  neighbours: readonly (readonly { face: number; edge: number }[])[],
  isSeam: Uint8Array,
  regionOf: Int32Array,
): void {
  const { faceOffsets, faceVertices } = facts.mesh
  const points = facts.points()
  const middle = (face: number): [number, number, number] => {
    const sum: [number, number, number] = [0, 0, 0]
    const [start, end] = [faceOffsets[face]!, faceOffsets[face + 1]!]
    for (let corner = start; corner < end; corner++)
      for (let axis = 0; axis < 3; axis++)
        sum[axis]! += points[3 * faceVertices[corner]! + axis]! / (end - start)
    return sum
  }
  const reached = new Float64Array(regionOf.length).fill(Infinity)
  const heap = createHeap()
  regionOf.forEach((region, face) => {
    if (region < 0) return
    reached[face] = 0
    if (neighbours[face]!.some(({ face: other }) => regionOf[other]! < 0)) heap.push(0, face)
  })
  const settled = Uint8Array.from(regionOf, (region) => (region >= 0 ? 1 : 0))
  for (let face = heap.pop(); face >= 0; face = heap.pop()) {
    settled[face] = 1
    const here = middle(face)
    for (const { face: other, edge } of neighbours[face]!) {
      if (isSeam[edge] || settled[other]) continue
      const there = middle(other)
      const way = reached[face]! + Math.hypot(here[0] - there[0], here[1] - there[1], here[2] - there[2])
      if (!(way < reached[other]!)) continue
      reached[other] = way
      regionOf[other] = regionOf[face]!
      heap.push(way, other)
    }
  }
}
