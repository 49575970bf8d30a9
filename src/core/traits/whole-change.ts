/** What happened to a returned model as a whole: a size or a turn that all its parts share. */
import { boundsOf, diagonalOf, joinBoxes, type Box } from '../math/box.ts'
import type { Axis } from '../scene/scene.ts'
import { isIdentity, transformPoints, type Matrix } from '../math/matrix.ts'

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
/** Sides of a box agree to this share of its diagonal. */
const BOX_TOLERANCE = 0.02

export interface PartPoints {
  /** 3 x point count, each in its own space; `world` takes them to the space of the master's scene. */
  readonly points: Float64Array
  readonly world: Matrix
}

const worldBox = (parts: readonly PartPoints[]): Box | null =>
  parts
    .map(({ points, world }) => boundsOf(isIdentity(world) ? points : transformPoints(points, world)))
    .reduce(joinBoxes, null)

/** Quarter turns about one axis, as rows that pick and sign the coordinates of a box that was turned back. */
const TURNS: readonly {
  readonly rows: readonly (readonly [axis: number, sign: number])[]
  readonly turn: NonNullable<WholeChange['turn']>
}[] = [
  // what was up (y) has become z: it lies on its face or its back
  { rows: [[0, 1], [2, 1], [1, -1]], turn: { upAxis: 'z', frontAxis: '-y', text: 'lying, with Z up' } },
  { rows: [[0, 1], [2, -1], [1, 1]], turn: { upAxis: '-z', frontAxis: 'y', text: 'lying, with Z down' } },
  { rows: [[0, 1], [1, -1], [2, -1]], turn: { upAxis: '-y', frontAxis: '-z', text: 'upside down' } },
  { rows: [[1, -1], [0, 1], [2, 1]], turn: { upAxis: 'x', frontAxis: 'z', text: 'on its side, with X up' } },
] // prettier-ignore

const turnBox = (box: Box, rows: (typeof TURNS)[number]['rows']): Box => {
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

/**
 * @param pairs parts of both sides that are the same, in the space of the master's scene by their `world`.
 * @param upAxis the master's; turns are looked for in scenes with Y up only.
 * @returns null where nothing is shared by all.
 */
export function findWholeChange(
  pairs: readonly { readonly master: PartPoints; readonly returned: PartPoints }[],
  upAxis: string,
): WholeChange | null {
  const before = worldBox(pairs.map((pair) => pair.master))
  const after = worldBox(pairs.map((pair) => pair.returned))
  if (!before || !after || diagonalOf(before) === 0) return null
  let factor = diagonalOf(after) / diagonalOf(before)
  const isFactor = factor > LEAST_FACTOR || factor < 1 / LEAST_FACTOR
  const agree = pairs.every(({ master, returned }) => {
    const a = worldBox([master])
    const b = worldBox([returned])
    if (!a || !b || diagonalOf(a) === 0) return true
    return Math.abs(diagonalOf(b) / diagonalOf(a) / factor - 1) < AGREEMENT
  })
  if (!isFactor || !agree) factor = 1
  // tools multiply by round numbers: what is near one is meant
  const round = Number(factor.toPrecision(3))
  if (Math.abs(round / factor - 1) < 1e-4) factor = round
  const inverse = (value: number): number => value / factor
  const sized: Box = {
    min: after.min.map(inverse) as unknown as Box['min'],
    max: after.max.map(inverse) as unknown as Box['max'],
  }
  const turn =
    upAxis !== 'y' || boxesAgree(before, sized)
      ? null
      : (TURNS.find(({ rows }) => boxesAgree(before, turnBox(sized, rows)))?.turn ?? null)
  return factor === 1 && !turn ? null : { factor, turn }
}
