/**
 * Where a smooth function of many numbers is least near a start: limited-memory BFGS with a halving line search.
 * Source: Liu & Nocedal, On the limited memory BFGS method for large scale optimization, 1989 (the two-loop recursion).
 */

export interface Minimised {
  /** As many numbers as the start has. */
  readonly at: Float64Array
  readonly value: number
}

export interface MinimiseOptions {
  readonly mostSteps: number
  /** No number moves farther in one step, in its own unit. */
  readonly mostMove: number
  /** The step taken where nothing is known yet, by the slope. */
  readonly firstStep: number
  /** Asked after each step; true ends it. @param step counted from 0. */
  readonly isEnough: (value: number, step: number) => boolean
}

/** Pairs of step and change of slope that are remembered. */
const MEMORY = 8
const [MOST_HALVINGS, SHORTER, ENOUGH_DOWN] = [8, 1 / 3, 1e-4]
/** What falls by less than this share so often in a row goes nowhere. */
const [LEAST_FALL, MOST_SLOW] = [0.005, 12]

/**
 * @param start left as it is.
 * @param valueAt the value, its slope written to the second.
 * @returns the last place reached, its value never above the start's.
 */
export function minimise(
  start: Float64Array,
  valueAt: (at: Float64Array, slope: Float64Array) => number,
  { mostSteps, mostMove, firstStep, isEnough }: MinimiseOptions,
): Minimised {
  const count = start.length
  let at = start.slice()
  let slope = new Float64Array(count)
  let next = new Float64Array(count)
  let nextSlope = new Float64Array(count)
  let value = valueAt(at, slope)
  const known: { step: Float64Array; change: Float64Array; inverse: number }[] = []
  let slow = 0
  for (let round = 0; round < mostSteps && !isEnough(value, round) && slow <= MOST_SLOW; round++) {
    let way = wayDown(slope, known, firstStep)
    let falls = dot(way, slope)
    if (!(falls > 0)) {
      known.length = 0
      way = slope.map((one) => one * firstStep)
      falls = dot(way, slope)
    }
    let farthest = 0
    for (let k = 0; k < count; k++) farthest = Math.max(farthest, Math.abs(way[k]!))
    let share = Math.min(1, mostMove / Math.max(farthest, 1e-300))
    let isLower = false
    for (let tries = 0; tries < MOST_HALVINGS && !isLower; tries++, share *= SHORTER) {
      for (let k = 0; k < count; k++) next[k] = at[k]! - share * way[k]!
      const reached = valueAt(next, nextSlope)
      if (!(reached < value - ENOUGH_DOWN * share * falls)) continue
      isLower = true
      remember(known, at, next, slope, nextSlope)
      slow = reached > value * (1 - LEAST_FALL) ? slow + 1 : 0
      value = reached
      ;[at, next] = [next, at]
      ;[slope, nextSlope] = [nextSlope, slope]
    }
    if (isLower) continue
    if (known.length === 0) break
    known.length = 0
  }
  return { at, value }
}

type Known = { step: Float64Array; change: Float64Array; inverse: number }[]

function remember(
  known: Known,
  at: Float64Array,
  next: Float64Array,
  slope: Float64Array,
  nextSlope: Float64Array,
): void {
  const step = next.map((one, k) => one - at[k]!)
  const change = nextSlope.map((one, k) => one - slope[k]!)
  const along = dot(step, change)
  if (!(along > 1e-300)) return
  known.push({ step, change, inverse: 1 / along })
  if (known.length > MEMORY) known.shift()
}

function wayDown(slope: Float64Array, known: Known, firstStep: number): Float64Array {
  const way = slope.slice()
  const shares: number[] = []
  for (let k = known.length - 1; k >= 0; k--) {
    const { step, change, inverse } = known[k]!
    shares[k] = inverse * dot(step, way)
    add(way, change, -shares[k]!)
  }
  const last = known.at(-1)
  const size = last ? 1 / (last.inverse * dot(last.change, last.change)) : firstStep
  for (let k = 0; k < way.length; k++) way[k]! *= size
  known.forEach(({ step, change, inverse }, k) => add(way, step, shares[k]! - inverse * dot(change, way)))
  return way
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0
  for (let k = 0; k < a.length; k++) sum += a[k]! * b[k]!
  return sum
}

function add(to: Float64Array, what: Float64Array, times: number): void {
  for (let k = 0; k < to.length; k++) to[k]! += times * what[k]!
}
