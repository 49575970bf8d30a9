/**
 * Lowers the distortion of a flat net step by step and never turns a triangle over: steps of limited memory (Nocedal
 * 1980) in the metric of the surface's own stiffness (as Zhu, Bridson & Kaufman 2018), each cut off before any triangle
 * vanishes (Smith & Schaefer 2015).
 */
import type { Distortion } from './distortion.ts'
import type { IslandNet } from './island-net.ts'
import type { Metric } from './metric.ts'
import type { TriangleShapes } from './triangle-shapes.ts'

export interface Relaxed {
  /** 2 x vertexCount. */
  readonly flat: Float64Array
  /** Mean of the energy by area. */
  readonly energy: number
  readonly rounds: number
}

export interface RelaxOptions {
  readonly rounds: number
  /** vertexCount flags: these stay where they are. */
  readonly pinned?: Uint8Array | null
  /** Ends where a round gains less than this share. */
  readonly least?: number
}

/** Steps that are remembered. */
const MEMORY = 6
/** Rounds after which the metric is made anew from where the net is then. */
const RENEW = 12
/** Share of the step that would make the first triangle vanish. */
export const SHORT_OF_FLAT = 0.9
const MOST_HALVINGS = 40

/** The worst triangles of a flat net; not above 0 where one is turned over, -Infinity where a coordinate is no finite number. */
export interface LeastTriangles {
  /** The slimmest: twice its signed area by its longest side squared. */
  readonly slimmest: number
  /** The lowest: its height over its longest side. */
  readonly lowest: number
}

export function leastTriangles({ triangles }: IslandNet, flat: Float64Array): LeastTriangles {
  let [slimmest, lowest] = [Infinity, Infinity]
  for (let at = 0; at < triangles.length; at += 3) {
    const i = 2 * triangles[at]!
    const j = 2 * triangles[at + 1]!
    const k = 2 * triangles[at + 2]!
    const ux = flat[j]! - flat[i]!
    const uy = flat[j + 1]! - flat[i + 1]!
    const vx = flat[k]! - flat[i]!
    const vy = flat[k + 1]! - flat[i + 1]!
    const longest = Math.max(ux * ux + uy * uy, vx * vx + vy * vy, (ux - vx) ** 2 + (uy - vy) ** 2)
    const area = ux * vy - uy * vx
    const slim = area / longest
    if (slim < slimmest) slimmest = slim
    const low = area / Math.sqrt(longest)
    if (low < lowest) lowest = low
    if (Number.isNaN(slim)) return { slimmest: -Infinity, lowest: -Infinity }
  }
  return { slimmest, lowest }
}

/** Mean energy by area, and with `gradient` its derivative by each coordinate. Infinity where a triangle is turned over. */
function energyOf(
  { triangles }: IslandNet,
  { inverses, weights, area: total }: TriangleShapes,
  kind: Distortion,
  flat: Float64Array,
  gradient: Float64Array | null,
  limit = Infinity,
): number {
  gradient?.fill(0)
  let energy = 0
  const scale = total > 0 ? 1 / total : 1
  for (let at = 0; at < weights.length; at++) {
    const i = 2 * triangles[3 * at]!
    const j = 2 * triangles[3 * at + 1]!
    const k = 2 * triangles[3 * at + 2]!
    const weight = weights[at]! * scale
    const p = inverses[4 * at]!
    const q = inverses[4 * at + 1]!
    const s = inverses[4 * at + 3]!
    const ux = flat[j]! - flat[i]!
    const uy = flat[j + 1]! - flat[i + 1]!
    const vx = flat[k]! - flat[i]!
    const vy = flat[k + 1]! - flat[i + 1]!
    // the map's matrix: sides times the inverse of the sides on the model, (p q; 0 s)
    const a = ux * p
    const c = uy * p
    const b = ux * q + vx * s
    const d = uy * q + vy * s
    const area = a * d - b * c
    if (!(area > 0)) return Infinity
    const sum = a * a + b * b + c * c + d * d
    energy += weight * kind.value(sum, area)
    if (energy > limit) return Infinity
    if (!gradient) continue
    const bySum = 2 * weight * kind.bySum(sum, area)
    const byArea = weight * kind.byArea(sum, area)
    const ga = bySum * a + byArea * d
    const gb = bySum * b - byArea * c
    const gc = bySum * c - byArea * b
    const gd = bySum * d + byArea * a
    const gux = ga * p + gb * q
    const guy = gc * p + gd * q
    const gvx = gb * s
    const gvy = gd * s
    gradient[j]! += gux
    gradient[j + 1]! += guy
    gradient[k]! += gvx
    gradient[k + 1]! += gvy
    gradient[i]! -= gux + gvx
    gradient[i + 1]! -= guy + gvy
  }
  return Number.isFinite(energy) ? energy : Infinity
}

/** How far one may go along a direction before a triangle has no area left; Infinity where none ever does. */
export function longestStep({ triangles }: IslandNet, flat: Float64Array, direction: Float64Array): number {
  let longest = Infinity
  for (let at = 0; at < triangles.length; at += 3) {
    const i = 2 * triangles[at]!
    const j = 2 * triangles[at + 1]!
    const k = 2 * triangles[at + 2]!
    const ux = flat[j]! - flat[i]!
    const uy = flat[j + 1]! - flat[i + 1]!
    const vx = flat[k]! - flat[i]!
    const vy = flat[k + 1]! - flat[i + 1]!
    const dux = direction[j]! - direction[i]!
    const duy = direction[j + 1]! - direction[i + 1]!
    const dvx = direction[k]! - direction[i]!
    const dvy = direction[k + 1]! - direction[i + 1]!
    // area(t) = c + b t + a t²
    const a = dux * dvy - duy * dvx
    const b = ux * dvy - uy * dvx + dux * vy - duy * vx
    const c = ux * vy - uy * vx
    const inside = b * b - 4 * a * c
    if (inside < 0) continue
    // both roots without losing digits
    const half = b < 0 ? -(b - Math.sqrt(inside)) / 2 : -(b + Math.sqrt(inside)) / 2
    const first = half / a
    const second = c / half
    if (first > 0 && first < longest) longest = first
    if (second > 0 && second < longest) longest = second
  }
  return longest
}

/**
 * @param start 2 x vertexCount with no triangle turned over.
 * @returns at most as much distortion as the start has.
 */
export function relaxNet(
  net: IslandNet,
  shapes: TriangleShapes,
  start: Float64Array,
  kind: Distortion,
  metric: Metric,
  { rounds, pinned = null, least = 1e-3 }: RelaxOptions,
): Relaxed {
  let flat = start.slice()
  const size = flat.length
  let gradient = new Float64Array(size)
  let energy = energyOf(net, shapes, kind, flat, gradient)
  if (!(energy < Infinity)) return { flat, energy, rounds: 0 }
  const hold = (values: Float64Array): void => {
    if (pinned)
      for (let vertex = 0; vertex < pinned.length; vertex++)
        if (pinned[vertex]) values[2 * vertex] = values[2 * vertex + 1] = 0
  }
  hold(gradient)
  const steps: { moved: Float64Array; turned: Float64Array; scale: number }[] = []
  const direction = new Float64Array(size)
  const along = new Float64Array(MEMORY)
  let next = new Float64Array(size)
  let nextGradient = new Float64Array(size)
  let solve = metric.of(flat, false)
  let age = 0
  let round = 0
  while (round < rounds && solve) {
    round++
    for (let at = 0; at < size; at++) direction[at] = -gradient[at]!
    for (let k = steps.length - 1; k >= 0; k--) {
      const { moved, turned, scale } = steps[k]!
      along[k] = scale * dot(moved, direction)
      addTo(direction, turned, -along[k]!)
    }
    solve(direction)
    for (const [k, { moved, turned, scale }] of steps.entries())
      addTo(direction, moved, along[k]! - scale * dot(turned, direction))
    hold(direction)
    const slope = dot(direction, gradient)
    if (!(slope < 0)) {
      if (steps.length === 0) break
      steps.length = 0
      continue
    }
    let step = Math.min(1, SHORT_OF_FLAT * longestStep(net, flat, direction))
    let found = Infinity
    let halvings = 0
    for (; halvings < MOST_HALVINGS; halvings++, step /= 2) {
      for (let at = 0; at < size; at++) next[at] = flat[at]! + step * direction[at]!
      found = energyOf(net, shapes, kind, next, nextGradient)
      if (found <= energy + 1e-4 * step * slope) break
    }
    hold(nextGradient)
    if (!(found <= energy)) {
      if (steps.length === 0 && age === 0) break
      steps.length = 0
      solve = metric.of(flat, true)
      age = 0
      continue
    }
    const gain = energy - found
    const moved = new Float64Array(size)
    const turned = new Float64Array(size)
    for (let at = 0; at < size; at++) {
      moved[at] = next[at]! - flat[at]!
      turned[at] = nextGradient[at]! - gradient[at]!
    }
    const curved = dot(moved, turned)
    if (curved > 1e-300) {
      if (steps.length === MEMORY) steps.shift()
      steps.push({ moved, turned, scale: 1 / curved })
    }
    ;[flat, next] = [next, flat]
    ;[gradient, nextGradient] = [nextGradient, gradient]
    energy = found
    const isSlow = gain < least * (energy - kind.least + 1e-12)
    if (isSlow && age === 0) break
    if (++age >= RENEW || isSlow || halvings > 6) {
      solve = metric.of(flat, true)
      steps.length = 0
      age = 0
    }
  }
  return { flat, energy, rounds: round }
}

const dot = (a: Float64Array, b: Float64Array): number => {
  let sum = 0
  for (let at = 0; at < a.length; at++) sum += a[at]! * b[at]!
  return sum
}

const addTo = (to: Float64Array, what: Float64Array, times: number): void => {
  for (let at = 0; at < to.length; at++) to[at]! += what[at]! * times
}
