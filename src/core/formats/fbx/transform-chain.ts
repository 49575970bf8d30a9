/**
 * Local transforms as FBX puts them together:
 *
 *   local = T * Roff * Rp * Rpre * R * Rpost^-1 * Rp^-1 * Soff * Sp * S * Sp^-1
 *
 * Source: the chain of the published documentation of the format's development kit, from memory; its table of
 * cases in ../shared/reference/transforms decides. Pre-, post- and geometric rotation are always in the order
 * XYZ (X is applied first); only the local rotation follows the node's own order.
 */
import { invertAffine, multiplyMatrices } from '../../math/matrix.ts'
import { IDENTITY_MATRIX, type RotationOrder } from '../../scene/scene.ts'

export type Triple = readonly [number, number, number]

export interface TransformChain {
  readonly translation: Triple
  /** Degrees. */
  readonly rotation: Triple
  readonly scaling: Triple
  readonly rotationOrder: number
  readonly rotationOffset: Triple
  readonly rotationPivot: Triple
  /** Degrees. */
  readonly preRotation: Triple
  /** Degrees. */
  readonly postRotation: Triple
  readonly scalingOffset: Triple
  readonly scalingPivot: Triple
}

/** By the number that files hold; 6 (spherical) is treated as the first, as other readers do. */
export const ROTATION_ORDERS: readonly RotationOrder[] = ['xyz', 'xzy', 'yzx', 'yxz', 'zxy', 'zyx']

const moved = ([x, y, z]: Triple, sign = 1): number[] => [
  1,
  0,
  0,
  0,
  0,
  1,
  0,
  0,
  0,
  0,
  1,
  0,
  sign * x,
  sign * y,
  sign * z,
  1,
]
const scaled = ([x, y, z]: Triple): number[] => [x, 0, 0, 0, 0, y, 0, 0, 0, 0, z, 0, 0, 0, 0, 1]

/** Exact for quarter turns, which most files are full of. */
function turn(degrees: number): { cos: number; sin: number } {
  const quarter = ((degrees % 360) + 360) % 360
  if (quarter === 0) return { cos: 1, sin: 0 }
  if (quarter === 90) return { cos: 0, sin: 1 }
  if (quarter === 180) return { cos: -1, sin: 0 }
  if (quarter === 270) return { cos: 0, sin: -1 }
  const angle = (degrees * Math.PI) / 180
  return { cos: Math.cos(angle), sin: Math.sin(angle) }
}

function turned(axis: string, degrees: number): number[] {
  const { cos, sin } = turn(degrees)
  if (axis === 'x') return [1, 0, 0, 0, 0, cos, sin, 0, 0, -sin, cos, 0, 0, 0, 0, 1]
  if (axis === 'y') return [cos, 0, -sin, 0, 0, 1, 0, 0, sin, 0, cos, 0, 0, 0, 0, 1]
  return [cos, sin, 0, 0, -sin, cos, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]
}

/** The first axis of the order is applied first. @param rotation degrees. */
export function rotationMatrix(rotation: Triple, order: RotationOrder): number[] {
  let matrix: number[] = [...IDENTITY_MATRIX]
  for (const axis of order) matrix = multiplyMatrices(turned(axis, rotation['xyz'.indexOf(axis)]!), matrix)
  return matrix
}

export function localMatrix(chain: TransformChain): number[] {
  const order = ROTATION_ORDERS[chain.rotationOrder] ?? 'xyz'
  const post = invertAffine(rotationMatrix(chain.postRotation, 'xyz'))!
  return [
    moved(chain.translation),
    moved(chain.rotationOffset),
    moved(chain.rotationPivot),
    rotationMatrix(chain.preRotation, 'xyz'),
    rotationMatrix(chain.rotation, order),
    post,
    moved(chain.rotationPivot, -1),
    moved(chain.scalingOffset),
    moved(chain.scalingPivot),
    scaled(chain.scaling),
    moved(chain.scalingPivot, -1),
  ].reduce((product, next) => multiplyMatrices(product, next))
}

/** What the mesh's points get besides: move, turn, scale, on the right of the node's own matrix. */
export const geometricMatrix = (translation: Triple, rotation: Triple, scaling: Triple): number[] =>
  multiplyMatrices(multiplyMatrices(moved(translation), rotationMatrix(rotation, 'xyz')), scaled(scaling))
