import { splitPoints } from '../rebuilding/edit-faces.ts'
import { fansAround } from '../relations/fans.ts'
import { nextCorner, type MeshFacts } from '../relations/mesh-facts.ts'
import type { Mesh } from '../../scene/mesh.ts'

/** Gives every fan of polygons round a point, held together by edges of two sides, a point of its own. */
export function partFans(facts: MeshFacts): Mesh {
  const { mesh } = facts
  const { offsets, corners } = facts.pointCorners()
  const faceVertices = mesh.faceVertices.slice()
  const sources = Array.from({ length: facts.pointCount }, (_value, point) => point)
  for (let point = 0; point < facts.pointCount; point++) {
    const own = corners.subarray(offsets[point]!, offsets[point + 1]!)
    if (own.length < 2) continue
    const fans = fansAround(facts, own, 2)
    const copies = new Map<number, number>([[fans[0]!, point]])
    own.forEach((corner, at) => {
      const fan = fans[at]!
      if (!copies.has(fan)) copies.set(fan, sources.push(point) - 1)
      faceVertices[corner] = copies.get(fan)!
    })
  }
  return splitPoints(mesh, faceVertices, Int32Array.from(sources))
}

/** What is left where three sides hang together all round: sides beyond two get points of their own. */
export function partSides(facts: MeshFacts): Mesh {
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

/** Edges on which more than two sides of faces lie. */
export const overfull = (facts: MeshFacts): number =>
  facts.edges().edgeSides.reduce((sum, sides) => sum + (sides > 2 ? 1 : 0), 0)
