import { findPinchedPoints } from '../checks/non-manifold.ts'
import { splitPoints } from '../edit/edit-faces.ts'
import { createUnion } from '../scene/adjacency.ts'
import { createMeshFacts, nextCorner, previousCorner, type MeshFacts } from '../scene/mesh-facts.ts'
import type { Mesh } from '../scene/mesh.ts'
import { changeMeshes, type StepDescriptor } from './step.ts'

/** Gives every fan of polygons round a point, held together by edges of two sides, a point of its own. */
function partFans(facts: MeshFacts): Mesh {
  const { mesh } = facts
  const { offsets, corners } = facts.pointCorners()
  const { cornerEdges, edgeSides } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const faceVertices = mesh.faceVertices.slice()
  const sources = Array.from({ length: facts.pointCount }, (_value, point) => point)
  for (let point = 0; point < facts.pointCount; point++) {
    const own = corners.subarray(offsets[point]!, offsets[point + 1]!)
    if (own.length < 2) continue
    const union = createUnion(own.length)
    const met = new Map<number, number>()
    own.forEach((corner, at) => {
      const face = cornerFaces[corner]!
      for (const edge of [cornerEdges[corner]!, cornerEdges[previousCorner(mesh, face, corner)]!]) {
        if (edgeSides[edge]! > 2) continue
        const other = met.get(edge)
        if (other === undefined) met.set(edge, at)
        else union.join(other, at)
      }
    })
    const copies = new Map<number, number>([[union.rootOf(0), point]])
    own.forEach((corner, at) => {
      const root = union.rootOf(at)
      if (!copies.has(root)) copies.set(root, sources.push(point) - 1)
      faceVertices[corner] = copies.get(root)!
    })
  }
  return splitPoints(mesh, faceVertices, Int32Array.from(sources))
}

/** What is left where three sides hang together all round: sides beyond two get points of their own. */
function partSides(facts: MeshFacts): Mesh {
  const { mesh } = facts
  const { cornerEdges } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const faceVertices = mesh.faceVertices.slice()
  const sources = Array.from({ length: facts.pointCount }, (_value, point) => point)
  const met = new Map<number, number>()
  for (let corner = 0; corner < cornerEdges.length; corner++) {
    const sides = (met.get(cornerEdges[corner]!) ?? 0) + 1
    met.set(cornerEdges[corner]!, sides)
    if (sides <= 2) continue
    for (const end of [corner, nextCorner(mesh, cornerFaces[corner]!, corner)])
      faceVertices[end] = sources.push(mesh.faceVertices[end]!) - 1
  }
  return splitPoints(mesh, faceVertices, Int32Array.from(sources))
}

const overfull = (facts: MeshFacts): number =>
  facts.edges().edgeSides.reduce((sum, sides) => sum + (sides > 2 ? 1 : 0), 0)

export const splitNonManifold: StepDescriptor = {
  id: 'split-non-manifold',
  area: 'clean',
  title: 'Part surfaces that touch',
  description:
    'Where more than two polygons meet in an edge, or surfaces in a point, each surface gets points of its own. Nothing moves.',
  changes: ['topology', 'points'],
  parameters: [],
  run: (context) =>
    changeMeshes(context, 'edges and points', (_mesh, facts) => {
      const pinched = findPinchedPoints(facts)
      const edges = overfull(facts)
      if (edges + pinched.length === 0) return null
      let parted = partFans(facts)
      if (overfull(createMeshFacts(parted)) > 0)
        parted = partFans(createMeshFacts(partSides(createMeshFacts(parted))))
      const { edgeCount, edgeSides, edgePoints } = facts.edges()
      const shown: number[] = []
      for (let edge = 0; edge < edgeCount; edge++)
        if (edgeSides[edge]! > 2) shown.push(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!)
      return {
        mesh: parted,
        changedCount: edges + pinched.length,
        element: shown.length ? 'edges' : 'points',
        elements: shown.length ? shown : pinched,
      }
    }),
}
