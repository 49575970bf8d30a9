/** Files that were written with few digits: points that nobody moved lie farther off than rounding usually brings them. */
import { pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { matchPositions } from './match-positions.ts'

/** How many times as far points lie off that were written with few digits, and what share of them lies where it lay all the same. */
const [ROUNDED, LEAST_IN_PLACE] = [8, 0.1]
/** Of larger meshes they lie so near each other that other evidence tells them apart as well, and soon. */
const MOST_POINTS = 200_000
/** Share of the points that have to have a counterpart then. */
const NEARLY_ALL = 0.9

/**
 * What lies where it lay as well as few digits can say, where these are all that is missing to nearly all points.
 *
 * @param byPosition one a master point, what lies within `reach` of it; -1 for none. @returns the same, or more of it.
 */
export function roundedPositions(
  master: Mesh,
  returned: Mesh,
  byPosition: Int32Array,
  reach: number,
): Int32Array {
  const countOf = (pairs: Int32Array): number => pairs.reduce((sum, other) => sum + Number(other >= 0), 0)
  if (pointCountOf(master) > MOST_POINTS) return byPosition
  const wanted = NEARLY_ALL * Math.min(pointCountOf(master), pointCountOf(returned))
  const found = countOf(byPosition)
  if (found >= wanted || found < LEAST_IN_PLACE * pointCountOf(master)) return byPosition
  const rounded = matchPositions(master.points, returned.points, reach * ROUNDED)
  return countOf(rounded) >= wanted ? rounded : byPosition
}
