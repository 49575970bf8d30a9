/** A size, turn, mirror or move that a model came back with, from points that correspond. */
import { ALONG_AXES } from '../../base/math/along-axes.ts'
import { multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import type { Space } from '../../scene/scene.ts'
import { spaceMatrix } from '../../scene/space.ts'
import { LEAST_FACTOR } from './by-boxes.ts'
import { lengthText } from '../traits/length-text.ts'
import { MEANT_FACTORS, type PointPairs } from './point-pairs.ts'
import { axesOf, poseText, TURNS, turnMatrix, UPRIGHT } from './poses.ts'
import {
  determinant,
  fitAround,
  fitSimilarity,
  leftOver,
  rootMeanSquare,
  similarityMatrix,
  times,
  transposed,
  type Fit,
  type Similarity,
} from './similarity.ts'
import type { WholeTold, WholeUndo } from './whole-change.ts'

/** A meant factor lies no farther than this from the best one. */
const NEAR_MEANT = 0.03
/** And a factor of two digits no farther than this. */
const NEAR_ROUND = 0.005
/** What is meant may leave no more than so many times what the best leaves, and so much of the model's extent. */
const HARDLY_WORSE = 3
const MOST_OFF = 0.02
/** What leaves no more than so many times what the best leaves fits as well, however much that is. */
const AS_GOOD = 1.05
/** What numbers are rounded to, as a share of the extent. */
const ROUNDING = 1e-6
/** The whole fits to the last digits that a text file has: whatever it is, it is no sculpting. */
const EXACTLY = 1e-4
/** A turn about an axis by whole degrees: how much of it goes about that axis, and by how many degrees it may be off. */
const NEAR_AXIS = 0.99
const NEAR_DEGREES = 1
/** Without that: turns and moves smaller than these are what sculpting does to a surface as a whole. */
const LEAST_TURN = (2 * Math.PI) / 180
const LEAST_MOVE = 0.1
/** A move below this share of the extent is none. */
const NO_MOVE = 1e-5
/** The share of a move that goes along one axis, for the rest to be none. */
const ALONG_AN_AXIS = 0.98
/** The share of the points that the change has to hold for, and how near they have to come, as a share of the extent. */
const MOST_OF_ALL = 0.6
const HOLDS_WITHIN = 0.1

/** The angle of a turn, in radians. @param m 3x3, row-major, orthogonal, proper. */
const angleOf = (m: readonly number[]): number =>
  Math.acos(Math.min(1, Math.max(-1, (m[0]! + m[4]! + m[8]! - 1) / 2)))

/** The axis of a turn, a unit vector (none for half turns), and its angle in radians. */
function axisAngle(m: readonly number[]): readonly [axis: readonly number[], angle: number] {
  const axis = [m[7]! - m[5]!, m[2]! - m[6]!, m[3]! - m[1]!]
  const length = Math.hypot(...axis)
  return [length < 1e-9 ? [0, 0, 0] : axis.map((value) => value / length), angleOf(m)]
}

const rowsOf4 = (m: Matrix): number[] =>
  Array.from({ length: 9 }, (_entry, at) => m[4 * (at % 3) + Math.floor(at / 3)]!)
const to4 = (m: readonly number[]): Matrix => [
  m[0]!, m[3]!, m[6]!, 0,
  m[1]!, m[4]!, m[7]!, 0,
  m[2]!, m[5]!, m[8]!, 0,
  0, 0, 0, 1,
] // prettier-ignore

/** The nearest turn along the axes, a mirror for a mirror. */
function nearestAlongAxes(turn: readonly number[]): readonly number[] {
  const sign = Math.sign(determinant(turn))
  const alike = (m: readonly number[]): number => m.reduce((sum, value, at) => sum + value * turn[at]!, 0)
  return ALONG_AXES.filter((m) => determinant(m) === sign).reduce((best, m) =>
    alike(m) > alike(best) ? m : best,
  )
}

/** A turn or a mirror by so many whole degrees about an axis, near to one; null where none is. */
function inDegrees(turn: readonly number[], step: number): readonly number[] | null {
  const { mirror, turn: proper } = takeApart(turn)
  const [axis, angle] = axisAngle(proper)
  const main = axis.findIndex((value) => Math.abs(value) > NEAR_AXIS)
  if (main < 0) return null
  const signed = (Math.sign(axis[main]!) * angle * 180) / Math.PI
  const whole = Math.round(signed / step) * step
  if (Math.abs(whole - signed) > NEAR_DEGREES) return null
  const [sine, cosine] = [Math.sin((whole * Math.PI) / 180), Math.cos((whole * Math.PI) / 180)]
  const [a, b] = [(main + 1) % 3, (main + 2) % 3]
  const m = [1, 0, 0, 0, 1, 0, 0, 0, 1]
  m[3 * a + a] = m[3 * b + b] = cosine
  m[3 * b + a] = sine
  m[3 * a + b] = -sine
  return mirror === null ? m : m.map((value, at) => (at % 3 === mirror ? -value : value))
}

/** What tools do instead of what fits best, as far as it fits hardly worse; `move` null for none. */
function meantBy(before: Float64Array, after: Float64Array, fit: Fit, roughly = false): Similarity {
  const offOf = (candidate: Similarity): number =>
    rootMeanSquare(leftOver(before, after, candidate), fit.kept)
  const limit = Math.max(Math.min(fit.off * HARDLY_WORSE, fit.spread * MOST_OFF), fit.off * AS_GOOD) + fit.spread * ROUNDING // prettier-ignore
  const fits = (candidate: Similarity): boolean => offOf(candidate) <= limit
  const asGood = (candidate: Similarity): boolean =>
    offOf(candidate) <= fit.off * AS_GOOD + fit.spread * ROUNDING
  const exact = fit.off <= fit.spread * EXACTLY
  const around = (turn: readonly number[], factor?: number): Similarity =>
    fitAround(before, after, fit.kept, turn, factor)

  let { turn } = fit as { turn: readonly number[] }
  const along = nearestAlongAxes(turn)
  const slant = angleOf(times(turn, transposed(along)))
  if (fits(around(along)) || (!exact && slant < LEAST_TURN)) turn = along
  else turn = [5, 1].map((step) => inDegrees(turn, step)).find((one) => one && asGood(around(one))) ?? turn
  const best = around(turn)
  const near = [1, ...MEANT_FACTORS]
    .filter(
      (factor) =>
        Math.abs(factor / best.factor - 1) < NEAR_MEANT &&
        ((roughly && !exact) || fits(around(turn, factor))),
    )
    .sort((a, b) => Math.abs(a / best.factor - 1) - Math.abs(b / best.factor - 1))
  let factor = near[0] ?? best.factor
  if (near.length === 0 && !exact && factor < LEAST_FACTOR && factor > 1 / LEAST_FACTOR) factor = 1
  const round = Number(factor.toPrecision(3))
  const rounder = Number(factor.toPrecision(2))
  if (Math.abs(round / factor - 1) < EXACTLY / 100) factor = round
  else if (Math.abs(rounder / factor - 1) < NEAR_ROUND && fits(around(turn, rounder))) factor = rounder
  const placed = around(turn, factor)
  const away = Math.hypot(...placed.move)
  const stands: Similarity = { factor, turn, move: [0, 0, 0] }
  // sculpting leans it a little: what was meant goes along an axis, and by a length of few digits
  const main = placed.move.findIndex((value) => Math.abs(value) > away * ALONG_AN_AXIS)
  const plain = placed.move.map((value, axis) => (axis === main ? value : 0)) as [number, number, number]
  const rounded = (digits: number): [number, number, number] =>
    plain.map((value) => Number(value.toPrecision(digits))) as [number, number, number]
  const straight = [rounded(1), rounded(2), plain].find((move) => main >= 0 && fits({ factor, turn, move }))
  const none = fits(stands) || away < fit.spread * NO_MOVE || (!exact && away < fit.spread * LEAST_MOVE)
  return none ? stands : straight ? { factor, turn, move: straight } : placed
}

/** The scale, turn or mirror, and move that was meant between points; null where there are too few. 3 x n each. */
export function meantSimilarity(before: Float64Array, after: Float64Array): Similarity | null {
  const fit = fitSimilarity(before, after)
  return fit && fit.spread > 0 ? meantBy(before, after, fit) : null
}

/** A turn in the master's axes as a mirror across one of them, if it is one, and what turn is left. */
function takeApart(turn: readonly number[]): { mirror: number | null; turn: readonly number[] } {
  if (determinant(turn) > 0) return { mirror: null, turn }
  const across = (axis: number): number[] => times(turn, [0, 1, 2].flatMap((row) => [0, 1, 2].map((k) => (row === k ? (k === axis ? -1 : 1) : 0)))) // prettier-ignore
  const [axis] = [0, 1, 2].sort((a, b) => angleOf(across(a)) - angleOf(across(b)) || a - b)
  return { mirror: axis!, turn: across(axis!) }
}

const NAMES = ['X', 'Y', 'Z'] as const

function turnText(own: readonly number[], upright: readonly number[], returned: Space): string {
  const back = to4(transposed(upright))
  const pose = TURNS.find((entry) =>
    turnMatrix(entry.rows).every((value, at) => Math.abs(value - back[at]!) < 1e-6),
  )
  if (pose) return poseText(pose, returned)
  const angle = angleOf(own)
  const [axis] = axisAngle(own)
  const along = axis.findIndex((value) => Math.abs(value) > 0.9999)
  const degrees = Number(((angle * 180) / Math.PI).toFixed(angle < 0.1 ? 2 : 1))
  if (along < 0) return `turned by ${degrees}°`
  return `turned by ${axis[along]! < 0 ? '−' : ''}${degrees}° about ${NAMES[along]!}`
}

export interface WholeFound {
  readonly told: WholeTold
  readonly undo: Omit<WholeUndo, 'atTheTop'>
  /** Nothing happened to all of it. */
  readonly none: boolean
  /** From the master to what came back, in the space of the master's scene. */
  readonly way: Matrix
}

/**
 * @param roughly points are only about the same ones: a factor that tools have is then meant, however it fits.
 * @returns null where points say nothing: too few, or no change holds for most of them.
 */
export function wholeByPoints(
  pairs: PointPairs,
  spaces: { readonly master: Space; readonly returned: Space },
  roughly = false,
): WholeFound | null {
  const fit = fitSimilarity(pairs.master, pairs.returned)
  if (!fit || fit.spread === 0) return null
  const meant = meantBy(pairs.master, pairs.returned, fit, roughly)
  const holds = leftOver(pairs.master, pairs.returned, meant).filter(
    (value) => value <= fit.spread * HOLDS_WITHIN,
  ).length
  if (holds < MOST_OF_ALL * fit.kept.length) return null
  const upright = spaceMatrix(axesOf(spaces.master), UPRIGHT)
  const rows = rowsOf4(upright)
  const { mirror, turn } = takeApart(meant.turn)
  const isTurned = angleOf(turn) > 1e-7
  // undone where the numbers are: in the returned scene's own axes and unit
  const axes = rowsOf4(spaceMatrix(axesOf(spaces.returned), axesOf(spaces.master)))
  const [own, its] = [spaces.master.unitMeters, spaces.returned.unitMeters]
  const unit = own !== null && its !== null ? its / own : 1
  const back = times(times(transposed(axes), transposed(meant.turn)), axes)
  const step = transformPoints(
    Float64Array.from(meant.move),
    to4(times(transposed(axes), transposed(meant.turn))),
  )
  const move = [...step].map((value) => -value / (meant.factor * unit) + 0) as [number, number, number]
  const away = Math.hypot(...meant.move)
  const along = meant.move.findIndex((value) => Math.abs(value) > away * 0.9999)
  const far = lengthText(away, spaces.master.unitMeters)
  return {
    way: similarityMatrix(meant),
    none: meant.factor === 1 && !isTurned && mirror === null && away === 0,
    told: {
      factor: meant.factor,
      turn: isTurned
        ? { text: turnText(turn, times(times(rows, turn), transposed(rows)), spaces.returned) }
        : null,
      mirror: mirror === null ? null : NAMES[mirror]!,
      move:
        away === 0
          ? null
          : { text: along < 0 ? `moved by ${far}` : `moved by ${meant.move[along]! < 0 ? '−' : ''}${far} along ${NAMES[along]!}` }, // prettier-ignore
      by: 'points',
    },
    undo: {
      turn: to4(back.map((value) => (Math.abs(value) < 1e-12 ? 0 : value))),
      ratio: 1 / meant.factor,
      move,
    },
  }
}

/** Whether the points of parts, each in its own space, are nearer to the master's as they are than with all undone. */
export function standsInParts(
  parts: readonly PointPairs[],
  undo: Omit<WholeUndo, 'atTheTop'>,
  spaces: { readonly master: Space; readonly returned: Space },
): boolean {
  const axes = spaceMatrix(axesOf(spaces.returned), axesOf(spaces.master))
  const back = multiplyMatrices(multiplyMatrices(axes, undo.turn), to4(transposed(rowsOf4(axes))))
  const undone = back.map((value, at) => (at < 12 && at % 4 < 3 ? value * undo.ratio : value))
  let asTheyAre = 0
  let withAllUndone = 0
  for (const { master, returned } of parts) {
    const other = transformPoints(returned, undone)
    for (let at = 0; at < master.length; at++) {
      asTheyAre += Math.abs(returned[at]! - master[at]!)
      withAllUndone += Math.abs(other[at]! - master[at]!)
    }
  }
  return asTheyAre < withAllUndone
}
