/** Islands of one shape, so that they can lie on each other. */
import { applySimilarity, fitFlat, type Similarity } from './fit-flat.ts'
import { signedArea } from '../pack/outline.ts'
import { outlineOf, type LaidIsland } from './laid-island.ts'

export interface TwinIsland {
  /** The number of the island that it lies on; its own where it has none. */
  readonly of: number
  /** How it comes to lie there; null for the first of its kind. */
  readonly by: Similarity | null
}

/** Corners may be off by so much of an island's size. */
const OFF = 2e-3

/**
 * @param mirrored whether mirrored ones are twins too.
 * @param sizes how much each is scaled before they are compared.
 */
export function findTwinIslands(
  islands: readonly LaidIsland[],
  sizes: readonly number[],
  mirrored: boolean,
): TwinIsland[] {
  const groups = new Map<string, number[]>()
  const twins: TwinIsland[] = []
  islands.forEach((island, at) => {
    const { net } = island
    const key = `${net.faces.length} ${net.vertexCount} ${net.loops.map((loop) => loop.length).join()}`
    const known = groups.get(key) ?? []
    groups.set(key, known)
    const own = island.flat.map((value) => value * sizes[at]!)
    for (const other of known) {
      const by = laidOn({ ...island, flat: own }, scaledTo(islands[other]!, sizes[other]!), mirrored)
      if (!by) continue
      twins.push({ of: other, by })
      return
    }
    known.push(at)
    twins.push({ of: at, by: null })
  })
  return twins
}

const scaledTo = (island: LaidIsland, size: number): LaidIsland => ({
  ...island,
  flat: island.flat.map((value) => value * size),
})

/** Borders are laid on each other beginning at every corner; what lies inside has to fit as well. */
function laidOn(own: LaidIsland, other: LaidIsland, mirrored: boolean): Similarity | null {
  const [a, b] = [own.net.loops[0], other.net.loops[0]]
  if (!a || !b || a.length !== b.length) return null
  const [areaA, areaB] = [signedArea(outlineOf(own)), signedArea(outlineOf(other))]
  const size = Math.sqrt(Math.abs(areaB))
  if (!(size > 0) || Math.abs(Math.abs(areaA) - Math.abs(areaB)) > 4 * OFF * Math.abs(areaB)) return null
  const count = b.length
  const target = new Float64Array(2 * count)
  b.forEach((vertex, at) => {
    target[2 * at] = other.flat[2 * vertex]!
    target[2 * at + 1] = other.flat[2 * vertex + 1]!
  })
  for (const mirror of mirrored ? [false, true] : [false])
    for (let shift = 0; shift < count; shift++) {
      const from = new Float64Array(2 * count)
      for (let at = 0; at < count; at++) {
        const vertex = a[(mirror ? 2 * count - at + shift : at + shift) % count]!
        from[2 * at] = own.flat[2 * vertex]!
        from[2 * at + 1] = own.flat[2 * vertex + 1]!
      }
      const fit = fitFlat(from, target, true, mirror)
      if (fit.off <= OFF * size && fitsInside(applySimilarity(own.flat, fit), other.flat, OFF * size * 3))
        return fit
    }
  return null
}

/** Whether every corner has one of the other near it. */
function fitsInside(a: Float64Array, b: Float64Array, off: number): boolean {
  const cells = new Map<string, number[]>()
  const key = (u: number, v: number): string => `${u} ${v}`
  for (let at = 0; at < b.length; at += 2) {
    const cell = key(Math.floor(b[at]! / off), Math.floor(b[at + 1]! / off))
    const held = cells.get(cell)
    if (held) held.push(at)
    else cells.set(cell, [at])
  }
  for (let at = 0; at < a.length; at += 2) {
    const [cu, cv] = [Math.floor(a[at]! / off), Math.floor(a[at + 1]! / off)]
    let isNear = false
    for (let u = cu - 1; u <= cu + 1 && !isNear; u++)
      for (let v = cv - 1; v <= cv + 1 && !isNear; v++)
        isNear = (cells.get(key(u, v)) ?? []).some(
          (other) => Math.hypot(a[at]! - b[other]!, a[at + 1]! - b[other + 1]!) <= off,
        )
    if (!isNear) return false
  }
  return true
}
