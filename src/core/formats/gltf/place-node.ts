/** Where a node stands, in the format's words. Source: glTF 2.0, section 3.5.3. */
import { isIdentity, isMirroring, type Matrix } from '../../base/math/matrix.ts'
import { composeMatrix } from './read-nodes.ts'

export interface PlacedNode {
  readonly words: Record<string, unknown>
  /** Largest entry, as a share of the largest, by which what is written misses the matrix: it shears. */
  readonly error: number
}

/** A turn as a quaternion (x y z w) of a matrix with columns of length 1. */
function quaternionOf(at: (row: number, column: number) => number): number[] {
  const trace = at(0, 0) + at(1, 1) + at(2, 2)
  let turn: number[]
  if (trace > 0) {
    const s = 2 * Math.sqrt(trace + 1)
    turn = [(at(2, 1) - at(1, 2)) / s, (at(0, 2) - at(2, 0)) / s, (at(1, 0) - at(0, 1)) / s, s / 4]
  } else {
    const i = at(0, 0) > at(1, 1) ? (at(0, 0) > at(2, 2) ? 0 : 2) : at(1, 1) > at(2, 2) ? 1 : 2
    const [j, k] = [(i + 1) % 3, (i + 2) % 3]
    const s = 2 * Math.sqrt(Math.max(1e-300, 1 + at(i, i) - at(j, j) - at(k, k)))
    turn = [0, 0, 0, (at(k, j) - at(j, k)) / s]
    turn[i] = s / 4
    turn[j] = (at(j, i) + at(i, j)) / s
    turn[k] = (at(k, i) + at(i, k)) / s
  }
  const length = Math.hypot(...turn) || 1
  return turn.map((value) => value / length + 0)
}

/**
 * A matrix as it is, where a file may have it so; as move, turn and scale where it must be (what keys move), or where that
 * gives the very same numbers; and as the nearest of these where it shears, which a file can't say.
 */
export function placeNode(matrix: Matrix, isAnimated: boolean): PlacedNode {
  if (isIdentity(matrix)) return { words: {}, error: 0 }
  const translation = [matrix[12]!, matrix[13]!, matrix[14]!]
  const lengths = [0, 4, 8].map((at) => Math.hypot(matrix[at]!, matrix[at + 1]!, matrix[at + 2]!))
  const isStraight = [1, 2, 4, 6, 8, 9].every((at) => matrix[at] === 0)
  const scale = isStraight
    ? [matrix[0]!, matrix[5]!, matrix[10]!]
    : [isMirroring(matrix) ? -lengths[0]! : lengths[0]!, lengths[1]!, lengths[2]!]
  const turn = isStraight
    ? [0, 0, 0, 1]
    : quaternionOf((row, column) => {
        const by = scale[column]!
        return by === 0 ? (row === column ? 1 : 0) : matrix[4 * column + row]! / by
      })
  const again = composeMatrix(translation, turn, scale)
  const size = Math.max(...lengths, 1e-300)
  const error = Math.max(...again.slice(0, 12).map((value, at) => Math.abs(value - matrix[at]!))) / size
  const isSame = again.every((value, at) => value === matrix[at])
  if (!isSame && !isAnimated && error < 1e-6) return { words: { matrix: [...matrix] }, error: 0 }
  const words: Record<string, unknown> = {}
  if (translation.some((value) => value !== 0)) words.translation = translation
  // a turn of next to nothing has a last number of 1 as well
  if (turn.some((value, at) => value !== (at === 3 ? 1 : 0))) words.rotation = turn
  if (scale.some((value) => value !== 1)) words.scale = scale
  return { words, error }
}
