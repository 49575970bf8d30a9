/** Brings two scenes together: the only place where units and axes are converted. */
import { isMirroring, multiplyMatrices, type Matrix } from '../base/math/matrix.ts'
import { worldMatrices } from './world.ts'
import type { Axis, Scene, Space } from './scene.ts'

const AXIS_VECTORS: Readonly<Record<Axis, readonly [number, number, number]>> = {
  x: [1, 0, 0],
  y: [0, 1, 0],
  z: [0, 0, 1],
  '-x': [-1, 0, 0],
  '-y': [0, -1, 0],
  '-z': [0, 0, -1],
}

/** An axis as a vector of length 1. */
export const axisVector = (axis: Axis): readonly [number, number, number] => AXIS_VECTORS[axis]

const cross = (a: readonly number[], b: readonly number[]): [number, number, number] => [
  a[1]! * b[2]! - a[2]! * b[1]!,
  a[2]! * b[0]! - a[0]! * b[2]!,
  a[0]! * b[1]! - a[1]! * b[0]!,
]

/** True where up and front are different axes, so that they span a space. */
export const axesFit = (up: Axis, front: Axis): boolean => up.replace('-', '') !== front.replace('-', '')

/** What a scene's space is asked to be; null for what stays as it is. */
export interface SpaceWish {
  readonly unitMeters: number | null
  readonly upAxis: Axis | null
  readonly frontAxis: Axis | null
  readonly mirrored: boolean | null
}

/** A space as it is asked for. Front moves out of the way of a new up axis as the usual pairs have it. */
export function targetSpace(own: Space, wish: SpaceWish): Space {
  const upAxis = wish.upAxis ?? own.upAxis
  let frontAxis = wish.frontAxis ?? own.frontAxis
  if (!axesFit(upAxis, frontAxis)) frontAxis = upAxis.endsWith('z') ? '-y' : 'z'
  return {
    unitMeters: wish.unitMeters ?? own.unitMeters,
    upAxis,
    frontAxis,
    handedness: wish.mirrored === null ? own.handedness : wish.mirrored ? 'left' : 'right',
  }
}

/** Right, up and front of a space as columns in its own axes; right completes the handedness. */
function basisOf(space: Space): number[][] {
  const up = AXIS_VECTORS[space.upAxis]
  const front = AXIS_VECTORS[space.frontAxis]
  const right = cross(up, front)
  const sign = space.handedness === 'right' ? 1 : -1
  return [right.map((value) => value * sign), [...up], [...front]]
}

/**
 * The matrix that takes numbers of one space to another: same right, up and front, and the same size where
 * both units are known (where one is unknown the numbers keep their size). Entries are 0 or plus or minus
 * the unit ratio, so that a pure change of axes rounds nothing.
 */
export function spaceMatrix(from: Space, to: Space): number[] {
  const scale =
    from.unitMeters !== null && to.unitMeters !== null && from.unitMeters !== to.unitMeters
      ? from.unitMeters / to.unitMeters
      : 1
  const source = basisOf(from)
  const target = basisOf(to)
  const matrix = new Array<number>(16).fill(0)
  for (let row = 0; row < 3; row++)
    for (let column = 0; column < 3; column++) {
      let sum = 0
      for (let k = 0; k < 3; k++) sum += target[k]![row]! * source[k]![column]!
      matrix[4 * column + row] = sum === 0 ? 0 : sum * scale
    }
  matrix[15] = 1
  return matrix
}

/** Same axes and hand, and the same unit as far as both say one. */
export const sameSpace = (a: Space, b: Space): boolean =>
  a.upAxis === b.upAxis &&
  a.frontAxis === b.frontAxis &&
  a.handedness === b.handedness &&
  (a.unitMeters === b.unitMeters || a.unitMeters === null || b.unitMeters === null)

/**
 * For each node of `scene`, the matrix from its mesh's own space to the world of `to`, and whether that
 * mirrors (so that faces must be turned to keep their front).
 */
export function nodeMatricesIn(scene: Scene, to: Space): { matrix: Matrix; mirrors: boolean }[] {
  const change = spaceMatrix(scene.space, to)
  return worldMatrices(scene).map((world) => {
    const matrix = multiplyMatrices(change, world)
    return { matrix, mirrors: isMirroring(matrix) }
  })
}
