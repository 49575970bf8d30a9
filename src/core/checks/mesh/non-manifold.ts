import { findPinchedPoints } from '../../mesh/faults/find-pinched-points.ts'
import { nextCorner, type MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { eachElement, type CheckDescriptor } from '../check.ts'

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
