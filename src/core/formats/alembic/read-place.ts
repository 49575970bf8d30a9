/** Places of transforms by their stacks of operations. Source: AbcGeom’s XformOp: its kinds, channels and order. */
import { multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import { IDENTITY_MATRIX } from '../../scene/scene.ts'
import type { AbcObject } from './archive-tree.ts'
import { compoundIn, numbersAt, valuesIn, type Sampling } from './property-access.ts'

export function placeOf(object: AbcObject, sampling: Sampling): { local: Matrix; unknown: number } {
  const transform = compoundIn(object, '.xform')
  const ops = transform && numbersAt(valuesIn(transform, '.ops'), sampling)
  const values = transform && numbersAt(valuesIn(transform, '.vals'), sampling)
  let local: Matrix = IDENTITY_MATRIX
  let unknown = 0
  let at = 0
  const take = (count: number): number[] | null => {
    const own = values ? [...values.subarray(at, at + count)] : []
    at += count
    return own.length === count && own.every(Number.isFinite) ? own : null
  }
  for (const op of ops ?? []) {
    const kind = op >> 4
    const channels = [3, 3, 4, 16, 1, 1, 1][kind]
    const own = channels === undefined ? null : take(channels)
    if (!own) {
      unknown++
      continue
    }
    const [x = 0, y = 0, z = 0, angle = 0] = own
    if (kind === 0) local = multiplyMatrices(local, [x, 0, 0, 0, 0, y, 0, 0, 0, 0, z, 0, 0, 0, 0, 1])
    else if (kind === 1) local = multiplyMatrices(local, [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, y, z, 1])
    else if (kind === 3) local = multiplyMatrices(local, own)
    else if (kind === 2) local = multiplyMatrices(local, turnAbout([x, y, z], angle))
    else local = multiplyMatrices(local, turnAbout([+(kind === 4), +(kind === 5), +(kind === 6)], x))
  }
  return { local, unknown }
}

/** Rotation by degrees about an axis (Rodrigues); quarter turns are exact. */
function turnAbout(axis: readonly number[], degrees: number): Matrix {
  const length = Math.hypot(...axis)
  if (length === 0) return IDENTITY_MATRIX
  const [x, y, z] = axis.map((one) => one / length) as [number, number, number]
  const quarter = (((degrees / 90) % 4) + 4) % 4
  const isExact = Number.isInteger(quarter)
  const c = isExact ? [1, 0, -1, 0][quarter]! : Math.cos((degrees * Math.PI) / 180)
  const s = isExact ? [0, 1, 0, -1][quarter]! : Math.sin((degrees * Math.PI) / 180)
  const t = 1 - c
  return [t * x * x + c, t * x * y + s * z, t * x * z - s * y, 0, t * x * y - s * z, t * y * y + c, t * y * z + s * x, 0, t * x * z + s * y, t * y * z - s * x, t * z * z + c, 0, 0, 0, 0, 1] // prettier-ignore
}
