/** Polygons that take in the points which lie on their edges. */
import type { EdgePoint } from '../faults/find-t-junctions.ts'
import { edgeKey } from '../relations/adjacency.ts'
import { nextCorner, type MeshFacts } from '../relations/mesh-facts.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { numbers } from './edit-faces.ts'
import { rebuildMesh } from './rebuild-mesh.ts'

/**
 * The points that can be taken in, in the order in which they lie on each edge: where each hangs on the polygon over an
 * edge that is open there, so that the crack closes; not where surfaces would only touch, or more than two polygons
 * meet, or the polygon has the point already.
 */
export function takeablePoints(
  facts: MeshFacts,
  found: ReadonlyMap<number, readonly EdgePoint[]>,
): ReadonlyMap<number, readonly EdgePoint[]> {
  const { mesh } = facts
  const { edgeCount, edgePoints, edgeSides, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const sides = new Map<number, number>()
  for (let edge = 0; edge < edgeCount; edge++)
    sides.set(edgeKey(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!), edgeSides[edge]!)
  const takeable = new Map<number, readonly EdgePoint[]>()
  for (const [edge, spots] of found) {
    const face = cornerFaces[edgeCorners[2 * edge]!]!
    const own = new Set(mesh.faceVertices.subarray(mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!))
    let chain = spots.filter(({ point }) => !own.has(point)).sort((a, b) => a.share - b.share)
    for (;;) {
      const line = [edgePoints[2 * edge]!, ...chain.map(({ point }) => point), edgePoints[2 * edge + 1]!]
      const open = line.slice(1).map((point, at) => sides.get(edgeKey(line[at]!, point)) ?? 0)
      const left = chain.filter(
        (_spot, at) => open[at]! < 2 && open[at + 1]! < 2 && (open[at] === 1 || open[at + 1] === 1),
      )
      if (left.length === chain.length) break
      chain = left
    }
    if (chain.length === 0) continue
    takeable.set(edge, chain)
    const line = [edgePoints[2 * edge]!, ...chain.map(({ point }) => point), edgePoints[2 * edge + 1]!]
    line.slice(1).forEach((point, at) => {
      const key = edgeKey(line[at]!, point)
      sides.set(key, (sides.get(key) ?? 0) + 1)
    })
  }
  return takeable
}

/**
 * Each of these edges goes through its points; what corners have there is mixed from the edge's two. The points stay
 * where they are.
 *
 * @param takeable as `takeablePoints` gives it.
 */
export function takeInPoints(facts: MeshFacts, takeable: ReadonlyMap<number, readonly EdgePoint[]>): Mesh {
  const { mesh } = facts
  const { cornerEdges, edgePoints } = facts.edges()
  const faceOffsets = [0]
  const vertices: number[] = []
  const first: number[] = []
  const second: number[] = []
  const share: number[] = []
  for (let face = 0; face < facts.faceCount; face++) {
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      vertices.push(mesh.faceVertices[corner]!)
      first.push(corner)
      second.push(-1)
      share.push(0)
      const edge = cornerEdges[corner]!
      const spots = takeable.get(edge)
      if (!spots) continue
      const forward = edgePoints[2 * edge] === mesh.faceVertices[corner]
      for (const spot of forward ? spots : [...spots].reverse()) {
        vertices.push(spot.point)
        first.push(corner)
        second.push(nextCorner(mesh, face, corner))
        share.push(forward ? spot.share : 1 - spot.share)
      }
    }
    faceOffsets.push(vertices.length)
  }
  const splitEdges = [...takeable].flatMap(([edge, spots]) => {
    const [a, b] = [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!]
    const line = [a, ...spots.map(({ point }) => point), b]
    return line.slice(1).map((to, at) => ({ from: line[at]!, to, a, b }))
  })
  return {
    ...rebuildMesh(mesh, {
      pointSources: { first: numbers(facts.pointCount) },
      faceOffsets: Uint32Array.from(faceOffsets),
      faceVertices: Uint32Array.from(vertices),
      cornerSources: {
        first: Int32Array.from(first),
        second: Int32Array.from(second),
        share: Float64Array.from(share),
      },
      faceSources: numbers(facts.faceCount),
      splitEdges,
    }),
    cutFrom: null,
  }
}
