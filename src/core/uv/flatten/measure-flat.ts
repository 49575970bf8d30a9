/** How far a flat net is from the surface. */
import type { IslandNet } from './island-net.ts'
import type { TriangleShapes } from './triangle-shapes.ts'

export interface FlatStretch {
  /**
   * Root of the mean of ((a - 1)² + (b - 1)²) / 2 by area, where a and b are a triangle's two stretches, at the size
   * where flat and curved area are equal: 0.1 is a tenth longer or shorter.
   */
  readonly mean: number
  /** Share of the area that is stretched more than the limit. */
  readonly beyond: number
}

/** @param flat 2 x vertexCount. */
export function stretchOf(
  { triangles }: IslandNet,
  { inverses, weights }: TriangleShapes,
  flat: Float64Array,
  limit = Infinity,
): FlatStretch {
  const count = weights.length
  const sums = new Float64Array(count)
  const areas = new Float64Array(count)
  let [curved, laid] = [0, 0]
  for (let at = 0; at < count; at++) {
    const i = 2 * triangles[3 * at]!
    const j = 2 * triangles[3 * at + 1]!
    const k = 2 * triangles[3 * at + 2]!
    const p = inverses[4 * at]!
    const q = inverses[4 * at + 1]!
    const s = inverses[4 * at + 3]!
    const ux = flat[j]! - flat[i]!
    const uy = flat[j + 1]! - flat[i + 1]!
    const a = ux * p
    const c = uy * p
    const b = ux * q + (flat[k]! - flat[i]!) * s
    const d = uy * q + (flat[k + 1]! - flat[i + 1]!) * s
    sums[at] = a * a + b * b + c * c + d * d
    areas[at] = a * d - b * c
    curved += weights[at]!
    laid += weights[at]! * areas[at]!
  }
  if (!(laid > 0)) return { mean: Infinity, beyond: 1 }
  const scale = curved / laid
  let [mean, beyond] = [0, 0]
  for (let at = 0; at < count; at++) {
    // (a - 1)² + (b - 1)², with a + b the root of a² + b² + 2ab
    const both = Math.sqrt(Math.max(0, (sums[at]! + 2 * areas[at]!) * scale))
    const own = Math.max(0, sums[at]! * scale - 2 * both + 2) / 2
    mean += weights[at]! * own
    if (own > limit * limit) beyond += weights[at]!
  }
  return { mean: Math.sqrt(mean / curved), beyond: beyond / curved }
}
