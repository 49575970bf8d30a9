/** Two first ways to lay a disc flat: angles kept, or no triangle turned over. */
import {
  factorize,
  sparsePattern,
  type SparseMatrix,
  type SparsePattern,
} from '../../base/math/sparse-factor.ts'
import type { IslandNet } from './island-net.ts'
import { stiffness, withHeld, type NetGraph, type TriangleShapes } from './triangle-shapes.ts'

/**
 * Flat positions that keep angles, with a border as long as on the model: boundary first flattening (Sawhney & Crane
 * 2017) with no scale at the border, which of all conformal maps varies least in scale (Chebyshev).
 *
 * @param net a disc. @returns 2 x vertexCount; null where the border can't be laid so. Triangles may be turned over.
 */
export function conformalStart(
  net: IslandNet,
  graph: NetGraph,
  pattern: SparsePattern,
  shapes: TriangleShapes,
  points: Float64Array,
): Float64Array | null {
  const border = net.loops[0]!
  const { vertexCount, triangles, vertexPoints } = net
  const isBorder = new Uint8Array(vertexCount)
  for (const vertex of border) isBorder[vertex] = 1
  const angles = new Float64Array(vertexCount)
  triangles.forEach((vertex, at) => (angles[vertex]! += shapes.angles[at]!))
  const matrix = stiffness(net, graph, shapes, null)
  const inner = innerSolver(matrix, isBorder, pattern)
  if (!inner) return null
  // how the scale has to vary inside for the curvature to vanish there
  const scale = new Float64Array(vertexCount)
  const wanted = new Float64Array(vertexCount)
  for (let vertex = 0; vertex < vertexCount; vertex++)
    if (!isBorder[vertex]) wanted[vertex] = angles[vertex]! - 2 * Math.PI
  inner(scale, wanted)
  // and how much that bends the border
  const count = border.length
  const turns = Float64Array.from(border, (vertex) => {
    let sum = matrix.diagonal[vertex]! * scale[vertex]!
    for (let at = graph.offsets[vertex]!; at < graph.offsets[vertex + 1]!; at++)
      sum += matrix.entries[at]! * scale[graph.neighbours[at]!]!
    return Math.PI - angles[vertex]! + sum
  })
  const lengths = Float64Array.from(border, (vertex, at) => {
    const [p, q] = [3 * vertexPoints[vertex]!, 3 * vertexPoints[border[(at + 1) % count]!]!]
    return Math.hypot(
      points[q]! - points[p]!,
      points[q + 1]! - points[p + 1]!,
      points[q + 2]! - points[p + 2]!,
    )
  })
  const flat = new Float64Array(2 * vertexCount)
  if (!layBorder(border, lengths, turns, flat)) return null
  inner(flat, new Float64Array(2 * vertexCount))
  return flat.every(Number.isFinite) ? flat : null
}

/** A loop of sides with given turns, its lengths changed as little as closes it. */
function layBorder(
  border: Uint32Array,
  lengths: Float64Array,
  turns: Float64Array,
  flat: Float64Array,
): boolean {
  const count = border.length
  const [cosines, sines] = [new Float64Array(count), new Float64Array(count)]
  let direction = 0
  for (let at = 0; at < count; at++) {
    if (at > 0) direction += turns[at]!
    cosines[at] = Math.cos(direction)
    sines[at] = Math.sin(direction)
  }
  let [cc, cs, ss, x, y] = [0, 0, 0, 0, 0]
  for (let at = 0; at < count; at++) {
    const [length, c, s] = [lengths[at]!, cosines[at]!, sines[at]!]
    cc += length * c * c
    cs += length * c * s
    ss += length * s * s
    x += length * c
    y += length * s
  }
  const determinant = cc * ss - cs * cs
  if (!(determinant > 0)) return false
  const [alpha, beta] = [(ss * x - cs * y) / determinant, (cc * y - cs * x) / determinant]
  let [u, v] = [0, 0]
  for (let at = 0; at < count; at++) {
    flat[2 * border[at]!] = u
    flat[2 * border[at]! + 1] = v
    const length = lengths[at]! * (1 - alpha * cosines[at]! - beta * sines[at]!)
    if (length < 0) return false
    u += length * cosines[at]!
    v += length * sines[at]!
  }
  return true
}

/**
 * Flat positions with the border on a circle and every other vertex amid its neighbours: no triangle is turned over
 * (Tutte 1963, Floater 1997). Holes are closed for it by a vertex in their middle.
 *
 * @param net a disc with or without holes. @returns 2 x vertexCount, about as large as the surface.
 */
export function convexStart(net: IslandNet, graph: NetGraph, shapes: TriangleShapes): Float64Array | null {
  const holes = net.loops.slice(1)
  const nodeCount = net.vertexCount + holes.length
  const lists: number[][] = Array.from({ length: nodeCount }, (_, vertex) =>
    vertex < net.vertexCount
      ? Array.from(graph.neighbours.subarray(graph.offsets[vertex]!, graph.offsets[vertex + 1]!))
      : [],
  )
  holes.forEach((hole, at) => {
    for (const vertex of hole) {
      lists[vertex]!.push(net.vertexCount + at)
      lists[net.vertexCount + at]!.push(vertex)
    }
  })
  const offsets = new Uint32Array(nodeCount + 1)
  lists.forEach((list, at) => (offsets[at + 1] = offsets[at]! + list.length))
  const neighbours = Uint32Array.from(lists.flat())
  const places = new Float64Array(3 * nodeCount)
  places.set(graph.places)
  holes.forEach((hole, at) => {
    for (const vertex of hole)
      for (let axis = 0; axis < 3; axis++)
        places[3 * (net.vertexCount + at) + axis]! += graph.places[3 * vertex + axis]! / hole.length
  })
  const matrix: SparseMatrix = {
    graph: { nodeCount, offsets, neighbours, places },
    diagonal: Float64Array.from(lists, (list) => list.length),
    entries: new Float64Array(neighbours.length).fill(-1),
  }
  const border = net.loops[0]!
  const isBorder = new Uint8Array(nodeCount)
  for (const vertex of border) isBorder[vertex] = 1
  const inner = innerSolver(matrix, isBorder, sparsePattern(matrix.graph))
  if (!inner) return null
  const flat = new Float64Array(2 * nodeCount)
  const radius = Math.sqrt(Math.max(shapes.area, 1e-300) / Math.PI)
  border.forEach((vertex, at) => {
    const angle = (2 * Math.PI * at) / border.length
    flat[2 * vertex] = radius * Math.cos(angle)
    flat[2 * vertex + 1] = radius * Math.sin(angle)
  })
  inner(flat, new Float64Array(2 * nodeCount))
  return flat.slice(0, 2 * net.vertexCount)
}

/** Solves for all nodes but those that are held. @returns fills in the others' values; null where it can't be solved. */
function innerSolver(
  matrix: SparseMatrix,
  isHeld: Uint8Array,
  pattern: SparsePattern,
): ((values: Float64Array, wanted: Float64Array) => void) | null {
  const factor = factorize(withHeld(matrix, isHeld), pattern)
  if (!factor) return null
  const { offsets, neighbours, nodeCount } = matrix.graph
  return (values, wanted) => {
    const right = wanted.slice()
    const width = right.length / nodeCount
    for (let node = 0; node < nodeCount; node++)
      for (let side = 0; side < width; side++) {
        if (isHeld[node]) right[width * node + side] = values[width * node + side]!
        else
          for (let at = offsets[node]!; at < offsets[node + 1]!; at++)
            if (isHeld[neighbours[at]!])
              right[width * node + side]! -= matrix.entries[at]! * values[width * neighbours[at]! + side]!
      }
    factor.solve(right)
    values.set(right)
  }
}
