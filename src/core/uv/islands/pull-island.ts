/** Corners of an island drawn somewhere else, while what is near gives way. */
import { flatBoundsOf } from '../../base/math/box.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { FlattenMethod } from '../flatten/distortion.ts'
import { isSound, layNet } from '../flatten/flatten-net.ts'
import { signedArea } from '../pack/outline.ts'
import { outlineOf, type LaidIsland } from './laid-island.ts'

export interface Pull {
  /**
   * Draws the corners on, never so far that a triangle would turn over, and lets the rest give way.
   * @param targets 2 x dragged count, UV. @param rounds of drawing and relaxing.
   * @returns 2 x net.vertexCount, UV, and how far the corners still are from where they were drawn.
   */
  readonly to: (targets: Float64Array, rounds: number) => { flat: Float64Array; left: number }
}

/** Rounds of relaxation after each draw. */
const RELAXING = 1
/** A draw that gains less than this share of the way is stuck. */
const STUCK = 1e-6

/**
 * @param dragged vertices of the net. @param reach how far from them corners give way, UV units; all others stay.
 * @returns null where the island is folded already: it can't be kept from folding then.
 */
export function pullIsland(
  facts: MeshFacts,
  { net, flat }: LaidIsland,
  dragged: readonly number[],
  reach: number,
  method: FlattenMethod,
): Pull | null {
  const isMirrored = signedArea(outlineOf({ net, flat })) < 0
  const sideOf = (own: Float64Array): Float64Array =>
    isMirrored ? own.map((value, at) => (at % 2 ? -value : value)) : own
  let surface = 0
  for (let at = 0; at < net.faces.length; at++) surface += facts.faceAreas()[net.faces[at]!]!
  const laid = Math.abs(signedArea(outlineOf({ net, flat })))
  if (!(surface > 0 && laid > 0) || !isSound(net, sideOf(flat))) return null
  // the energies ask for the model's own size
  const scale = Math.sqrt(surface / laid)
  const laidNet = layNet(
    facts,
    net,
    sideOf(flat).map((value) => value * scale),
  )
  if (!laidNet) return null
  const isDragged = new Uint8Array(net.vertexCount)
  for (const vertex of dragged) isDragged[vertex] = 1
  const isNear = nearTest(flat, dragged, reach)
  const stays = Uint8Array.from({ length: net.vertexCount }, (_, vertex) =>
    isDragged[vertex] || !isNear(flat[2 * vertex]!, flat[2 * vertex + 1]!) ? 1 : 0,
  )
  return {
    to(targets, rounds) {
      const wanted = sideOf(targets).map((value) => value * scale)
      let left = Infinity
      for (let round = 0; round < rounds; round++) {
        const now = laidNet.flat()
        const step = new Float64Array(now.length)
        dragged.forEach((vertex, at) => {
          step[2 * vertex] = wanted[2 * at]! - now[2 * vertex]!
          step[2 * vertex + 1] = wanted[2 * at + 1]! - now[2 * vertex + 1]!
        })
        const share = laidNet.draw(step)
        left =
          (1 - share) *
          dragged.reduce(
            (most, vertex) => Math.max(most, Math.hypot(step[2 * vertex]!, step[2 * vertex + 1]!)),
            0,
          )
        laidNet.relax(method, RELAXING, stays)
        if (share < STUCK) break
      }
      return { flat: sideOf(laidNet.flat()).map((value) => value / scale), left: left / scale }
    },
  }
}

/** Whether a place is within reach of one of many; looked up in cells as wide as the reach. */
function nearTest(
  flat: Float64Array,
  dragged: readonly number[],
  reach: number,
): (u: number, v: number) => boolean {
  const [u0, v0, u1, v1] = flatBoundsOf([flat])
  if (reach >= Math.hypot(u1 - u0, v1 - v0)) return () => true
  if (!(reach > 0)) return () => false
  const cells = new Map<string, number[]>()
  for (const vertex of dragged) {
    const key = `${Math.floor(flat[2 * vertex]! / reach)} ${Math.floor(flat[2 * vertex + 1]! / reach)}`
    const held = cells.get(key)
    if (held) held.push(vertex)
    else cells.set(key, [vertex])
  }
  return (u, v) => {
    const [column, row] = [Math.floor(u / reach), Math.floor(v / reach)]
    for (let x = column - 1; x <= column + 1; x++)
      for (let y = row - 1; y <= row + 1; y++)
        for (const vertex of cells.get(`${x} ${y}`) ?? [])
          if (Math.hypot(flat[2 * vertex]! - u, flat[2 * vertex + 1]! - v) <= reach) return true
    return false
  }
}
