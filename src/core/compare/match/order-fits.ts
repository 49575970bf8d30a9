/** How all of a part moved, going by the order of its points or polygons: several answers, of which most are none. */
import { isNearly } from '../../base/math/matrix.ts'
import { cornerCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { fitSimilarity, similarityMatrix, type Fit } from '../whole/similarity.ts'
import { WAYS } from './evidence/by-corner-order.ts'

/** Pairs that are looked at for how all of it moved. */
const MOST_LOOKED_AT = 600
/** And so many where only about how it moved is asked. */
const BRIEFLY = 120

/** Pairs of points: the counterpart of the one at a step; negative where it has none. */
export interface Answer {
  readonly from: number
  readonly to: number
  /** The master's point and the returned one at a step from `from` to `to`. */
  readonly pairAt: (step: number) => readonly [number, number]
}

/** How all of it moved if an answer is right; null where that says nothing. */
export function fitOf(
  master: Mesh,
  returned: Mesh,
  { from, to, pairAt }: Answer,
  looked = MOST_LOOKED_AT,
): Fit | null {
  const step = Math.max(1, Math.floor((to - from) / looked))
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

/** By how many numbers polygons may have moved on. */
const SHIFTS = [0, -1, 1] as const

/**
 * What the order could say: by numbers of points from either end, and by polygons, also past one that was taken out or
 * put in. What stands in front of a change says it where what stands behind does not.
 */
function* answersOf(master: Mesh, returned: Mesh, briefly: boolean): Generator<Answer> {
  const count = pointCountOf(master)
  const half = count >> 1
  const byNumber = (from: number, to: number, shift: number): Answer => ({
    from,
    to,
    pairAt: (point) => [point, point + shift],
  })
  yield byNumber(0, count, 0)
  yield byNumber(0, half, 0)
  const shifts = briefly ? [] : new Set([pointCountOf(returned) - count, -1, -2])
  for (const shift of shifts) yield byNumber(half, count, shift)
  const corners = cornerCountOf(master)
  yield* byPolygon(master, returned, 0, corners, 0)
  if (briefly) return
  yield* byPolygon(master, returned, 0, corners >> 1, 0)
  for (const shift of SHIFTS) yield* byPolygon(master, returned, corners >> 1, corners, shift)
}

/** Corners of polygons that have moved on by so many numbers and have as many corners, in either winding. */
function* byPolygon(
  master: Mesh,
  returned: Mesh,
  from: number,
  to: number,
  shift: number,
): Generator<Answer> {
  const faceOf = faceOfCorners(master)
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

/** One a corner: the face that it is of. */
export function faceOfCorners({ faceOffsets, faceVertices }: Mesh): Uint32Array {
  const faces = new Uint32Array(faceVertices.length)
  for (let face = 0; face + 1 < faceOffsets.length; face++)
    faces.fill(face, faceOffsets[face]!, faceOffsets[face + 1]!)
  return faces
}

/**
 * How all of it moved by each of what the order could say, where that keeps most distances; what comes twice stands once.
 *
 * @param briefly only the orders of all of it, by fewer points.
 */
export function* fitsByOrder(master: Mesh, returned: Mesh, briefly = false): Generator<Fit> {
  const given: Fit[] = []
  for (const answer of answersOf(master, returned, briefly)) {
    const fit = fitOf(master, returned, answer, briefly ? BRIEFLY : MOST_LOOKED_AT)
    if (!fit || given.some((one) => isSameFit(one, fit))) continue
    given.push(fit)
    yield fit
  }
}

/** To the last digits that a text file has. */
const isSameFit = (a: Fit, b: Fit): boolean =>
  isNearly(similarityMatrix(a), similarityMatrix(b), 1e-6 * a.factor, 1e-6 * a.spread)
