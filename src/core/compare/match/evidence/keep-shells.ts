import { shellsOf, type Neighbours } from '../neighbours.ts'

/** Share of a returned shell's pairs that have to come from one shell for any of them to be believed. */
const LEAST_FROM_ONE = 0.6
/** Share of a shell's points that have to be paired with one other for it to be there as a whole. */
const AS_A_WHOLE = 0.95

/**
 * What hangs together when it comes back was of one piece: of shells that lie as close to each other as they moved, pairs
 * may run across, and only what most of them say stays.
 *
 * @param pairs one a master point, -1 for none; changed in place. @param taken one a returned point; changed in place.
 */
export function keepShells(pairs: Int32Array, taken: Uint8Array, near: Neighbours, far: Neighbours): void {
  const [own, there] = [shellsOf(near), shellsOf(far)]
  // one alone on either side: nothing runs across
  if (own.count === 1 && there.count === 1) return
  const votes = new Map<number, Map<number, number>>()
  for (let point = 0; point < pairs.length; point++) {
    if (pairs[point]! < 0) continue
    const shell = there.rootOf(pairs[point]!)
    const from = own.rootOf(point)
    const counted = votes.get(shell) ?? new Map<number, number>()
    counted.set(from, (counted.get(from) ?? 0) + 1)
    votes.set(shell, counted)
  }
  // shells that a tool joined into one are there as a whole, each of them
  const [paired, sizes] = [new Map<number, number>(), new Map<number, number>()]
  for (let point = 0; point < pairs.length; point++) {
    const from = own.rootOf(point)
    sizes.set(from, (sizes.get(from) ?? 0) + 1)
    if (pairs[point]! >= 0) paired.set(from, (paired.get(from) ?? 0) + 1)
  }
  const isWhole = (from: number, count: number): boolean =>
    count === paired.get(from) && count >= sizes.get(from)! * AS_A_WHOLE
  const kept = new Map<number, number>()
  for (const [shell, counted] of votes) {
    if ([...counted].every(([from, count]) => isWhole(from, count))) continue
    const all = [...counted.values()].reduce((sum, count) => sum + count, 0)
    const [from, most] = [...counted].reduce((best, one) => (one[1] > best[1] ? one : best))
    kept.set(shell, most >= all * LEAST_FROM_ONE ? from : -1)
  }
  if (kept.size === 0) return
  for (let point = 0; point < pairs.length; point++) {
    if (pairs[point]! < 0) continue
    const from = kept.get(there.rootOf(pairs[point]!))
    if (from === undefined || from === own.rootOf(point)) continue
    taken[pairs[point]!] = 0
    pairs[point] = -1
  }
}
