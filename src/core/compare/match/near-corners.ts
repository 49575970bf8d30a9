/** Corners that lie nearest to a place, of very many: polygons that hang together with nothing are each held against all. */
import { pointCountOf, type Mesh } from '../../scene/mesh.ts'

/** Corners up to which all are looked at each time. */
const FEW = 400
/** Corners that a cell of the grid is to hold about. */
const IN_A_CELL = 4
/** Cells along each side of the grid at most. */
const MOST_CELLS = 64

/** Corners that are held against each other for one place: on one spot a million may lie. */
const MOST_FOUND = 2000
const FORGETS = 32

type Find = (place: ArrayLike<number>, most: number, isFree: (corner: number) => boolean) => number[]

/** @returns finds at most so many of the corners, those at places that are no numbers last. */
export function nearCorners(mesh: Mesh, corners: readonly number[]): Find {
  const { points, faceVertices } = mesh
  const farFrom = (place: ArrayLike<number>, corner: number): number => {
    const at = 3 * faceVertices[corner]!
    return (
      (points[at]! - place[0]!) ** 2 + (points[at + 1]! - place[1]!) ** 2 + (points[at + 2]! - place[2]!) ** 2
    )
  }
  const sorted = (place: ArrayLike<number>, found: readonly number[]): number[] =>
    found
      .map((corner) => ({ corner, away: farFrom(place, corner) }))
      .sort((a, b) => (Number.isNaN(a.away) ? 1 : Number.isNaN(b.away) ? -1 : a.away - b.away))
      .map(({ corner }) => corner)
  if (corners.length <= FEW || pointCountOf(mesh) === 0)
    return (place, most, isFree) => sorted(place, corners.filter(isFree)).slice(0, most)

  const low = [Infinity, Infinity, Infinity]
  const high = [-Infinity, -Infinity, -Infinity]
  for (const corner of corners)
    for (let axis = 0; axis < 3; axis++) {
      const value = points[3 * faceVertices[corner]! + axis]!
      if (!Number.isFinite(value)) continue
      low[axis] = Math.min(low[axis]!, value)
      high[axis] = Math.max(high[axis]!, value)
    }
  const size = Math.max(...high.map((value, axis) => value - low[axis]!))
  const cells = Math.max(1, Math.min(MOST_CELLS, Math.ceil(Math.sqrt(corners.length / IN_A_CELL))))
  const cellSize = size > 0 && Number.isFinite(size) ? size / cells : 1
  const cellOf = (value: number, axis: number): number => {
    const cell = Math.floor((value - low[axis]!) / cellSize)
    // what is no number lies with the first
    return cell > 0 ? Math.min(cells - 1, cell) : 0
  }
  const keyOf = (x: number, y: number, z: number): number => (x * cells + y) * cells + z
  const held = new Map<number, number[]>()
  for (const corner of corners) {
    const at = 3 * faceVertices[corner]!
    const key = keyOf(cellOf(points[at]!, 0), cellOf(points[at + 1]!, 1), cellOf(points[at + 2]!, 2))
    const list = held.get(key)
    if (list) list.push(corner)
    else held.set(key, [corner])
  }
  /** What is no longer free never is again: a cell that is mostly of such forgets them. */
  const look = (key: number, isFree: (corner: number) => boolean, found: number[]): void => {
    const list = held.get(key)
    if (!list) return
    let gone = 0
    for (const corner of list) {
      if (found.length >= MOST_FOUND) break
      if (isFree(corner)) found.push(corner)
      else gone++
    }
    if (gone > FORGETS && gone > list.length / 2) held.set(key, list.filter(isFree))
  }
  return (place, most, isFree) => {
    const [x, y, z] = [0, 1, 2].map((axis) => cellOf(place[axis]!, axis)) as [number, number, number]
    const found: number[] = []
    /** Further rings that are looked at once enough was found: what lies there may be nearer than what lies in corners. */
    let more = 1
    for (let ring = 0; ring < cells && more >= 0; ring++) {
      for (let i = Math.max(0, x - ring); i <= Math.min(cells - 1, x + ring); i++)
        for (let j = Math.max(0, y - ring); j <= Math.min(cells - 1, y + ring); j++) {
          const isSide = Math.abs(i - x) === ring || Math.abs(j - y) === ring
          const step = isSide || ring === 0 ? 1 : 2 * ring
          for (let k = z - ring; k <= z + ring; k += step) {
            if (k < 0 || k >= cells) continue
            look(keyOf(i, j, k), isFree, found)
          }
        }
      if (found.length >= MOST_FOUND) break
      if (found.length >= most) more--
    }
    return sorted(place, found).slice(0, most)
  }
}
