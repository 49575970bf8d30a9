/** Which point of a part is which of a copy that was moved, turned or mirrored: by where they lie. */
import { ALONG_AXES } from '../../base/math/along-axes.ts'
import { createHashGrid, farthestFrom0, nearestWithin } from '../../base/math/hash-grid.ts'
import { principalAxes } from '../whole/principal-axes.ts'
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
function axesOf(points: Float64Array, middle: readonly number[]): readonly number[] | null {
  const sums = new Array<number>(9).fill(0)
  for (let at = 0; at < points.length; at += 3)
    for (let entry = 0; entry < 9; entry++) {
      const [row, column] = [Math.floor(entry / 3), entry % 3]
      sums[entry]! += (points[at + row]! - middle[row]!) * (points[at + column]! - middle[column]!)
    }
  const found = principalAxes(sums)
  if (!found) return null
  const [longest, middling, shortest] = found.moments as [number, number, number]
  const isApart = Math.min(longest - middling, middling - shortest) > LEAST_APART * longest
  return isApart ? found.axes : null
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
    const own = axesOf(mesh.points, from)
    const its = own && axesOf(copy.points, to)
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
