/** An island's outline: its borders in the plane. */

export interface Outline {
  /** Each 2 x corner count: outer borders and those of holes, in any direction. */
  readonly loops: readonly Float64Array[]
}

export const outlineArea = (outline: Outline): number => Math.abs(signedArea(outline))

/** Positive where borders run counter-clockwise; holes take away where they run the other way round. */
export function signedArea({ loops }: Outline): number {
  let sum = 0
  for (const loop of loops)
    for (let at = 0; at < loop.length; at += 2) {
      const next = at + 2 < loop.length ? at + 2 : 0
      sum += loop[at]! * loop[next + 1]! - loop[next]! * loop[at + 1]!
    }
  return sum / 2
}

export interface OutlineBox {
  readonly low: readonly [number, number]
  readonly high: readonly [number, number]
}

/** The box of an outline that is turned. @param angle radians, counter-clockwise. */
export function turnedBox({ loops }: Outline, angle: number): OutlineBox {
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity]
  for (const loop of loops)
    for (let at = 0; at < loop.length; at += 2) {
      const u = c * loop[at]! - s * loop[at + 1]!
      const v = s * loop[at]! + c * loop[at + 1]!
      if (u < u0) u0 = u
      if (u > u1) u1 = u
      if (v < v0) v0 = v
      if (v > v1) v1 = v
    }
  return { low: [u0, v0], high: [u1, v1] }
}

/** Corners of the convex hull, counter-clockwise (Andrew's monotone chain). */
export function hullOf({ loops }: Outline): [number, number][] {
  const points: [number, number][] = []
  for (const loop of loops)
    for (let at = 0; at < loop.length; at += 2) points.push([loop[at]!, loop[at + 1]!])
  points.sort((a, b) => a[0] - b[0] || a[1] - b[1])
  const half = (from: [number, number][]): [number, number][] => {
    const chain: [number, number][] = []
    for (const point of from) {
      while (chain.length > 1) {
        const [a, b] = [chain[chain.length - 2]!, chain[chain.length - 1]!]
        if ((b[0] - a[0]) * (point[1] - a[1]) - (b[1] - a[1]) * (point[0] - a[0]) > 0) break
        chain.pop()
      }
      chain.push(point)
    }
    chain.pop()
    return chain
  }
  return [...half(points), ...half(points.reverse())]
}

/** Sides of a hull that are tried. */
const MOST_SIDES = 400

/**
 * The turn after which an outline lies in its least box, wider than high. A side of the hull lies along the box (Freeman &
 * Shapira 1975). @returns radians.
 */
export function leastBoxTurn(outline: Outline): number {
  const hull = hullOf(outline)
  let best = 0
  let least = Infinity
  const whole = { loops: [Float64Array.from(hull.flat())] }
  // round ones have thousands of sides that differ in nothing
  const step = Math.ceil(hull.length / MOST_SIDES)
  for (let at = 0; at < hull.length; at += step) {
    const [a, b] = [hull[at]!, hull[(at + 1) % hull.length]!]
    const angle = -Math.atan2(b[1] - a[1], b[0] - a[0])
    const { low, high } = turnedBox(whole, angle)
    const [wide, tall] = [high[0] - low[0], high[1] - low[1]]
    // of boxes that are equal the one that needs no turn
    if (wide * tall < least * (1 - 1e-9)) {
      least = wide * tall
      best = wide >= tall ? angle : angle + Math.PI / 2
    }
  }
  return best
}
