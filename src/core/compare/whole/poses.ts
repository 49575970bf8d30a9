/** Turns by quarters and halves that tools give a model, and how it then lies, in words. */
import { multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import type { Axis, Space } from '../../scene/scene.ts'
import { axesFit, spaceMatrix } from '../../scene/space.ts'

type Pose = 'lying' | 'upside down' | 'on its side' | 'turned round'
/** Which coordinate, and its sign, stands in each place of a box that is turned back; Y up, Z to the front. */
export type Rows = readonly (readonly [axis: number, sign: 1 | -1])[]

/** Turns by quarters and halves that a model may have come back with. */
export const TURNS: readonly { readonly rows: Rows; readonly pose: Pose }[] = [
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

export const turnMatrix = (rows: Rows): Matrix => {
  const matrix = new Array<number>(16).fill(0)
  rows.forEach(([axis, sign], row) => (matrix[4 * axis + row] = sign))
  matrix[15] = 1
  return matrix
}

const AXES: readonly Axis[] = ['y', 'z', 'x', '-y', '-z', '-x']
/** What stands, whatever the axes of its file are: Y up, Z to the front. */
export const UPRIGHT: Space = { unitMeters: null, upAxis: 'y', frontAxis: 'z', handedness: 'right' }
/** The same space without its unit, so that only axes are converted. */
export const axesOf = (space: Space): Space => ({ ...space, unitMeters: null })

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

/** @param returned the space of the scene that lies so, which its axes are named in. */
export function poseText({ rows, pose }: (typeof TURNS)[number], returned: Space): string {
  const { upAxis, frontAxis } = axesForTurn(returned, rows)
  if (pose === 'upside down') return pose
  if (pose === 'turned round')
    return `turned round, with ${axisName(frontAxis)} ${frontAxis.startsWith('-') ? 'to the back' : 'to the front'}`
  return `${pose}, with ${axisName(upAxis)} ${upAxis.startsWith('-') ? 'down' : 'up'}`
}
