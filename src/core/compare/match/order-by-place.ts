/** Which point of a part is which of a copy that was moved, turned or mirrored: by where they lie. */
import { EigenvalueDecomposition, Matrix } from 'ml-matrix'
import { ALONG_AXES } from '../../base/math/along-axes.ts'
import { createHashGrid, farthestFrom0, nearestWithin } from '../../base/math/hash-grid.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { samePolygons } from '../../mesh/relations/same-polygons.ts'
import type { Mesh } from '../../scene/mesh.ts'

/** Points that are looked at for one: a heap of them on one spot is no shape that anybody made. */
const MOST_LOOKED_AT = 512

/** Of each axis the mean. */
function middleOf(points: Float64Array): [number, number, number] {
  const sum: [number, number, number] = [0, 0, 0]
  for (let at = 0; at < points.length; at++) sum[at % 3]! += points[at]!
  return sum.map((value) => value / (points.length / 3)) as [number, number, number]
}

/** Extents have to differ by so much, as a share of the largest, for the axes along them to be known. */
const LEAST_APART = 1e-3

/** The axes along which points extend, the longest first, three rows of 3; null where two extents are alike. */
function principalAxes(points: Float64Array, middle: readonly number[]): number[] | null {
  const sums = Matrix.zeros(3, 3)
  for (let at = 0; at < points.length; at += 3)
    for (let row = 0; row < 3; row++)
      for (let column = 0; column < 3; column++)
        sums.set(row, column, sums.get(row, column) + (points[at + row]! - middle[row]!) * (points[at + column]! - middle[column]!)) // prettier-ignore
  const { realEigenvalues: extents, eigenvectorMatrix: vectors } = new EigenvalueDecomposition(sums, { assumeSymmetric: true }) // prettier-ignore
  const order = [0, 1, 2].sort((a, b) => extents[b]! - extents[a]!)
  const isApart = [0, 1].every((at) => extents[order[at]!]! - extents[order[at + 1]!]! > LEAST_APART * extents[order[0]!]!) // prettier-ignore
  return isApart ? order.flatMap((of) => [0, 1, 2].map((row) => vectors.get(row, of))) : null
}

/** Ways that bring the axes along which one extends to those of the other: each of them may point either way. */
function* alongExtents(own: readonly number[], its: readonly number[]): Generator<number[]> {
  for (let signs = 0; signs < 8; signs++)
    yield Array.from({ length: 9 }, (_entry, at) =>
      [0, 1, 2].reduce((sum, axis) => {
        const sign = (signs >> axis) & 1 ? -1 : 1
        return sum + sign * its[3 * axis + Math.floor(at / 3)]! * own[3 * axis + (at % 3)]!
      }, 0),
    )
}

/**
 * @param reach how far a point may lie from its place, in the points' unit.
 * @returns for each way that brings every point and polygon of `mesh` onto `copy`, for each point that of the copy.
 */
export function* ordersByPlace(mesh: Mesh, copy: Mesh, reach: number): Generator<Int32Array> {
  if (!(reach > 0) || mesh.points.length !== copy.points.length) return
  const count = mesh.points.length / 3
  const [from, to] = [middleOf(mesh.points), middleOf(copy.points)]
  if (![...from, ...to].every(Number.isFinite)) return
  const places = copy.points
  const grid = createHashGrid(count, 4 * reach, farthestFrom0(places))
  for (let point = count - 1; point >= 0; point--)
    grid.insert(point, places[3 * point]!, places[3 * point + 1]!, places[3 * point + 2]!)
  let facts: [ReturnType<typeof createMeshFacts>, ReturnType<typeof createMeshFacts>] | null = null
  for (const way of ways()) {
    const map = orderedBy(way)
    if (!map) continue
    facts ??= [createMeshFacts(mesh), createMeshFacts(copy)]
    if (samePolygons(facts[0], facts[1], map)) yield map
  }

  function* ways(): Generator<readonly number[]> {
    yield* ALONG_AXES
    const own = principalAxes(mesh.points, from)
    const its = own && principalAxes(copy.points, to)
    if (its) yield* alongExtents(own, its)
  }

  function orderedBy(way: readonly number[]): Int32Array | null {
    const map = new Int32Array(count).fill(-1)
    const isTaken = new Uint8Array(count)
    for (let point = 0; point < count; point++) {
      const off = [0, 1, 2].map((axis) => mesh.points[3 * point + axis]! - from[axis]!)
      const place = [0, 1, 2].map(
        (row) => to[row]! + [0, 1, 2].reduce((sum, axis) => sum + way[3 * row + axis]! * off[axis]!, 0),
      ) as [number, number, number]
      const there = nearestWithin(grid, places, place, reach, MOST_LOOKED_AT, (other) => !isTaken[other])
      // most ways don't fit, which the first points tell
      if (there === null || there < 0) return null
      map[point] = there
      isTaken[there] = 1
    }
    return map
  }
}
