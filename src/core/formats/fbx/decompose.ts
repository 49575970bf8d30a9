import type { Matrix } from '../../base/math/matrix.ts'
import { isIdentity, isMirroring, multiplyMatrices } from '../../base/math/matrix.ts'
import { rotationMatrix, type Triple } from './transform-chain.ts'

export interface Decomposed {
  readonly translation: Triple
  /** Degrees, X first. */
  readonly rotation: Triple
  readonly scaling: Triple
  /** Largest entry by which putting it together again misses the matrix: more than rounding where it shears. */
  readonly error: number
}

/** Move, turn and scale of a matrix; a mirroring one has a negative scale along x. */
export function decompose(matrix: Matrix): Decomposed {
  const translation: Triple = [matrix[12]!, matrix[13]!, matrix[14]!]
  if (isIdentity([...matrix.slice(0, 12), 0, 0, 0, 1]))
    return { translation, rotation: [0, 0, 0], scaling: [1, 1, 1], error: 0 }
  const lengths = [0, 4, 8].map((at) => Math.hypot(matrix[at]!, matrix[at + 1]!, matrix[at + 2]!))
  const scaling: Triple = [isMirroring(matrix) ? -lengths[0]! : lengths[0]!, lengths[1]!, lengths[2]!]
  const at = (row: number, column: number): number => {
    const scale = scaling[column]!
    return scale === 0 ? (row === column ? 1 : 0) : matrix[4 * column + row]! / scale
  }
  // R = Rz Ry Rx
  const sine = Math.max(-1, Math.min(1, -at(2, 0)))
  const y = Math.asin(sine)
  const locked = Math.abs(sine) > 1 - 1e-12
  const x = locked ? Math.atan2(-at(1, 2), at(1, 1)) : Math.atan2(at(2, 1), at(2, 2))
  const z = locked ? 0 : Math.atan2(at(1, 0), at(0, 0))
  const degrees = (angle: number): number => {
    const value = (angle * 180) / Math.PI
    const whole = Math.round(value)
    // quarter turns come out exact again
    return Math.abs(value - whole) < 1e-12 ? whole + 0 : value
  }
  const rotation: Triple = [degrees(x), degrees(y), degrees(z)]
  const again = multiplyMatrices(rotationMatrix(rotation, 'xyz'), [
    scaling[0],
    0,
    0,
    0,
    0,
    scaling[1],
    0,
    0,
    0,
    0,
    scaling[2],
    0,
    0,
    0,
    0,
    1,
  ])
  const error = Math.max(...again.slice(0, 12).map((value, place) => Math.abs(value - matrix[place]!)))
  return { translation, rotation, scaling, error }
}
