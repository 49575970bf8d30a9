import { createUnion } from '../scene/adjacency.ts'
import { nextCorner, previousCorner, type MeshFacts } from '../scene/mesh-facts.ts'
import { eachElement, type CheckDescriptor } from './check.ts'

/** True where walking round the point from one of its corners, over edges of two sides, meets all of them. */
function isOneFan(facts: MeshFacts, first: number, size: number): boolean {
  const { mesh } = facts
  const { cornerEdges, edgeSides, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const point = mesh.faceVertices[first]!
  let met = 1
  for (let direction = 0; direction < 2; direction++) {
    let corner = first
    let edge =
      direction === 0
        ? cornerEdges[corner]!
        : cornerEdges[previousCorner(mesh, cornerFaces[corner]!, corner)]!
    for (;;) {
      if (edgeSides[edge] !== 2) break
      const side = edgeCorners[2 * edge]!
      const other = cornerFaces[side] === cornerFaces[corner] ? edgeCorners[2 * edge + 1]! : side
      const face = cornerFaces[other]!
      corner = mesh.faceVertices[other] === point ? other : nextCorner(mesh, face, other)
      if (corner === first) return met === size
      if (++met > size) return false
      const before = cornerEdges[previousCorner(mesh, face, corner)]!
      edge = before === edge ? cornerEdges[corner]! : before
    }
  }
  return met === size
}

/** Points whose polygons hang together in more than one fan: two surfaces that touch in a point. */
export function findPinchedPoints(facts: MeshFacts): number[] {
  const { mesh } = facts
  const { offsets, corners } = facts.pointCorners()
  const { cornerEdges } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const found: number[] = []
  for (let point = 0; point < facts.pointCount; point++) {
    const start = offsets[point]!
    const size = offsets[point + 1]! - start
    if (size < 2 || isOneFan(facts, corners[start]!, size)) continue
    // most points have a closed fan: as many edges as corners, each met twice
    const union = createUnion(size)
    const edgeCorner = new Map<number, number>()
    let fans = size
    for (let at = 0; at < size; at++) {
      const corner = corners[start + at]!
      const face = cornerFaces[corner]!
      for (const edge of [cornerEdges[corner]!, cornerEdges[previousCorner(mesh, face, corner)]!]) {
        const other = edgeCorner.get(edge)
        if (other === undefined) edgeCorner.set(edge, at)
        else if (union.rootOf(other) !== union.rootOf(at)) {
          union.join(other, at)
          fans--
        }
      }
    }
    if (fans > 1) found.push(point)
  }
  return found
}

export const nonManifold: CheckDescriptor = {
  id: 'non-manifold',
  area: 'mesh',
  scope: 'part',
  title: 'Non-manifold edges and points',
  why: 'Where more than two polygons meet in an edge, or two surfaces in a point, inside and outside are not defined.',
  reads: ['faceVertices', 'faceOffsets'],
  problems: {
    edges: { severity: 'error', text: '{count} [edge|edges] [has|have] more than two polygons.' },
    points: {
      severity: 'warning',
      text: 'At {count} [point|points] two surfaces touch without sharing an edge.',
    },
  },
  run({ facts }, report) {
    const { edgeCount, edgeSides, edgePoints } = facts.edges()
    const edges: number[] = []
    for (let edge = 0; edge < edgeCount; edge++)
      if (edgeSides[edge]! > 2) edges.push(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!)
    if (edges.length)
      report({
        problem: 'edges',
        count: edges.length / 2,
        places: eachElement('edges', edges),
        fix: { step: 'split-non-manifold', params: {} },
      })
    const points = findPinchedPoints(facts)
    if (points.length)
      report({
        problem: 'points',
        count: points.length,
        places: eachElement('points', points),
        fix: { step: 'split-non-manifold', params: {} },
      })
  },
}

/** For each side on an edge: the corner that starts it. Groups of more than two are non-manifold. */
export function sidesByEdge(facts: MeshFacts): { offsets: Uint32Array; corners: Uint32Array } {
  const { edgeCount, cornerEdges, edgeSides } = facts.edges()
  const offsets = new Uint32Array(edgeCount + 1)
  for (let edge = 0; edge < edgeCount; edge++) offsets[edge + 1] = offsets[edge]! + edgeSides[edge]!
  const next = offsets.slice()
  const corners = new Uint32Array(cornerEdges.length)
  for (let corner = 0; corner < cornerEdges.length; corner++) corners[next[cornerEdges[corner]!]!++] = corner
  return { offsets, corners }
}

/** The far point of the side that a corner starts. */
export const sideEnd = (facts: MeshFacts, corner: number): number =>
  facts.mesh.faceVertices[nextCorner(facts.mesh, facts.cornerFaces()[corner]!, corner)]!
