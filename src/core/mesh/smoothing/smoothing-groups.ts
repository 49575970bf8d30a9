/** Smoothing in one form from another. */
import { createUnion } from '../relations/adjacency.ts'
import type { MeshFacts } from '../relations/mesh-facts.ts'

/** Faces that hang together over soft edges: faceCount representatives, and the hard edges inside one such area. */
export function softAreas(facts: MeshFacts): { areaOf: Uint32Array; inexpressible: number[] } {
  const { edgeCount, edgeSides, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const hard = facts.hardEdges()
  const union = createUnion(facts.faceCount)
  const facesOf = (edge: number): [number, number] => [
    cornerFaces[edgeCorners[2 * edge]!]!,
    cornerFaces[edgeCorners[2 * edge + 1]!]!,
  ]
  for (let edge = 0; edge < edgeCount; edge++)
    if (edgeSides[edge] === 2 && !hard[edge]) union.join(...facesOf(edge))
  const inexpressible: number[] = []
  for (let edge = 0; edge < edgeCount; edge++) {
    if (edgeSides[edge] !== 2 || !hard[edge]) continue
    const [a, b] = facesOf(edge)
    if (union.rootOf(a) === union.rootOf(b)) inexpressible.push(edge)
  }
  return {
    areaOf: Uint32Array.from({ length: facts.faceCount }, (_value, face) => union.rootOf(face)),
    inexpressible,
  }
}

/**
 * One group number a face, from 1, so that edges between areas are hard and all inside are soft. Areas that
 * touch nowhere may share a number; numbers are as few as taking the lowest free one gives.
 *
 * @returns the groups, and the hard edges that no numbering can express: both their faces are in one area.
 */
export function groupsFromHardEdges(facts: MeshFacts): { faceGroups: Int32Array; inexpressible: number[] } {
  const { areaOf, inexpressible } = softAreas(facts)
  const { edgeCount, edgeSides, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const neighbours = new Map<number, Set<number>>()
  for (let edge = 0; edge < edgeCount; edge++) {
    if (edgeSides[edge] !== 2) continue
    const a = areaOf[cornerFaces[edgeCorners[2 * edge]!]!]!
    const b = areaOf[cornerFaces[edgeCorners[2 * edge + 1]!]!]!
    if (a === b) continue
    for (const [from, to] of [
      [a, b],
      [b, a],
    ] as const) {
      const held = neighbours.get(from)
      if (held) held.add(to)
      else neighbours.set(from, new Set([to]))
    }
  }
  const groupOfArea = new Map<number, number>()
  for (const area of areaOf) {
    if (groupOfArea.has(area)) continue
    const taken = new Set<number>()
    for (const other of neighbours.get(area) ?? []) taken.add(groupOfArea.get(other) ?? 0)
    let group = 1
    while (taken.has(group)) group++
    groupOfArea.set(area, group)
  }
  return { faceGroups: Int32Array.from(areaOf, (area) => groupOfArea.get(area)!), inexpressible }
}

/** Point pairs of the hard edges, for the form that stores a flag an edge. */
export function hardEdgePoints(facts: MeshFacts): Uint32Array {
  const { edgeCount, edgePoints } = facts.edges()
  const hard = facts.hardEdges()
  const pairs: number[] = []
  for (let edge = 0; edge < edgeCount; edge++)
    if (hard[edge]) pairs.push(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!)
  return Uint32Array.from(pairs)
}
