/**
 * Local transforms as FBX puts them together:
 *
 *   local = T * Roff * Rp * Rpre * R * Rpost^-1 * Rp^-1 * Soff * Sp * S * Sp^-1
 *
 * Source: the chain of the published documentation of the format's development kit, from memory; its table of
 * cases in tests/reference/transforms decides. Pre-, post- and geometric rotation are always in the order
 * XYZ (X is applied first); only the local rotation follows the node's own order.
 */
import { invertAffine, multiplyMatrices } from '../../base/math/matrix.ts'
import { IDENTITY_MATRIX, type RotationOrder, type TransformParts } from '../../scene/scene.ts'

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
  /** 0: a parent's scale reaches the node after its own rotation; 1: before; 2: not at all. Absent: 1. */
  readonly inheritType?: number
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

/** The rotations alone: before, own, after. */
const turns = (chain: TransformChain): number[] =>
  [
    rotationMatrix(chain.preRotation, 'xyz'),
    rotationMatrix(chain.rotation, ROTATION_ORDERS[chain.rotationOrder] ?? 'xyz'),
    invertAffine(rotationMatrix(chain.postRotation, 'xyz'))!,
  ].reduce((product, next) => multiplyMatrices(product, next))

/** A parent as its children see it: its world, and the parts of it that they may inherit. */
export interface ParentSpace {
  readonly world: readonly number[]
  /** World rotation without any scale. */
  readonly rotation: readonly number[]
  /** The node's own scale. */
  readonly scaling: Triple
}

const WORLD: ParentSpace = { world: IDENTITY_MATRIX, rotation: IDENTITY_MATRIX, scaling: [1, 1, 1] }

/** The space that a node gives its children. */
export const childSpace = (
  chain: TransformChain,
  parent: ParentSpace | null,
  world: readonly number[],
): ParentSpace => ({
  world,
  rotation: multiplyMatrices((parent ?? WORLD).rotation, turns(chain)),
  scaling: chain.scaling,
})

/**
 * The local matrix such that the product of matrices down the hierarchy gives the node's world, whatever way
 * its parent's scale reaches it:
 *
 *   0: rotation = Rparent * R * Sparent * S;  1: Rparent * Sparent * R * S;  2: as 0 without the parent's own scale
 *
 * where Sparent is what of the parent's world is no rotation. Translation always goes through the whole parent.
 * Source: the published documentation of the format's development kit, from memory; as three's reader has it.
 */
export function inheritedLocal(chain: TransformChain, parent: ParentSpace | null): number[] {
  const plain = localMatrix(chain)
  const type = chain.inheritType ?? 1
  if (type === 1 || !parent) return plain
  const inverse = invertAffine(parent.world)
  const unturn = invertAffine(parent.rotation)
  if (!inverse || !unturn) return plain
  const linear = (matrix: readonly number[]): number[] => [...matrix.slice(0, 12), 0, 0, 0, 1]
  let shear = multiplyMatrices(unturn, linear(parent.world))
  if (type === 2) {
    if (parent.scaling.some((value) => value === 0)) return plain
    const [x, y, z] = parent.scaling
    shear = multiplyMatrices(shear, scaled([1 / x, 1 / y, 1 / z]))
  }
  const turned = [parent.rotation, turns(chain), shear, scaled(chain.scaling)].reduce((product, next) =>
    multiplyMatrices(product, next),
  )
  const place = multiplyMatrices(parent.world, plain)
  return multiplyMatrices(inverse, [...turned.slice(0, 12), place[12]!, place[13]!, place[14]!, 1])
}

const INHERITS: readonly TransformParts['inherits'][] = ['turn-then-scale', 'scale-then-turn', 'no-scale']

const radians = (degrees: Triple): Triple =>
  degrees.map((angle) => (angle * Math.PI) / 180) as unknown as Triple

/** The shortest number of degrees that gives these radians again. */
export function degreesOf(angle: number): number {
  const value = (angle * 180) / Math.PI
  for (let digits = 12; digits < 17; digits++) {
    const rounded = Number(value.toPrecision(digits))
    if ((rounded * Math.PI) / 180 === angle) return rounded
  }
  return value
}
const degrees = (angles: Triple): Triple => angles.map(degreesOf) as unknown as Triple

/** The chain as a scene keeps it. */
export const partsOf = (chain: TransformChain): TransformParts => ({
  translation: chain.translation,
  rotation: radians(chain.rotation),
  rotationOrder: ROTATION_ORDERS[chain.rotationOrder] ?? 'xyz',
  scale: chain.scaling,
  rotationPivot: chain.rotationPivot,
  scalePivot: chain.scalingPivot,
  rotationOffset: chain.rotationOffset,
  scaleOffset: chain.scalingOffset,
  preRotation: radians(chain.preRotation),
  postRotation: radians(chain.postRotation),
  inherits: INHERITS[chain.inheritType ?? 1] ?? 'scale-then-turn',
})

/** The chain of a node that keeps one. */
export const chainOf = (parts: TransformParts): Required<TransformChain> => ({
  translation: parts.translation,
  rotation: degrees(parts.rotation),
  rotationOrder: ROTATION_ORDERS.indexOf(parts.rotationOrder),
  scaling: parts.scale,
  rotationPivot: parts.rotationPivot,
  scalingPivot: parts.scalePivot,
  rotationOffset: parts.rotationOffset,
  scalingOffset: parts.scaleOffset,
  preRotation: degrees(parts.preRotation),
  postRotation: degrees(parts.postRotation),
  inheritType: INHERITS.indexOf(parts.inherits),
})

/** The matrix that a node’s chain of translation, pivots, rotations and scale comes to, column-major. */
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
