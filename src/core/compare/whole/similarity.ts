/**
 * The scale, turn or mirror, and move that bring one cloud of points onto another in the least squares: S. Umeyama,
 * "Least-squares estimation of transformation parameters between two point patterns", IEEE PAMI 13(4), 1991; over the
 * points that it fits, so that what was sculpted meanwhile does not pull at it.
 */
import { Matrix, SingularValueDecomposition } from 'ml-matrix'
import type { Matrix as M4 } from '../../base/math/matrix.ts'

/** `after = factor * turn * before + move`. */
export interface Similarity {
  readonly factor: number
  /** 3x3, row-major, orthogonal. */
  readonly turn: readonly number[]
  readonly move: readonly [number, number, number]
}

/** Column-major 4x4. */
export const similarityMatrix = ({ factor, turn, move }: Similarity): M4 => [
  turn[0]! * factor, turn[3]! * factor, turn[6]! * factor, 0,
  turn[1]! * factor, turn[4]! * factor, turn[7]! * factor, 0,
  turn[2]! * factor, turn[5]! * factor, turn[8]! * factor, 0,
  ...move, 1,
] // prettier-ignore

export interface Fit extends Similarity {
  /** Points that it was fitted over: 1, others 0. */
  readonly kept: Uint8Array
  /** Root of the mean square of what is left over these. */
  readonly off: number
  /** Root of the mean square distance of `after` from its middle, over these. */
  readonly spread: number
}

const ROUNDS = 12
/** What numbers are rounded to, as a share of how far the points spread. */
const ROUNDED = 1e-9
/** A point is fitted over where what is left of it is no more than so many times the median. */
const KEPT_WITHIN = 3

export const determinant = (m: readonly number[]): number =>
  m[0]! * (m[4]! * m[8]! - m[5]! * m[7]!) -
  m[1]! * (m[3]! * m[8]! - m[5]! * m[6]!) +
  m[2]! * (m[3]! * m[7]! - m[4]! * m[6]!)

/** a times b, and the transpose; 3x3, row-major. */
export const times = (a: readonly number[], b: readonly number[]): number[] =>
  Array.from({ length: 9 }, (_entry, at) =>
    [0, 1, 2].reduce((sum, k) => sum + a[3 * Math.floor(at / 3) + k]! * b[3 * k + (at % 3)]!, 0),
  )
export const transposed = (m: readonly number[]): number[] =>
  Array.from({ length: 9 }, (_entry, at) => m[3 * (at % 3) + Math.floor(at / 3)]!)

/** 3 values of `turn * point`. */
const turned = (m: readonly number[], x: number, y: number, z: number): [number, number, number] => [
  m[0]! * x + m[1]! * y + m[2]! * z,
  m[3]! * x + m[4]! * y + m[5]! * z,
  m[6]! * x + m[7]! * y + m[8]! * z,
]

/** How far each point lies from where it is expected. */
export function leftOver(before: Float64Array, after: Float64Array, fit: Similarity): Float64Array {
  const { factor, turn: m, move } = fit
  const left = new Float64Array(before.length / 3)
  for (let point = 0, at = 0; point < left.length; point++, at += 3) {
    const x = before[at]!
    const y = before[at + 1]!
    const z = before[at + 2]!
    const dx = factor * (m[0]! * x + m[1]! * y + m[2]! * z) + move[0] - after[at]!
    const dy = factor * (m[3]! * x + m[4]! * y + m[5]! * z) + move[1] - after[at + 1]!
    const dz = factor * (m[6]! * x + m[7]! * y + m[8]! * z) + move[2] - after[at + 2]!
    left[point] = Math.sqrt(dx * dx + dy * dy + dz * dz)
  }
  return left
}

export const rootMeanSquare = (values: Float64Array, kept: Uint8Array): number => {
  let sum = 0
  let count = 0
  for (let at = 0; at < values.length; at++) {
    if (!kept[at]) continue
    sum += values[at]! * values[at]!
    count++
  }
  return Math.sqrt(sum / Math.max(1, count))
}

export function middleOf(points: Float64Array, kept: Uint8Array): [number, number, number] {
  let x = 0
  let y = 0
  let z = 0
  let count = 0
  for (let at = 0; at < kept.length; at++) {
    if (!kept[at]) continue
    count++
    x += points[3 * at]!
    y += points[3 * at + 1]!
    z += points[3 * at + 2]!
  }
  const by = Math.max(1, count)
  return [x / by, y / by, z / by]
}

/** The best factor and move for a turn that is known; for a factor that is known too, the best move. */
export function fitAround(
  before: Float64Array,
  after: Float64Array,
  kept: Uint8Array,
  turn: readonly number[],
  known?: number,
): Similarity {
  const from = middleOf(before, kept)
  const to = middleOf(after, kept)
  let product = 0
  let square = 0
  if (known === undefined)
    for (let at = 0; at < kept.length; at++) {
      if (!kept[at]) continue
      const x = before[3 * at]! - from[0]
      const y = before[3 * at + 1]! - from[1]
      const z = before[3 * at + 2]! - from[2]
      product +=
        (turn[0]! * x + turn[1]! * y + turn[2]! * z) * (after[3 * at]! - to[0]) +
        (turn[3]! * x + turn[4]! * y + turn[5]! * z) * (after[3 * at + 1]! - to[1]) +
        (turn[6]! * x + turn[7]! * y + turn[8]! * z) * (after[3 * at + 2]! - to[2])
      square += x * x + y * y + z * z
    }
  const factor = known ?? product / square
  const middle = turned(turn, ...from)
  return {
    factor,
    turn,
    move: to.map((value, axis) => value - factor * middle[axis]!) as [number, number, number],
  }
}

/** Umeyama's turns over the points that are kept: the proper one, and the mirroring one. */
function bestTurns(
  before: Float64Array,
  after: Float64Array,
  kept: Uint8Array,
): (mirrors: boolean) => number[] {
  const from = middleOf(before, kept)
  const to = middleOf(after, kept)
  // row by row
  const sums = new Float64Array(9)
  for (let at = 0; at < kept.length; at++) {
    if (!kept[at]) continue
    const x = before[3 * at]! - from[0]
    const y = before[3 * at + 1]! - from[1]
    const z = before[3 * at + 2]! - from[2]
    for (let row = 0; row < 3; row++) {
      const there = after[3 * at + row]! - to[row]!
      sums[3 * row]! += there * x
      sums[3 * row + 1]! += there * y
      sums[3 * row + 2]! += there * z
    }
  }
  const covariance = Matrix.from1DArray(3, 3, sums)
  const { leftSingularVectors: u, rightSingularVectors: v } = new SingularValueDecomposition(covariance)
  const proper = determinant(u.to1DArray()) * determinant(v.to1DArray()) > 0
  return (mirrors) =>
    u
      .mmul(Matrix.diag([1, 1, proper === mirrors ? -1 : 1]))
      .mmul(v.transpose())
      .to1DArray()
}

/** Samples of so many points that a first fit is looked for over, beside all points. */
const SAMPLE = 4
const SAMPLES = 60
/** Points that a sample is tried on. */
const MOST_TRIED = 500

/** The same samples for the same points, whoever asks: rising numbers of points, each once. */
function samplesOf(count: number): number[][] {
  let state = 12345
  const next = (): number => {
    // xorshift (G. Marsaglia, J. Stat. Softw. 8(14), 2003): its high bits are as good as its low ones
    state ^= state << 13
    state ^= state >>> 17
    state ^= state << 5
    return (state >>> 0) % count
  }
  return Array.from({ length: SAMPLES }, () =>
    [...new Set(Array.from({ length: SAMPLE }, next))].sort((a, b) => a - b),
  )
}

const pick = (points: Float64Array, sample: readonly number[]): Float64Array => {
  const picked = new Float64Array(3 * sample.length)
  sample.forEach((point, at) => {
    for (let axis = 0; axis < 3; axis++) picked[3 * at + axis] = points[3 * point + axis]!
  })
  return picked
}

interface Fitted {
  readonly fit: Similarity
  readonly left: Float64Array
}

/** Every so many points. */
const everyOf = (points: Float64Array, step: number): Float64Array =>
  points.filter((_value, at) => Math.floor(at / 3) % step === 0)

/** Whether the median of numbers is below a limit. */
function medianIsBelow(values: Float64Array, limit: number): boolean {
  let below = 0
  for (let at = 0; at < values.length; at++) if (values[at]! < limit) below++
  return below > values.length >> 1
}

const median = (values: Float64Array): number => Float64Array.from(values).sort()[values.length >> 1]!

/** What fits of either kind are looked for over. */
interface Sampled {
  /** Some of the points, on which the samples are tried: a median hardly changes with more. */
  readonly from: Float64Array
  readonly to: Float64Array
  /** Those that say how it turned: of points on one line any turn about it would do. Worked out when they are asked for. */
  readonly samples: () => readonly {
    readonly some: Float64Array
    readonly there: Float64Array
    readonly each: Uint8Array
    readonly turns: (mirrors: boolean) => number[]
  }[]
  /** The turns over all points. */
  readonly whole: (mirrors: boolean) => number[]
}

function sampled(before: Float64Array, after: Float64Array): Sampled {
  const count = before.length / 3
  const step = Math.max(1, Math.floor(count / MOST_TRIED))
  const [from, to] = [everyOf(before, step), everyOf(after, step)]
  let samples: ReturnType<Sampled['samples']> | null = null
  return {
    from,
    to,
    samples: () =>
      (samples ??= samplesOf(from.length / 3).flatMap((sample) => {
        const [some, there] = [pick(from, sample), pick(to, sample)]
        if (isStraight(some) || isStraight(there)) return []
        const each = new Uint8Array(sample.length).fill(1)
        return [{ some, there, each, turns: bestTurns(some, there, each) }]
      })),
    whole: bestTurns(before, after, new Uint8Array(count).fill(1)),
  }
}

/**
 * Least median of squares to begin with (P. J. Rousseeuw, J. Am. Stat. Assoc. 79, 1984): up to half of the points may
 * have been pulled anywhere.
 */
function fitKind(
  before: Float64Array,
  after: Float64Array,
  { from, to, samples, whole }: Sampled,
  mirrors: boolean,
): Fit | null {
  const count = before.length / 3
  const all = new Uint8Array(count).fill(1)
  const over = (kept: Uint8Array): Fitted | null => {
    const turns = kept === all ? whole : bestTurns(before, after, kept)
    const fit = fitAround(before, after, kept, turns(mirrors))
    return fit.factor > 0 && Number.isFinite(fit.factor) ? { fit, left: leftOver(before, after, fit) } : null
  }
  let best = over(all)
  let least = best ? median(leftOver(from, to, best.fit)) : Infinity
  // what fits to the last digits is not found to fit better by chance
  const isExact = least <= spreadOf(after, all) * ROUNDED
  for (const { some, there, each, turns } of isExact ? [] : samples()) {
    const fit = fitAround(some, there, each, turns(mirrors))
    if (!(fit.factor > 0 && Number.isFinite(fit.factor))) continue
    const left = leftOver(from, to, fit)
    if (!medianIsBelow(left, least)) continue
    least = median(left)
    best = { fit, left: leftOver(before, after, fit) }
  }
  let kept: Uint8Array = all
  for (let round = 0; best && round < ROUNDS; round++) {
    const spread = spreadOf(after, kept)
    // what numbers are rounded to is no reason to leave a point out
    const most = median(best.left) * KEPT_WITHIN + spread * ROUNDED
    const next = new Uint8Array(count)
    let same = round > 0
    for (let at = 0; at < count; at++) {
      next[at] = best.left[at]! <= most ? 1 : 0
      same &&= next[at] === kept[at]
    }
    // points on one line fit however all turned about it
    if (!same && isStraight(before.filter((_value, at) => next[Math.floor(at / 3)]))) break
    kept = next
    if (same) break
    best = over(kept)
  }
  return best && { ...best.fit, kept, off: rootMeanSquare(best.left, kept), spread: spreadOf(after, kept) }
}

function spreadOf(points: Float64Array, kept: Uint8Array): number {
  const [mx, my, mz] = middleOf(points, kept)
  let sum = 0
  let count = 0
  for (let at = 0; at < kept.length; at++) {
    if (!kept[at]) continue
    const x = points[3 * at]! - mx
    const y = points[3 * at + 1]! - my
    const z = points[3 * at + 2]! - mz
    sum += x * x + y * y + z * z
    count++
  }
  return Math.sqrt(sum / Math.max(1, count))
}

/** Points lie on a line where they stray from it by less than this share of its length, squared. */
const STRAIGHT = 1e-14

/** Whether points lie on one line or in one point: any turn about it would do. 3 x n. */
function isStraight(points: Float64Array): boolean {
  const middle = middleOf(points, new Uint8Array(points.length / 3).fill(1))
  const sums = new Float64Array(6)
  for (let at = 0; at < points.length; at += 3) {
    const x = points[at]! - middle[0]
    const y = points[at + 1]! - middle[1]
    const z = points[at + 2]! - middle[2]
    sums[0]! += x * x
    sums[1]! += y * y
    sums[2]! += z * z
    sums[3]! += x * y
    sums[4]! += x * z
    sums[5]! += y * z
  }
  const [xx, yy, zz, xy, xz, yz] = sums as unknown as readonly [number, number, number, number, number, number] // prettier-ignore
  // what two of the three extents make together, by the minors of the matrix of second moments
  const minors = xx * yy - xy * xy + (xx * zz - xz * xz) + (yy * zz - yz * yz)
  return !(minors > STRAIGHT * (xx + yy + zz) ** 2)
}

/** A mirror is assumed where it leaves less than this share of what a turn leaves. */
const MIRROR_BETTER = 0.25

/** Products of coordinates that lie farther out than this are no numbers any more. */
const WORKABLE = 1e100

/** 1 for each point that can be worked with on both sides. */
const workableOf = (before: Float64Array, after: Float64Array): Uint8Array =>
  Uint8Array.from({ length: before.length / 3 }, (_point, point) =>
    Number(
      [3 * point, 3 * point + 1, 3 * point + 2].every(
        (at) => Math.abs(before[at]!) < WORKABLE && Math.abs(after[at]!) < WORKABLE,
      ),
    ),
  )

/**
 * Points without a place, or so far out that nothing can be worked out with them, are left out.
 *
 * @param before 3 x n.
 * @param after 3 x n, the same points.
 * @returns null for fewer than four points, or where they lie on one line or in one point.
 */
export function fitSimilarity(before: Float64Array, after: Float64Array): Fit | null {
  const workable = workableOf(before, after)
  if (!workable.includes(0)) return fitWorkable(before, after)
  const only = (points: Float64Array): Float64Array => points.filter((_value, at) => workable[Math.floor(at / 3)] === 1) // prettier-ignore
  const fit = fitWorkable(only(before), only(after))
  if (!fit) return null
  let next = 0
  return { ...fit, kept: workable.map((is) => (is ? fit.kept[next++]! : 0)) }
}

function fitWorkable(before: Float64Array, after: Float64Array): Fit | null {
  if (before.length < 12 || isStraight(before)) return null
  const samples = sampled(before, after)
  const turnedOnly = fitKind(before, after, samples, false)
  // nothing is better
  if (turnedOnly && turnedOnly.off <= turnedOnly.spread * ROUNDED && !turnedOnly.kept.includes(0))
    return turnedOnly
  const mirrored = fitKind(before, after, samples, true)
  if (!turnedOnly || !mirrored) return turnedOnly ?? mirrored
  const countOf = (fit: Fit): number => fit.kept.reduce((sum, value) => sum + value, 0)
  // what is flat is its own mirror image
  const better =
    mirrored.off < turnedOnly.off * MIRROR_BETTER - 1e-9 * turnedOnly.spread &&
    countOf(mirrored) >= countOf(turnedOnly) * 0.6
  return better ? mirrored : turnedOnly
}
