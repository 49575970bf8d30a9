/** How well each edge is seen by those who look at a part from around it, so that seams go where few see them. */
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'

type Vector = readonly [number, number, number]

/** Where one looks from: spread evenly over all directions (the spiral of Saff & Kuijlaars, 1997). */
const DIRECTIONS = 20
/** Cells of the depths that are drawn for each, along the longer side. */
const CELLS = 192
/** Cells that are looked at for each; what is stacked higher over itself is not drawn to its end, and hides less. */
const MOST_LOOKED_AT = 4_000_000
/** Cells that lie off by their own slope: an edge is not hidden by the faces that it is of. */
const OFF = 1.5
/** What a look from below counts beside one from the side or from above (common practice: undersides are seen least). */
const FROM_BELOW = 0.3
/** How far below the horizon a look is one from below. */
const BELOW = -0.35

/** @param up of the part, in its own space, of any length; null: nothing is known of it. */
function directions(up: Vector | null): { toEye: Vector; weight: number }[] {
  const length = up ? Math.hypot(...up) : 0
  let angle = 0
  return Array.from({ length: DIRECTIONS }, (_direction, at) => {
    const z = 1 - (2 * at + 1) / DIRECTIONS
    const around = Math.sqrt(1 - z * z)
    if (at > 0) angle += 3.6 / Math.sqrt(DIRECTIONS) / around
    const toEye: Vector = [around * Math.cos(angle), around * Math.sin(angle), z]
    const high = up && length > 0 ? (toEye[0] * up[0] + toEye[1] * up[1] + toEye[2] * up[2]) / length : 0
    return { toEye, weight: high < BELOW ? FROM_BELOW : 1 }
  })
}

/**
 * edgeCount; from 0, seen from nowhere, to 1: seen from everywhere in front of it. Only the part itself hides its edges.
 * Borders count as seen, and so does what has no size.
 */
export function edgeExposure(facts: MeshFacts, up: Vector | null): Float64Array {
  const { edgeCount, edgePoints, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const points = facts.points()
  const normals = facts.faceNormals()
  const exposure = new Float64Array(edgeCount).fill(1)
  if (edgeCount === 0 || !(facts.diagonal() > 0)) return exposure
  // middles of edges between two faces, and which way they face
  const middles = new Float64Array(3 * edgeCount)
  const facing = new Float64Array(3 * edgeCount)
  for (let edge = 0; edge < edgeCount; edge++) {
    const a = edgeCorners[2 * edge]!
    const b = edgeCorners[2 * edge + 1]!
    for (let axis = 0; axis < 3; axis++)
      middles[3 * edge + axis] =
        (points[3 * edgePoints[2 * edge]! + axis]! + points[3 * edgePoints[2 * edge + 1]! + axis]!) / 2
    if (b < 0) continue
    for (const corner of [a, b]) {
      const at = 3 * cornerFaces[corner]!
      const size = Math.sqrt(normals[at]! ** 2 + normals[at + 1]! ** 2 + normals[at + 2]! ** 2)
      if (!(size > 0)) continue
      for (let axis = 0; axis < 3; axis++) facing[3 * edge + axis]! += normals[at + axis]! / size
    }
  }
  const seen = new Float64Array(edgeCount)
  const open = new Float64Array(edgeCount)
  for (const { toEye, weight } of directions(up)) {
    const picture = drawDepths(facts, toEye)
    for (let edge = 0; edge < edgeCount; edge++) {
      const at = 3 * edge
      const towards = facing[at]! * toEye[0] + facing[at + 1]! * toEye[1] + facing[at + 2]! * toEye[2]
      if (!(towards > 0)) continue
      open[edge]! += towards
      const size = Math.sqrt(facing[at]! ** 2 + facing[at + 1]! ** 2 + facing[at + 2]! ** 2)
      // seen at a slant its own faces come nearer from cell to cell
      const slope = Math.sqrt(Math.max(0, size * size - towards * towards)) / towards
      if (isSeen(picture, middles, at, OFF * (2 + slope))) seen[edge]! += weight * towards
    }
  }
  for (let edge = 0; edge < edgeCount; edge++)
    if (open[edge]! > 0) exposure[edge] = Math.min(1, seen[edge]! / open[edge]!)
  return exposure
}

interface Depths {
  readonly depths: Float32Array
  readonly columns: number
  readonly rows: number
  readonly right: Vector
  readonly upward: Vector
  readonly toEye: Vector
  readonly low: readonly [number, number]
  readonly cell: number
}

const along = (v: Vector, points: ArrayLike<number>, at: number): number =>
  v[0] * points[at]! + v[1] * points[at + 1]! + v[2] * points[at + 2]!

/** The depth of what is nearest in each cell, seen in parallel; polygons are drawn as fans, either side. */
function drawDepths(facts: MeshFacts, toEye: Vector): Depths {
  const { faceOffsets, faceVertices } = facts.mesh
  const points = facts.points()
  // two directions across it (Duff et al. 2017)
  const sign = toEye[2] < 0 ? -1 : 1
  const a = -1 / (sign + toEye[2])
  const b = toEye[0] * toEye[1] * a
  const right: Vector = [1 + sign * toEye[0] ** 2 * a, sign * b, -sign * toEye[0]]
  const upward: Vector = [b, sign + toEye[1] ** 2 * a, -toEye[1]]
  const count = points.length / 3
  const xs = new Float64Array(count)
  const ys = new Float64Array(count)
  const zs = new Float64Array(count)
  let [lowX, lowY, highX, highY] = [Infinity, Infinity, -Infinity, -Infinity]
  for (let point = 0; point < count; point++) {
    xs[point] = along(right, points, 3 * point)
    ys[point] = along(upward, points, 3 * point)
    zs[point] = along(toEye, points, 3 * point)
  }
  // points that no polygon has may lie anywhere, and nobody sees them
  for (const point of faceVertices) {
    const x = xs[point]!
    const y = ys[point]!
    if (x < lowX) lowX = x
    if (x > highX) highX = x
    if (y < lowY) lowY = y
    if (y > highY) highY = y
  }
  const cell = Math.max(highX - lowX, highY - lowY, facts.diagonal() * 1e-6) / CELLS
  const columns = Math.floor((highX - lowX) / cell) + 1
  const rows = Math.floor((highY - lowY) / cell) + 1
  const depths = new Float32Array(columns * rows).fill(-Infinity)
  let left = MOST_LOOKED_AT
  const triangle = (p: number, q: number, r: number): void => {
    const [px, py] = [(xs[p]! - lowX) / cell, (ys[p]! - lowY) / cell]
    const [qx, qy] = [(xs[q]! - lowX) / cell, (ys[q]! - lowY) / cell]
    const [rx, ry] = [(xs[r]! - lowX) / cell, (ys[r]! - lowY) / cell]
    const area = (qx - px) * (ry - py) - (rx - px) * (qy - py)
    // seen from its edge it hides nothing
    if (!(Math.abs(area) > 1e-9)) return
    if (left <= 0) return
    const x1 = Math.min(columns - 1, Math.floor(Math.max(px, qx, rx) - 0.5))
    const y1 = Math.min(rows - 1, Math.floor(Math.max(py, qy, ry) - 0.5))
    const y0 = Math.max(0, Math.ceil(Math.min(py, qy, ry) - 0.5))
    const x0 = Math.max(0, Math.ceil(Math.min(px, qx, rx) - 0.5))
    left -= Math.max(0, y1 - y0 + 1) * Math.max(0, x1 - x0 + 1) + 1
    for (let y = y0; y <= y1; y++)
      for (let x = x0; x <= x1; x++) {
        const [cx, cy] = [x + 0.5, y + 0.5]
        const u = ((qx - cx) * (ry - cy) - (rx - cx) * (qy - cy)) / area
        const v = ((rx - cx) * (py - cy) - (px - cx) * (ry - cy)) / area
        if (u < 0 || v < 0 || u + v > 1) continue
        const depth = u * zs[p]! + v * zs[q]! + (1 - u - v) * zs[r]!
        if (depth > depths[y * columns + x]!) depths[y * columns + x] = depth
      }
  }
  for (let face = 0; face < facts.faceCount; face++) {
    const start = faceOffsets[face]!
    for (let corner = start + 1; corner + 1 < faceOffsets[face + 1]!; corner++)
      triangle(faceVertices[start]!, faceVertices[corner]!, faceVertices[corner + 1]!)
  }
  return { depths, columns, rows, right, upward, toEye, low: [lowX, lowY], cell }
}

/** Whether nothing lies more than so many cells in front of it in most of the cells about it. */
function isSeen(picture: Depths, points: Float64Array, at: number, cellsOff: number): boolean {
  const { depths, columns, rows, right, upward, toEye, low, cell } = picture
  const x = (along(right, points, at) - low[0]) / cell
  const y = (along(upward, points, at) - low[1]) / cell
  const depth = along(toEye, points, at) + cellsOff * cell
  let [hidden, looked] = [0, 0]
  for (const i of [Math.floor(x - 0.5), Math.floor(x + 0.5)])
    for (const j of [Math.floor(y - 0.5), Math.floor(y + 0.5)]) {
      if (i < 0 || j < 0 || i >= columns || j >= rows) continue
      looked++
      if (depths[j * columns + i]! > depth) hidden++
    }
  return 2 * hidden < looked || looked === 0
}
