/** What happened to a returned model as a whole: a size or a turn that all its parts share. */
import { diagonalOf, joinBoxes, type Box } from '../base/math/box.ts'
import { multiplyMatrices, type Matrix } from '../base/math/matrix.ts'
import { drawnBounds } from '../scene/mesh-bounds.ts'
import { factorOf, type PlacedMesh, type PointPairs } from './whole-factor.ts'
import type { Axis, Space } from '../scene/scene.ts'
import { axesFit, spaceMatrix } from '../scene/space.ts'

export interface WholeChange {
  /** How many times as large it came back; 1: as it was. */
  readonly factor: number
  /** Axes that would have to be up and front for it to stand as it did; null where it stands. */
  readonly turn: { readonly upAxis: Axis; readonly frontAxis: Axis; readonly text: string } | null
}

/** Sizes are told apart from what sculpting does to a box: less than half as large again is no factor. */
const LEAST_FACTOR = 1.5
/** Parts agree where their factors differ by less than this share. */
const AGREEMENT = 0.02
/** By points, which sculpting moves to and fro, to this. */
const POINTS_AGREE = 0.1
/** Sides of a box agree to this share of its diagonal. */
const BOX_TOLERANCE = 0.02

type Pose = 'lying' | 'upside down' | 'on its side' | 'turned round'
/** Which coordinate, and its sign, stands in each place of a box that is turned back; Y up, Z to the front. */
type Rows = readonly (readonly [axis: number, sign: 1 | -1])[]

/** Turns by quarters and halves that a model may have come back with. */
const TURNS: readonly { readonly rows: Rows; readonly pose: Pose }[] = [
  // what was up has come to the front or to the back
  { rows: [[0, 1], [2, 1], [1, -1]], pose: 'lying' },
  { rows: [[0, 1], [2, -1], [1, 1]], pose: 'lying' },
  { rows: [[0, 1], [1, -1], [2, -1]], pose: 'upside down' },
  { rows: [[0, -1], [1, -1], [2, 1]], pose: 'upside down' },
  { rows: [[1, -1], [0, 1], [2, 1]], pose: 'on its side' },
  { rows: [[1, 1], [0, -1], [2, 1]], pose: 'on its side' },
  { rows: [[0, -1], [1, 1], [2, -1]], pose: 'turned round' },
  { rows: [[2, 1], [1, 1], [0, -1]], pose: 'turned round' },
  { rows: [[2, -1], [1, 1], [0, 1]], pose: 'turned round' },
] // prettier-ignore

const turnBox = (box: Box, rows: Rows): Box => {
  const ends = rows.map(([axis, sign]) =>
    sign > 0 ? [box.min[axis]!, box.max[axis]!] : [-box.max[axis]!, -box.min[axis]!],
  )
  return {
    min: ends.map(([low]) => low!) as unknown as Box['min'],
    max: ends.map(([, high]) => high!) as unknown as Box['max'],
  }
}

const turnMatrix = (rows: Rows): Matrix => {
  const matrix = new Array<number>(16).fill(0)
  rows.forEach(([axis, sign], row) => (matrix[4 * axis + row] = sign))
  matrix[15] = 1
  return matrix
}

const AXES: readonly Axis[] = ['y', 'z', 'x', '-y', '-z', '-x']
const UPRIGHT: Space = { unitMeters: null, upAxis: 'y', frontAxis: 'z', handedness: 'right' }
/** The same space without its unit, so that only axes are converted. */
const axesOf = (space: Space): Space => ({ ...space, unitMeters: null })

/** The axes that a file has to be read with for its model to be turned back by `rows` where it stands upright. */
function axesForTurn(returned: Space, rows: Rows): { upAxis: Axis; frontAxis: Axis } {
  const wanted = multiplyMatrices(turnMatrix(rows), spaceMatrix(axesOf(returned), UPRIGHT))
  for (const upAxis of AXES)
    for (const frontAxis of AXES) {
      if (!axesFit(upAxis, frontAxis)) continue
      const found = spaceMatrix({ ...axesOf(returned), upAxis, frontAxis }, UPRIGHT)
      if (found.every((value, at) => value === wanted[at])) return { upAxis, frontAxis }
    }
  throw new Error('a turn by quarters keeps the handedness, so some axes give it')
}

const axisName = (axis: Axis): string => axis.replace('-', '').toUpperCase()

function poseText(pose: Pose, { upAxis, frontAxis }: { upAxis: Axis; frontAxis: Axis }): string {
  if (pose === 'upside down') return pose
  if (pose === 'turned round')
    return `turned round, with ${axisName(frontAxis)} ${frontAxis.startsWith('-') ? 'to the back' : 'to the front'}`
  return `${pose}, with ${axisName(upAxis)} ${upAxis.startsWith('-') ? 'down' : 'up'}`
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
 * @param pairs parts of both sides that are the same, with points that are, where it is known which are.
 * @param spaces of the two scenes, as they were read.
 * @returns null where nothing is shared by all.
 */
export function findWholeChange(
  pairs: readonly {
    readonly master: PlacedMesh
    readonly returned: PlacedMesh
    readonly points?: PointPairs | null
  }[],
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
  const known = pairs.flatMap(({ points }) => points ?? [])
  const byPoints = factorOf(known)
  let factor = byPoints ?? diagonalOf(after) / diagonalOf(before)
  const isFactor = factor > LEAST_FACTOR || factor < 1 / LEAST_FACTOR
  const agree = befores.every((a, part) => {
    const b = afters[part]
    if (!a || !b || diagonalOf(a) === 0) return true
    const points = byPoints === null ? null : pairs[part]!.points
    const own = points ? factorOf([points]) : null
    if (own !== null) return Math.abs(own / factor - 1) < POINTS_AGREE
    return (
      Math.abs(diagonalOf(b) / diagonalOf(a) / factor - 1) < (byPoints === null ? AGREEMENT : POINTS_AGREE)
    )
  })
  if (!isFactor || !agree) factor = 1
  // tools multiply by round numbers: what is near one is meant
  const round = Number(factor.toPrecision(3))
  if (Math.abs(round / factor - 1) < 1e-4) factor = round
  const inverse = (value: number): number => value / factor
  const sized = (box: Box | null): Box | null =>
    box && {
      min: box.min.map(inverse) as unknown as Box['min'],
      max: box.max.map(inverse) as unknown as Box['max'],
    }
  const turn = boxesAgree(before, sized(after)!)
    ? null
    : findTurn(before, befores, sized(after)!, afters.map(sized), spaces.returned)
  return factor === 1 && !turn ? null : { factor, turn }
}

/** Of the turns that bring the whole to its place the one that brings the parts nearest to theirs. */
function findTurn(
  before: Box,
  befores: readonly (Box | null)[],
  after: Box,
  afters: readonly (Box | null)[],
  returned: Space,
): WholeChange['turn'] {
  const fitting = TURNS.filter(({ rows }) => boxesAgree(before, turnBox(after, rows)))
    .map((turn) => ({
      ...turn,
      apart: apart(
        befores,
        afters.map((box) => box && turnBox(box, turn.rows)),
      ),
    }))
    .sort((a, b) => a.apart - b.apart)
  const [best] = fitting
  if (!best) return null
  const axes = axesForTurn(returned, best.rows)
  return { ...axes, text: poseText(best.pose, axes) }
}
