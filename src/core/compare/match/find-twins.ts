/** Parts that are the same shape, moved or mirrored. */
import { matchConnectivity } from './match-connectivity.ts'
import { ordersByPlace } from './order-by-place.ts'
import {
  invertAffine,
  isIdentity,
  isMirroring,
  multiplyMatrices,
  transformPoints,
  type Matrix,
} from '../../base/math/matrix.ts'
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { turnFaces } from '../../mesh/orientation/turn-faces.ts'
import { worldMatrices } from '../../scene/world.ts'

/** Custom property of a node that stands for a twin: the name of the part it follows. */
export const TWIN_PROPERTY = 'twinOf'

export interface Twin {
  /** The part that is kept, and its twin. */
  readonly node: number
  readonly twin: number
  /** World to world: takes the kept part onto its twin. */
  readonly matrix: Matrix
  readonly mirrored: boolean
  /** For each point of the kept part that of its twin; null: the one of its number. */
  readonly points: Int32Array | null
}

/** Share of the diagonal by which points of twins may miss each other. */
const TWIN_SHARE = 1e-4

/**
 * The affine matrix that takes the points `from` to `to`, by least squares; null where the points lie in a
 * plane or a line. Normal equations of four unknowns a row.
 */
export function fitAffine(from: Float64Array, to: Float64Array): number[] | null {
  const count = from.length / 3
  if (count < 4) return null
  const mean = [0, 0, 0, 0, 0, 0]
  for (let at = 0; at < from.length; at += 3)
    for (let axis = 0; axis < 3; axis++) {
      mean[axis]! += from[at + axis]! / count
      mean[3 + axis]! += to[at + axis]! / count
    }
  const spread = new Array<number>(9).fill(0)
  const cross = new Array<number>(9).fill(0)
  for (let at = 0; at < from.length; at += 3)
    for (let row = 0; row < 3; row++)
      for (let column = 0; column < 3; column++) {
        const b = from[at + column]! - mean[column]!
        spread[3 * column + row]! += (from[at + row]! - mean[row]!) * b
        cross[3 * column + row]! += (to[at + row]! - mean[3 + row]!) * b
      }
  const trace = spread[0]! + spread[4]! + spread[8]!
  const inverse = invertAffine([
    ...spread.slice(0, 3),
    0,
    ...spread.slice(3, 6),
    0,
    ...spread.slice(6, 9),
    0,
    0,
    0,
    0,
    1,
  ])
  const determinant =
    spread[0]! * (spread[4]! * spread[8]! - spread[5]! * spread[7]!) -
    spread[3]! * (spread[1]! * spread[8]! - spread[2]! * spread[7]!) +
    spread[6]! * (spread[1]! * spread[5]! - spread[2]! * spread[4]!)
  if (!inverse || !(Math.abs(determinant) > 1e-12 * trace ** 3)) return null
  const linear = multiplyMatrices(
    [...cross.slice(0, 3), 0, ...cross.slice(3, 6), 0, ...cross.slice(6, 9), 0, 0, 0, 0, 1],
    inverse,
  )
  for (let row = 0; row < 3; row++)
    linear[12 + row] =
      mean[3 + row]! - (linear[row]! * mean[0]! + linear[4 + row]! * mean[1]! + linear[8 + row]! * mean[2]!)
  return linear
}

/** True where the 3x3 part turns, mirrors or keeps, but neither scales nor shears (within `tolerance`). */
export function isRigid(m: Matrix, tolerance: number): boolean {
  for (let a = 0; a < 3; a++)
    for (let b = a; b < 3; b++) {
      const dot = m[4 * a]! * m[4 * b]! + m[4 * a + 1]! * m[4 * b + 1]! + m[4 * a + 2]! * m[4 * b + 2]!
      if (!(Math.abs(dot - (a === b ? 1 : 0)) <= tolerance)) return false
    }
  return true
}

const sameArray = (a: ArrayLike<number>, b: ArrayLike<number>): boolean => {
  if (a.length !== b.length) return false
  for (let at = 0; at < a.length; at++) if (a[at] !== b[at]) return false
  return true
}

/** What moving, turning and mirroring leave as it is: mean and largest distance from the middle, and the mean square. */
interface ShapeMeasure {
  readonly mean: number
  readonly square: number
  readonly farthest: number
}

function measureShape(points: Float64Array): ShapeMeasure {
  const count = points.length / 3
  const middle = [0, 0, 0]
  for (let at = 0; at < points.length; at++) middle[at % 3]! += points[at]! / count
  let mean = 0
  let square = 0
  let farthest = 0
  for (let at = 0; at < points.length; at += 3) {
    const distance = Math.hypot(
      points[at]! - middle[0]!,
      points[at + 1]! - middle[1]!,
      points[at + 2]! - middle[2]!,
    )
    mean += distance / count
    square += (distance * distance) / count
    farthest = Math.max(farthest, distance)
  }
  return { mean, square, farthest }
}

/** Parts of other measures can't be twins; looking closer at each pair of hundreds would take minutes. */
function alike(a: ShapeMeasure, b: ShapeMeasure): boolean {
  const near = (x: number, y: number, scale: number): boolean => Math.abs(x - y) <= 4 * TWIN_SHARE * scale
  const size = Math.max(a.farthest, b.farthest)
  return (
    near(a.mean, b.mean, size) &&
    near(a.farthest, b.farthest, size) &&
    near(a.square, b.square, 2 * size * size)
  )
}

interface Ordering {
  readonly map: Int32Array | null
  readonly points: Float64Array
}

/** The points of `twin` in the order of `mesh`, as often as its polygons correspond. */
function* orderings(mesh: Mesh, twin: Mesh): Generator<Ordering> {
  if (sameArray(mesh.faceVertices, twin.faceVertices) && sameArray(mesh.faceOffsets, twin.faceOffsets))
    yield { map: null, points: twin.points }
  const ordered = (map: Int32Array | null): Ordering | null => {
    if (!map || map.length * 3 !== mesh.points.length) return null
    const points = new Float64Array(mesh.points.length)
    for (let point = 0; point < map.length; point++) {
      if (map[point]! < 0) return null
      points.set(twin.points.subarray(3 * map[point]!, 3 * map[point]! + 3), 3 * point)
    }
    return { map, points }
  }
  for (const map of ordersByPlace(mesh, twin, diagonalOf(boundsOf(mesh.points)) * TWIN_SHARE))
    yield ordered(map)!
  for (const candidate of [twin, turnFaces(twin)]) {
    const ordering = ordered(matchConnectivity(mesh, candidate, false)?.pairs ?? null)
    if (ordering) yield ordering
  }
}

/**
 * Pairs of parts of which one is the other moved, turned or mirrored in the world, within a ten-thousandth of
 * the diagonal. Each part is the twin of at most one other, the first in file order being the one kept.
 * Flat parts are left out: a plane doesn't tell a mirrored one from a turned one.
 */
export function findTwins(scene: Scene): Twin[] {
  const worlds = worldMatrices(scene)
  const byCounts = new Map<string, number[]>()
  scene.nodes.forEach((node, index) => {
    if (node.mesh < 0) return
    const mesh = scene.meshes[node.mesh]!
    if (faceCountOf(mesh) === 0) return
    const key = `${mesh.points.length} ${mesh.faceOffsets.length} ${mesh.faceVertices.length}`
    const held = byCounts.get(key)
    if (held) held.push(index)
    else byCounts.set(key, [index])
  })
  const placed = (node: number): Float64Array => {
    const { points } = scene.meshes[scene.nodes[node]!.mesh]!
    return isIdentity(worlds[node]!) ? points : transformPoints(points, worlds[node]!)
  }
  const twins: Twin[] = []
  for (const nodes of byCounts.values()) {
    const measures = new Map(
      nodes.map((node) => [node, nodes.length > 1 ? measureShape(placed(node)) : null]),
    )
    const isTwin = new Set<number>()
    nodes.forEach((node, at) => {
      if (isTwin.has(node)) return
      const from = placed(node)
      const tolerance = diagonalOf(boundsOf(from)) * TWIN_SHARE
      for (const other of nodes.slice(at + 1)) {
        if (isTwin.has(other) || !alike(measures.get(node)!, measures.get(other)!)) continue
        const mesh = scene.meshes[scene.nodes[node]!.mesh]!
        const twin = scene.meshes[scene.nodes[other]!.mesh]!
        for (const { map, points } of orderings(
          { ...mesh, points: from },
          { ...twin, points: placed(other) },
        )) {
          const matrix = fitAffine(from, points)
          if (!matrix || !isRigid(matrix, 1e-3)) continue
          const fitted = transformPoints(from, matrix)
          let farthest = 0
          for (let value = 0; value < fitted.length; value++)
            farthest = Math.max(farthest, Math.abs(fitted[value]! - points[value]!))
          if (!(farthest <= tolerance)) continue
          isTwin.add(other)
          twins.push({ node, twin: other, matrix, mirrored: isMirroring(matrix), points: map })
          break
        }
      }
    })
  }
  return twins
}
