export interface Box {
  readonly min: readonly [number, number, number]
  readonly max: readonly [number, number, number]
}

/** Bounds of 3 x n positions; null for none. */
export function boundsOf(points: Float64Array): Box | null {
  if (points.length === 0) return null
  let x0 = Infinity
  let y0 = Infinity
  let z0 = Infinity
  let x1 = -Infinity
  let y1 = -Infinity
  let z1 = -Infinity
  for (let at = 0; at < points.length; at += 3) {
    const x = points[at]!
    const y = points[at + 1]!
    const z = points[at + 2]!
    if (x < x0) x0 = x
    if (x > x1) x1 = x
    if (y < y0) y0 = y
    if (y > y1) y1 = y
    if (z < z0) z0 = z
    if (z > z1) z1 = z
  }
  return { min: [x0, y0, z0], max: [x1, y1, z1] }
}

/** Bounds of 2 x n positions in a plane, of several lists: the lowest of both, then the highest; infinite for none. NaN is left out. */
export function flatBoundsOf(lists: readonly Float64Array[]): readonly [number, number, number, number] {
  let u0 = Infinity
  let v0 = Infinity
  let u1 = -Infinity
  let v1 = -Infinity
  for (const values of lists)
    for (let at = 0; at < values.length; at += 2) {
      const u = values[at]!
      const v = values[at + 1]!
      if (u < u0) u0 = u
      if (u > u1) u1 = u
      if (v < v0) v0 = v
      if (v > v1) v1 = v
    }
  return [u0, v0, u1, v1]
}

/** The least box around both; null is no box. */
export const joinBoxes = (a: Box | null, b: Box | null): Box | null =>
  !a
    ? b
    : !b
      ? a
      : {
          min: [0, 1, 2].map((k) => Math.min(a.min[k]!, b.min[k]!)) as [number, number, number],
          max: [0, 1, 2].map((k) => Math.max(a.max[k]!, b.max[k]!)) as [number, number, number],
        }

/** Length of the box’s diagonal, in its unit; 0 for no box. */
export const diagonalOf = (box: Box | null): number =>
  box ? Math.hypot(box.max[0] - box.min[0], box.max[1] - box.min[1], box.max[2] - box.min[2]) : 0
