import { orientFaces, type Orientation } from '../orientation/orient-faces.ts'
import { createMeshFacts, type MeshFacts } from '../relations/mesh-facts.ts'
import { refineWelds } from './refine-welds.ts'
import { countWelds, findWelds, WELD_SHARE } from './find-welds.ts'

/** Edges with more than two polygons. */
function crowdedEdges(facts: MeshFacts): number {
  let count = 0
  for (const sides of facts.edges().edgeSides) if (sides > 2) count++
  return count
}

/**
 * Which way polygons are turned, over points that lie on one spot as if they were one: polygons that only lie side by
 * side have no inside of their own. Where welding would join more than two polygons at an edge, as those of a sheet
 * with two sides, every polygon is judged as it stands.
 *
 * Points are one within `WELD_SHARE` of the diagonal, for whoever finds and whoever mends.
 */
export function orientOverWelds(facts: MeshFacts): Orientation {
  const near = findWelds(facts.points(), facts.diagonal() * WELD_SHARE)
  if (countWelds(near) === 0) return orientFaces(facts)
  // as welding would leave them: surfaces that only touch stay apart
  const target = refineWelds(facts, near)
  const { mesh } = facts
  const joined = createMeshFacts({
    ...mesh,
    faceVertices: mesh.faceVertices.map((point) => target[point]!),
    creases: null,
    smoothing: null,
  })
  return crowdedEdges(joined) > crowdedEdges(facts) ? orientFaces(facts) : orientFaces(joined)
}
