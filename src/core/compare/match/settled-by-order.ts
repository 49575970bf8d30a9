/**
 * What is symmetrical lies where it lay also where it was turned or mirrored, so that its places fit several answers alike:
 * the order of its points or polygons then says which is the one. A file that kept it keeps it from one to the next; one
 * that was numbered anew has it by chance.
 */
import { invertAffine, transformPoints } from '../../base/math/matrix.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { fitSimilarity, similarityMatrix, type Fit } from '../whole/similarity.ts'
import type { Correspondence } from './correspondence.ts'
import { WAYS } from './evidence/by-corner-order.ts'

/** Of a cube one numbering in eight hundred is that of a turned one, and first use finds such: few points are a guess. */
const LEAST_POINTS = 8
const SURE_POINTS = 32
/** Share of what stands in a row whose counterparts stand in a row too, from which on the order was kept. */
const IN_ORDER = 0.97
/** Pairs that are looked at for how all of it moved. */
const MOST_LOOKED_AT = 600
/** How much more an answer may leave than the one that was found, and the share of the part's spread that is nothing. */
const ABOUT = 1.2
const NOTHING = 1e-5
/** Share of the polygons of what was found that have to be found by the order. */
const AS_MANY = 0.95

/** Pairs of points: the counterpart of the one at a step; negative where it has none. */
interface Answer {
  readonly from: number
  readonly to: number
  /** The master's point and the returned one at a step from `from` to `to`. */
  readonly pairAt: (step: number) => readonly [number, number]
}

/** How all of it moved if an answer is right; null where that says nothing. */
function fitOf(master: Mesh, returned: Mesh, { from, to, pairAt }: Answer): Fit | null {
  const step = Math.max(1, Math.floor((to - from) / MOST_LOOKED_AT))
  const [before, after]: [number[], number[]] = [[], []]
  for (let at = from; at < to; at += step) {
    const [own, other] = pairAt(at)
    if (!(other >= 0 && other < pointCountOf(returned))) continue
    for (let axis = 0; axis < 3; axis++) {
      before.push(master.points[3 * own + axis]!)
      after.push(returned.points[3 * other + axis]!)
    }
  }
  if (!keepsDistances(before, after)) return null
  const fit = fitSimilarity(Float64Array.from(before), Float64Array.from(after))
  return fit && fit.spread > 0 && fit.factor > 0 ? fit : null
}

/** Distances that are looked at first, how far they may differ from the middle one, and the share that has to agree. */
const DISTANCES = 48
const ALIKE = 0.15
const MOST_ALIKE = 0.5

/** Whether points lie about as far from each other as they did, all larger or smaller alike: soon asked. 3 x n each. */
function keepsDistances(before: readonly number[], after: readonly number[]): boolean {
  const count = before.length / 3
  if (count < 4) return false
  const apart = (points: readonly number[], a: number, b: number): number =>
    Math.hypot(points[3 * a]! - points[3 * b]!, points[3 * a + 1]! - points[3 * b + 1]!, points[3 * a + 2]! - points[3 * b + 2]!) // prettier-ignore
  const ratios: number[] = []
  for (let look = 0; look < DISTANCES; look++) {
    const a = (look * 7919) % count
    const b = (a + 1 + ((look * 104729) % (count - 1))) % count
    const own = apart(before, a, b)
    if (own > 0) ratios.push(apart(after, a, b) / own)
  }
  ratios.sort((a, b) => a - b)
  const middle = ratios[ratios.length >> 1] ?? 0
  const alike = ratios.filter((ratio) => Math.abs(ratio - middle) <= middle * ALIKE).length
  return middle > 0 && alike >= ratios.length * MOST_ALIKE
}

/** What is found of fewer says nothing of an order. */
const LEAST_IN_ROW = 4

/** The share of those in a row whose counterparts are a later one each; 0 where it says nothing. */
function orderOf(counterparts: Int32Array): number {
  let [looked, rising, last] = [0, 0, -1]
  for (const other of counterparts) {
    if (other < 0) continue
    if (last >= 0) {
      looked++
      if (other > last) rising++
    }
    last = other
  }
  return looked >= LEAST_IN_ROW ? rising / looked : 0
}

/** By how many numbers polygons may have moved on. */
const SHIFTS = [0, -1, 1] as const

/**
 * What the order could say: by numbers of points from either end, and by polygons, also past one that was taken out or
 * put in. What stands in front of a change says it where what stands behind does not.
 */
function* answersOf(master: Mesh, returned: Mesh): Generator<Answer> {
  const count = pointCountOf(master)
  const half = count >> 1
  const byNumber = (from: number, to: number, shift: number): Answer => ({
    from,
    to,
    pairAt: (point) => [point, point + shift],
  })
  yield byNumber(0, count, 0)
  yield byNumber(0, half, 0)
  for (const shift of new Set([pointCountOf(returned) - count, -1, -2])) yield byNumber(half, count, shift)
  const corners = cornerCountOf(master)
  const faceOf = faceOfCorners(master)
  for (const [from, to] of [
    [0, corners],
    [0, corners >> 1],
    [corners >> 1, corners],
  ] as const)
    // prettier-ignore
    for (const shift of from === 0 ? [0] : SHIFTS)
      for (const way of WAYS)
        yield {
          from,
          to,
          pairAt: (corner) => {
            const face = faceOf[corner]!
            const start = master.faceOffsets[face]!
            const size = master.faceOffsets[face + 1]! - start
            const other = returned.faceOffsets[face + shift]
            const isAlike = other !== undefined && returned.faceOffsets[face + shift + 1]! - other === size
            const there = isAlike ? returned.faceVertices[other + way(corner - start, size)]! : -1
            return [master.faceVertices[corner]!, there]
          },
        }
}

function faceOfCorners({ faceOffsets, faceVertices }: Mesh): Uint32Array {
  const faces = new Uint32Array(faceVertices.length)
  for (let face = 0; face + 1 < faceOffsets.length; face++)
    faces.fill(face, faceOffsets[face]!, faceOffsets[face + 1]!)
  return faces
}

/** How far the order of either points or polygons was kept. */
const kept = ({ pointToReturned, faceToReturned }: Correspondence): number =>
  Math.max(orderOf(pointToReturned), orderOf(faceToReturned))

/**
 * @param found by where points lie. @param again what is found where all of what came back is moved.
 * @returns the answer in which the master's order was kept and as much fits as well, or what was found as a guess where so
 * few points may stand in order by chance; null where there is none.
 */
export function settledByOrder(
  master: Mesh,
  returned: Mesh,
  found: Correspondence,
  again: (moved: Mesh) => Correspondence,
): Correspondence | null {
  const count = pointCountOf(master)
  if (count < LEAST_POINTS || found.matchedFaceCount === 0) return null
  const order = kept(found)
  if (order === 1) return null
  const own = fitOf(master, returned, { from: 0, to: count, pairAt: (point) => [point, found.pointToReturned[point]!] }) // prettier-ignore
  const left = own ? own.off : Infinity
  const tried: Fit[] = []
  let best: { readonly other: Correspondence; readonly order: number } | null = null
  for (const answer of answersOf(master, returned)) {
    const fit = fitOf(master, returned, answer)
    if (!fit || fit.off > left * ABOUT + fit.spread * NOTHING) continue
    if (tried.some((one) => isAbout(one, fit))) continue
    tried.push(fit)
    const back = invertAffine(similarityMatrix(fit))
    if (!back) continue
    const other = again({ ...returned, points: transformPoints(returned.points, back) })
    const its = kept(other)
    if (its < IN_ORDER || its <= (best?.order ?? order)) continue
    if (other.matchedFaceCount < found.matchedFaceCount * AS_MANY) continue
    best = { other, order: its }
    if (its === 1) break
  }
  if (!best) return null
  if (count < SURE_POINTS && faceCountOf(master) < SURE_POINTS) return { ...found, guess: true }
  // all of it moved, whatever lies where it was moved back to
  const { kind } = best.other
  return kind === 'position' || kind === 'index' ? { ...best.other, kind: 'connectivity' } : best.other
}

const isAbout = (a: Fit, b: Fit): boolean => {
  const [one, two] = [similarityMatrix(a), similarityMatrix(b)]
  return one.every((value, at) => Math.abs(value - two[at]!) <= 1e-6 * (at < 12 ? a.factor : a.spread))
}
