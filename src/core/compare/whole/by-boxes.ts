/** A size or a turn that a model came back with, from the boxes of its parts alone: where no points correspond. */
import { diagonalOf, joinBoxes, type Box } from '../../base/math/box.ts'
import { invertAffine, multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import { drawnBounds } from '../../scene/mesh-bounds.ts'
import { IDENTITY_MATRIX, type Space } from '../../scene/scene.ts'
import { spaceMatrix } from '../../scene/space.ts'
import { MEANT_FACTORS, type PlacedMesh } from './point-pairs.ts'
import { axesOf, poseText, TURNS, turnMatrix, UPRIGHT, type Rows } from './poses.ts'
import type { WholeChange } from './whole-change.ts'

/** Sizes are told apart from what sculpting does to a box: less than half as large again is no factor. */
export const LEAST_FACTOR = 1.5
/** Parts agree where their factors differ by less than this share: each was sculpted its own way. */
const AGREEMENT = 0.1
/** A factor that tools have is meant where it is no farther than this from the one of the boxes. */
const NEAR_MEANT = 0.03
/** Sides of a box agree to this share of its diagonal. */
const BOX_TOLERANCE = 0.02
/** Sizes that differ by less than this share are one. */
const EXACTLY = 1e-4

const turnBox = (box: Box, rows: Rows): Box => {
  const ends = rows.map(([axis, sign]) =>
    sign > 0 ? [box.min[axis]!, box.max[axis]!] : [-box.max[axis]!, -box.min[axis]!],
  )
  return {
    min: ends.map(([low]) => low!) as unknown as Box['min'],
    max: ends.map(([, high]) => high!) as unknown as Box['max'],
  }
}

const boxesAgree = (a: Box, b: Box): boolean => {
  const near = BOX_TOLERANCE * diagonalOf(a)
  return a.min.every(
    (value, axis) => Math.abs(value - b.min[axis]!) <= near && Math.abs(a.max[axis]! - b.max[axis]!) <= near,
  )
}

/** Sum over parts of how far the sides of their boxes lie apart. */
const apart = (before: readonly (Box | null)[], after: readonly (Box | null)[]): number =>
  before.reduce((sum, a, part) => {
    const b = after[part]
    if (!a || !b) return sum
    return (
      sum +
      Math.max(
        ...[0, 1, 2].map((at) => Math.abs(a.min[at]! - b.min[at]!) + Math.abs(a.max[at]! - b.max[at]!)),
      )
    )
  }, 0)

/**
 * @param pairs parts of both sides that are the same, in the space of the master's scene.
 * @param spaces of the two scenes, as they were read.
 * @returns null where nothing is shared by all.
 */
export function wholeByBoxes(
  pairs: readonly { readonly master: PlacedMesh; readonly returned: PlacedMesh }[],
  spaces: { readonly master: Space; readonly returned: Space },
): WholeChange | null {
  // both sides upright, whatever the master's axes are
  const upright = spaceMatrix(axesOf(spaces.master), UPRIGHT)
  const boxOf = ({ mesh, world }: PlacedMesh): Box | null =>
    drawnBounds(mesh, multiplyMatrices(upright, world))
  const befores = pairs.map((pair) => boxOf(pair.master))
  const afters = pairs.map((pair) => boxOf(pair.returned))
  const before = befores.reduce(joinBoxes, null)
  const after = afters.reduce(joinBoxes, null)
  if (!before || !after || diagonalOf(before) === 0) return null
  let factor = diagonalOf(after) / diagonalOf(before)
  const isFactor = factor > LEAST_FACTOR || factor < 1 / LEAST_FACTOR
  const agree = befores.every((a, part) => {
    const b = afters[part]
    return !a || !b || diagonalOf(a) === 0 || Math.abs(diagonalOf(b) / diagonalOf(a) / factor - 1) < AGREEMENT
  })
  if (!isFactor || !agree) factor = 1
  if (factor !== 1) factor = meantFactor(factor, sidesOf(before), sidesOf(after))
  const inverse = (value: number): number => value / factor
  const sized = (box: Box | null): Box | null =>
    box && {
      min: box.min.map(inverse) as unknown as Box['min'],
      max: box.max.map(inverse) as unknown as Box['max'],
    }
  const turn = boxesAgree(before, sized(after)!)
    ? null
    : findTurn(before, befores, sized(after)!, afters.map(sized))
  if (factor === 1 && !turn) return null
  const axes = spaceMatrix(axesOf(spaces.returned), UPRIGHT)
  const back = turn ? turnMatrix(turn.rows) : null
  const undoing: Matrix = back
    ? multiplyMatrices(multiplyMatrices(invertAffine(axes)!, back), axes)
    : IDENTITY_MATRIX
  return {
    factor,
    turn: turn && { text: poseText(turn, spaces.returned) },
    mirror: null,
    move: null,
    by: 'boxes',
    undo: { turn: undoing, ratio: 1 / factor, move: [0, 0, 0], atTheTop: false },
  }
}

const sidesOf = ({ min, max }: Box): number[] =>
  max.map((value, axis) => value - min[axis]!).sort((a, b) => a - b)

/**
 * Tools multiply by round numbers, and by those between units. What is near one of these is meant, where the sides of the
 * box did not all become as much larger: then something else made it larger or smaller as well.
 */
function meantFactor(factor: number, before: readonly number[], after: readonly number[]): number {
  const round = Number(factor.toPrecision(3))
  if (Math.abs(round / factor - 1) < EXACTLY) return round
  const isExact = before.every((side, at) => Math.abs(after[at]! - factor * side) <= EXACTLY * factor * before[2]!) // prettier-ignore
  const near = MEANT_FACTORS.map((meant) => ({ meant, off: Math.abs(meant / factor - 1) }))
    .filter(({ off }) => off < NEAR_MEANT)
    .sort((a, b) => a.off - b.off)
  return isExact ? factor : (near[0]?.meant ?? factor)
}

/** Of the turns that bring the whole to its place the one that brings the parts nearest to theirs. */
function findTurn(
  before: Box,
  befores: readonly (Box | null)[],
  after: Box,
  afters: readonly (Box | null)[],
): (typeof TURNS)[number] | null {
  const fitting = TURNS.filter(({ rows }) => boxesAgree(before, turnBox(after, rows)))
    .map((turn) => ({
      turn,
      apart: apart(
        befores,
        afters.map((box) => box && turnBox(box, turn.rows)),
      ),
    }))
    .sort((a, b) => a.apart - b.apart)
  return fitting[0]?.turn ?? null
}
