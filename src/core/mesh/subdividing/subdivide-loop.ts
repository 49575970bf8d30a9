/** Loop subdivision of triangles: where points lie, and how they hang together. */
import { edgesOf } from '../relations/adjacency.ts'

export interface LoopOptions {
  readonly levels: number
  /** Points move to where the smooth surface has them; else edges are only halved. */
  readonly smooth: boolean
  /** Border points with one triangle stay where they are. */
  readonly sharpCorners: boolean
}

export interface RefinedTriangles {
  /** 3 x point count; the points that were there before come first, in their order. */
  readonly points: Float64Array
  /** 3 x triangle count. A triangle's children stand together: those at its corners in corner order, then the middle one. */
  readonly triangles: Uint32Array
}

/**
 * Weight of each of n neighbours of an inner point.
 * Source: Charles Loop, Smooth Subdivision Surfaces Based on Triangles, 1987.
 */
const neighbourWeight = (n: number): number => (5 / 8 - (3 / 8 + Math.cos((2 * Math.PI) / n) / 4) ** 2) / n

/**
 * Loop subdivision, level by level. Borders and edges with more than two triangles follow the cubic spline rule
 * (1/8, 3/4, 1/8; midpoints); points where other than two of those meet stay where they are.
 *
 * @param points 3 x point count.
 * @param triangles 3 x triangle count, point numbers.
 */
export function subdivideLoop(
  points: Float64Array,
  triangles: Uint32Array,
  { levels, smooth, sharpCorners }: LoopOptions,
): RefinedTriangles {
  let current: RefinedTriangles = { points, triangles }
  for (let level = 0; level < levels; level++) current = subdivideOnce(current, smooth, sharpCorners)
  return current
}

function subdivideOnce(
  { points, triangles }: RefinedTriangles,
  smooth: boolean,
  sharpCorners: boolean,
): RefinedTriangles {
  const pointCount = points.length / 3
  const triangleCount = triangles.length / 3
  const { edgeCount, edgePoints, edgeCorners, edgeSides, cornerEdges } = edgesOf({
    faceOffsets: Uint32Array.from({ length: triangleCount + 1 }, (_offset, at) => 3 * at),
    faceVertices: triangles,
  })
  const next = (corner: number): number => (corner % 3 === 2 ? corner - 2 : corner + 1)
  const refined = new Float64Array(3 * (pointCount + edgeCount))
  refined.set(points)
  const neighbours = new Float64Array(3 * pointCount)
  const valence = new Uint32Array(pointCount)
  const border = new Float64Array(3 * pointCount)
  const borderCount = new Uint32Array(pointCount)
  const triangleCounts = new Uint32Array(pointCount)
  for (const point of triangles) triangleCounts[point]!++
  for (let edge = 0; edge < edgeCount; edge++) {
    const [a, b] = [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!]
    const inner = edgeSides[edge] === 2
    valence[a]!++
    valence[b]!++
    if (!inner) {
      borderCount[a]!++
      borderCount[b]!++
    }
    // the third point of each of the two triangles
    const [c, d] = [0, 1].map((side) => triangles[next(next(Math.max(0, edgeCorners[2 * edge + side]!)))]!)
    for (let axis = 0; axis < 3; axis++) {
      const [pa, pb] = [points[3 * a + axis]!, points[3 * b + axis]!]
      neighbours[3 * a + axis]! += pb
      neighbours[3 * b + axis]! += pa
      if (!inner) {
        border[3 * a + axis]! += pb
        border[3 * b + axis]! += pa
      }
      refined[3 * (pointCount + edge) + axis] =
        smooth && inner
          ? (3 * (pa + pb) + points[3 * c! + axis]! + points[3 * d! + axis]!) / 8
          : (pa + pb) / 2
    }
  }
  if (smooth)
    for (let point = 0; point < pointCount; point++) {
      if (valence[point] === 0) continue
      const onBorder = borderCount[point]! > 0
      if (onBorder && (borderCount[point] !== 2 || (sharpCorners && triangleCounts[point] === 1))) continue
      const weight = onBorder ? 1 / 8 : neighbourWeight(valence[point]!)
      const [sum, own] = onBorder ? [border, 3 / 4] : [neighbours, 1 - valence[point]! * weight]
      for (let axis = 0; axis < 3; axis++)
        refined[3 * point + axis] = own * points[3 * point + axis]! + weight * sum[3 * point + axis]!
    }
  const children = new Uint32Array(12 * triangleCount)
  for (let triangle = 0; triangle < triangleCount; triangle++) {
    const middles = [0, 1, 2].map((at) => pointCount + cornerEdges[3 * triangle + at]!)
    for (let at = 0; at < 3; at++)
      children.set(
        [triangles[3 * triangle + at]!, middles[at]!, middles[(at + 2) % 3]!],
        12 * triangle + 3 * at,
      )
    children.set(middles, 12 * triangle + 9)
  }
  return { points: refined, triangles: children }
}
