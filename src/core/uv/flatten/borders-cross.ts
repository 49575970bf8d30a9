/** Whether a flat net lies over itself. */
import type { IslandNet } from './island-net.ts'

/** Segments of a cell that are compared, for each segment there is; beyond it is said that they cross. */
const PAIRS_PER_SEGMENT = 400

/** How much more than a whole turn what lies around a border's point may fill, in radians: rounding. */
const MORE_THAN_A_TURN = 1e-9

type Borders = Pick<IslandNet, 'loops' | 'triangles' | 'shares' | 'vertexCount'>

/**
 * A net none of whose triangles is turned over lies over itself only where its borders cross (or run through one
 * another's holes), or where more than a whole turn lies around a point of them. Sides that touch at a point are not
 * taken for crossing.
 *
 * @param flat 2 x vertexCount.
 */
export const bordersCross = (net: Borders, flat: Float64Array): boolean =>
  turnsTooFar(net, flat) || sidesCross(net, flat)

/** The sides of a slit that is folded over have their ends in common, and so don't cross. */
function turnsTooFar({ loops, triangles, shares, vertexCount }: Borders, flat: Float64Array): boolean {
  const around = new Float64Array(vertexCount)
  const isBorder = new Uint8Array(vertexCount)
  for (const loop of loops) for (const vertex of loop) isBorder[vertex] = 1
  for (let triangle = 0; triangle < shares.length; triangle++)
    for (let k = 0; k < 3; k++) {
      const at = triangles[3 * triangle + k]!
      if (!isBorder[at]) continue
      const [p, q] = [
        2 * triangles[3 * triangle + ((k + 1) % 3)]!,
        2 * triangles[3 * triangle + ((k + 2) % 3)]!,
      ]
      const [au, av] = [flat[p]! - flat[2 * at]!, flat[p + 1]! - flat[2 * at + 1]!]
      const [bu, bv] = [flat[q]! - flat[2 * at]!, flat[q + 1]! - flat[2 * at + 1]!]
      around[at]! += shares[triangle]! * Math.abs(Math.atan2(au * bv - av * bu, au * bu + av * bv))
    }
  return loops.some((loop) => loop.some((vertex) => around[vertex]! > 2 * Math.PI + MORE_THAN_A_TURN))
}

function sidesCross({ loops }: Borders, flat: Float64Array): boolean {
  const from: number[] = []
  const to: number[] = []
  for (const loop of loops)
    loop.forEach((vertex, at) => {
      from.push(2 * vertex)
      to.push(2 * loop[at + 1 < loop.length ? at + 1 : 0]!)
    })
  const count = from.length
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity]
  for (const at of from) {
    u0 = Math.min(u0, flat[at]!)
    u1 = Math.max(u1, flat[at]!)
    v0 = Math.min(v0, flat[at + 1]!)
    v1 = Math.max(v1, flat[at + 1]!)
  }
  const side = Math.max(1, Math.min(1024, Math.round(Math.sqrt(count))))
  const [wide, high] = [(u1 - u0) / side || 1, (v1 - v0) / side || 1]
  const cells: number[][] = Array.from({ length: side * side }, () => [])
  const column = (u: number): number => Math.min(side - 1, Math.floor((u - u0) / wide))
  const row = (v: number): number => Math.min(side - 1, Math.floor((v - v0) / high))
  const cross = (a: number, b: number): boolean => {
    const [p, q, r, s] = [from[a]!, to[a]!, from[b]!, to[b]!]
    if (p === r || p === s || q === r || q === s) return false
    const turn = (i: number, j: number, k: number): number =>
      (flat[j]! - flat[i]!) * (flat[k + 1]! - flat[i + 1]!) -
      (flat[j + 1]! - flat[i + 1]!) * (flat[k]! - flat[i]!)
    return turn(p, q, r) * turn(p, q, s) < 0 && turn(r, s, p) * turn(r, s, q) < 0
  }
  let compared = 0
  for (let at = 0; at < count; at++) {
    const [p, q] = [from[at]!, to[at]!]
    const [c0, c1] = [column(Math.min(flat[p]!, flat[q]!)), column(Math.max(flat[p]!, flat[q]!))]
    const [r0, r1] = [row(Math.min(flat[p + 1]!, flat[q + 1]!)), row(Math.max(flat[p + 1]!, flat[q + 1]!))]
    for (let r = r0; r <= r1; r++)
      for (let c = c0; c <= c1; c++) {
        const cell = cells[r * side + c]!
        for (const other of cell) if (cross(at, other)) return true
        compared += cell.length
        cell.push(at)
      }
    if (compared > PAIRS_PER_SEGMENT * (count + 1000)) return true
  }
  return false
}
