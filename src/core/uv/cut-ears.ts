/** Polygons over UVs cut into triangles. */
import type { UvSet } from '../scene/mesh.ts'

const turn = (set: UvSet, a: number, b: number, c: number): number => {
  const i = 2 * set.indices[a]!
  const j = 2 * set.indices[b]!
  const k = 2 * set.indices[c]!
  const { values } = set
  return (
    (values[j]! - values[i]!) * (values[k + 1]! - values[i + 1]!) -
    (values[j + 1]! - values[i + 1]!) * (values[k]! - values[i]!)
  )
}

/** Whether a polygon turns one way all around, once: one that goes to a corner and straight back does not. */
export function isConvex(set: UvSet, corners: readonly number[]): boolean {
  const size = corners.length
  if (size === 3) return true
  const { values, indices } = set
  let sign = 0
  // once around it goes from right to left once, and from up to down
  const last = [0, 1].map((axis) => lastWay(set, corners, axis)) as [number, number]
  const turns = [0, 0]
  for (let k = 0; k < size; k++) {
    const [a, b] = [corners[k]!, corners[(k + 1) % size]!]
    const bend = turn(set, a, b, corners[(k + 2) % size]!)
    if (bend !== 0) {
      if (sign === 0) sign = bend
      else if (sign * bend < 0) return false
    }
    for (let axis = 0; axis < 2; axis++) {
      const way = Math.sign(values[2 * indices[b]! + axis]! - values[2 * indices[a]! + axis]!)
      if (way === 0 || way === last[axis]) continue
      last[axis] = way
      if (++turns[axis]! > 2) return false
    }
  }
  return true
}

/** Which way the last side leads that leads any way along an axis. */
function lastWay({ values, indices }: UvSet, corners: readonly number[], axis: number): number {
  for (let k = corners.length - 1; k >= 0; k--) {
    const next = corners[(k + 1) % corners.length]!
    const way = Math.sign(values[2 * indices[next]! + axis]! - values[2 * indices[corners[k]!]! + axis]!)
    if (way !== 0) return way
  }
  return 0
}

/** How near a corner lies to a side to lie on it, as a share of the polygon's extent. */
const ON_SIDE = 1e-12

function extentOf({ values, indices }: UvSet, corners: readonly number[]): number {
  let most = 0
  const first = 2 * indices[corners[0]!]!
  for (const corner of corners) {
    const at = 2 * indices[corner]!
    most = Math.max(
      most,
      Math.abs(values[at]! - values[first]!),
      Math.abs(values[at + 1]! - values[first + 1]!),
    )
  }
  return most
}

function areOne({ values, indices }: UvSet, a: number, b: number): boolean {
  const [i, j] = [2 * indices[a]!, 2 * indices[b]!]
  return a === b || (values[i] === values[j] && values[i + 1] === values[j + 1])
}

/** Corners without those that a polygon only goes to and comes back from, and those that stand twice behind each other. */
function withoutSpikes(set: UvSet, corners: readonly number[], rounding: number): number[] {
  const { values, indices } = set
  const rest = [...corners]
  for (let k = 0, passed = 0; rest.length > 3 && passed < rest.length;) {
    k %= rest.length
    const size = rest.length
    const [a, b, c] = [rest[(k + size - 1) % size]!, rest[k]!, rest[(k + 1) % size]!]
    const [i, j, l] = [2 * indices[a]!, 2 * indices[b]!, 2 * indices[c]!]
    const back =
      (values[j]! - values[i]!) * (values[l]! - values[j]!) +
      (values[j + 1]! - values[i + 1]!) * (values[l + 1]! - values[j + 1]!)
    if (areOne(set, a, b) || (back < 0 && Math.abs(turn(set, a, b, c)) <= rounding)) {
      rest.splice(k, 1)
      passed = 0
      // what stood before it may be one now
      k += size - 2
    } else {
      passed++
      k++
    }
  }
  return rest
}

/** Ears of a polygon over UVs; what can't be cut (it crosses itself) is left as a fan. */
export function cutEars(set: UvSet, corners: readonly number[]): number[][] {
  const rounding = ON_SIDE * extentOf(set, corners) ** 2
  const rest = withoutSpikes(set, corners, rounding)
  let area = 0
  for (let k = 1; k + 1 < rest.length; k++) area += turn(set, rest[0]!, rest[k]!, rest[k + 1]!)
  const sign = area < 0 ? -1 : 1
  const triangles: number[][] = []
  /** @param least a corner in the way lies at least so far inward of each side, as twice an area. */
  const earOf = (least: number): number => {
    const size = rest.length
    return rest.findIndex((b, k) => {
      const [a, c] = [rest[(k + size - 1) % size]!, rest[(k + 1) % size]!]
      if (!(sign * turn(set, a, b, c) > 0)) return false
      return !rest.some(
        (p) =>
          ![a, b, c].some((corner) => areOne(set, corner, p)) &&
          sign * turn(set, a, b, p) > least &&
          sign * turn(set, b, c, p) > least &&
          sign * turn(set, c, a, p) > least,
      )
    })
  }
  while (rest.length > 3) {
    const size = rest.length
    // a corner on its side is in the way of an ear as well
    let ear = earOf(-rounding)
    if (ear < 0) ear = earOf(0)
    if (ear < 0) break
    triangles.push([rest[(ear + size - 1) % size]!, rest[ear]!, rest[(ear + 1) % size]!])
    rest.splice(ear, 1)
  }
  for (let k = 1; k + 1 < rest.length; k++) triangles.push([rest[0]!, rest[k]!, rest[k + 1]!])
  return triangles
}
