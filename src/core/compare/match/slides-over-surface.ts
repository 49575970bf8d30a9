/** Whether points that were paired by how they hang together only slid over the surface: it was made anew there. */
import { closestSurface } from '../../mesh/closest/closest-surface.ts'
import { edgesOf } from '../../mesh/relations/adjacency.ts'
import { pointCountOf, type Mesh } from '../../scene/mesh.ts'

/** Points that are looked at. */
const MOST_LOOKED_AT = 400
/** Of an edge's length, from which on a move is farther than rounding and small sculpting. */
const FAR = 0.5
/** Of how far points moved, within which they still lie on the surface. */
const ON_SURFACE = 0.1

const middleOf = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1] ?? 0

/**
 * A tool that moves points moves the surface. Where most points are paired with others far away, and yet lie where the
 * surface always was, other polygons were laid over it that hang together alike, as all regular ones do.
 *
 * @param pointToReturned one a point of the master, -1 for none; both meshes in one space.
 */
export function slidesOverSurface(master: Mesh, returned: Mesh, pointToReturned: Int32Array): boolean {
  const paired: number[] = []
  for (let point = 0; point < pointToReturned.length; point++)
    if (pointToReturned[point]! >= 0) paired.push(point)
  if (paired.length === 0) return false
  const step = Math.max(1, Math.floor(paired.length / MOST_LOOKED_AT))
  const looked = paired.filter((_point, at) => at % step === 0)
  const move = (point: number): number => {
    const other = pointToReturned[point]!
    return Math.hypot(...[0, 1, 2].map((axis) => returned.points[3 * other + axis]! - master.points[3 * point + axis]!)) // prettier-ignore
  }
  const moved = middleOf(looked.map(move))
  if (!(moved > FAR * middleOf(edgeLengths(master, looked)))) return false
  const { tree } = closestSurface(master)
  const off = looked.map((point) => {
    const at = 3 * pointToReturned[point]!
    const found = tree.nearest(returned.points[at]!, returned.points[at + 1]!, returned.points[at + 2]!)
    return found?.distance ?? Infinity
  })
  return middleOf(off) < ON_SURFACE * moved
}

/** Lengths of edges at some points of a mesh. */
function edgeLengths(mesh: Mesh, some: readonly number[]): number[] {
  const wanted = new Uint8Array(pointCountOf(mesh))
  for (const point of some) wanted[point] = 1
  const { edgeCount, edgePoints } = edgesOf(mesh)
  const lengths: number[] = []
  for (let edge = 0; edge < edgeCount; edge++) {
    const [a, b] = [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!]
    if (wanted[a] || wanted[b])
      lengths.push(Math.hypot(...[0, 1, 2].map((axis) => mesh.points[3 * a + axis]! - mesh.points[3 * b + axis]!))) // prettier-ignore
  }
  return lengths
}
