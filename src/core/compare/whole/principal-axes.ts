import { EigenvalueDecomposition, Matrix } from 'ml-matrix'

/**
 * The axes along which something extends.
 *
 * @param second 3x3, row by row: second moments about its middle, or sums of products, in the unit squared.
 * @returns the axes as three rows of 3, upright on each other and right-handed, the longest first, and the moment along each;
 *   null where numbers are too large, or none.
 */
export function principalAxes(
  second: readonly number[],
): { readonly axes: readonly number[]; readonly moments: readonly number[] } | null {
  if (!second.every(Number.isFinite)) return null
  const found = new EigenvalueDecomposition(Matrix.from1DArray(3, 3, [...second]), { assumeSymmetric: true })
  const order = [0, 1, 2].sort((a, b) => found.realEigenvalues[b]! - found.realEigenvalues[a]!)
  const column = (of: number): number[] => [0, 1, 2].map((row) => found.eigenvectorMatrix.get(row, of))
  const [first, next] = [column(order[0]!), column(order[1]!)] as [number[], number[]]
  const third = [0, 1, 2].map(
    (axis) => first[(axis + 1) % 3]! * next[(axis + 2) % 3]! - first[(axis + 2) % 3]! * next[(axis + 1) % 3]!,
  )
  return { axes: [...first, ...next, ...third], moments: order.map((of) => found.realEigenvalues[of]!) }
}
