/** What a step of relaxation is measured by. */
import { factorize, type SparsePattern } from '../../base/math/sparse-factor.ts'
import type { Distortion } from './distortion.ts'
import type { IslandNet } from './island-net.ts'
import { stiffness, withHeld, type NetGraph, type TriangleShapes } from './triangle-shapes.ts'

export interface Metric {
  /**
   * @param flat 2 x vertexCount. @param anew false: one that was made before will do.
   * @returns solves for both coordinates, in place; null where that can't be done.
   */
  readonly of: (flat: Float64Array, anew: boolean) => ((values: Float64Array) => void) | null
}

/** How much steeper one triangle may be than another for the metric to follow. */
const STEEPEST = 1e6
/** Up to here all triangles are taken to be as steep as an even one. */
const NEARLY_EVEN = 6

/**
 * The metric of a step from where the net is: the surface's stiffness, weighed by how steep the energy is there.
 */
export function createMetric(
  net: IslandNet,
  graph: NetGraph,
  pattern: SparsePattern,
  shapes: TriangleShapes,
  kind: Distortion,
  pinned: Uint8Array | null,
): Metric {
  const { triangles, vertexCount } = net
  const { weights, inverses, area } = shapes
  const held = pinned?.some((flag) => flag > 0) ? pinned : null
  const factors = new Float64Array(weights.length)
  const even = kind.steepness(2, 1)
  let made: ((values: Float64Array) => void) | null = null
  let isEven = false

  function weigh(flat: Float64Array): boolean {
    let isNearlyEven = true
    for (let at = 0; at < weights.length; at++) {
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
      const steep = kind.steepness(a * a + b * b + c * c + d * d, a * d - b * c)
      if (!(steep < NEARLY_EVEN * even)) isNearlyEven = false
      // the energy is a mean by area
      factors[at] = Math.min(STEEPEST, Math.max(1 / STEEPEST, steep)) / area
    }
    if (isNearlyEven) factors.fill(even / area)
    return isNearlyEven
  }

  function make(flat: Float64Array): ((values: Float64Array) => void) | null {
    const wasEven = isEven
    isEven = weigh(flat)
    // nothing has changed
    if (isEven && wasEven && made) return made
    let matrix = stiffness(net, graph, shapes, factors, 1e-8)
    if (held) matrix = withHeld(matrix, held)
    else {
      // every vertex is held a little, so that the whole doesn't slide away
      let most = 0
      for (const value of matrix.diagonal) if (value > most) most = value
      for (let vertex = 0; vertex < vertexCount; vertex++) matrix.diagonal[vertex]! += 1e-9 * most
    }
    const factor = factorize(matrix, pattern)
    if (!factor) return null
    return (values) => factor.solve(values)
  }

  return {
    of(flat, anew) {
      if (!made || anew) made = make(flat)
      return made
    },
  }
}
