/** 4x4 matrices as 16 numbers, column-major, for column vectors. */
export type Matrix = readonly number[]

/** a times b, 4 x 4, column-major: b is applied first. */
export function multiplyMatrices(a: Matrix, b: Matrix): number[] {
  const product = new Array<number>(16)
  for (let column = 0; column < 4; column++)
    for (let row = 0; row < 4; row++) {
      let sum = 0
      for (let k = 0; k < 4; k++) sum += a[4 * k + row]! * b[4 * column + k]!
      product[4 * column + row] = sum
    }
  return product
}

/** To the last bit, without a tolerance. */
export const isIdentity = (matrix: Matrix): boolean =>
  matrix.every((value, index) => value === (index % 5 === 0 ? 1 : 0))

/** Inverse of an affine matrix; null where its 3x3 part is singular. */
export function invertAffine(m: Matrix): number[] | null {
  const [a, b, c, , d, e, f, , g, h, i] = m as number[]
  const A = e! * i! - f! * h!
  const B = f! * g! - d! * i!
  const C = d! * h! - e! * g!
  const det = a! * A + b! * B + c! * C
  if (det === 0 || !Number.isFinite(det)) return null
  const r = [
    A / det,
    (c! * h! - b! * i!) / det,
    (b! * f! - c! * e!) / det,
    B / det,
    (a! * i! - c! * g!) / det,
    (c! * d! - a! * f!) / det,
    C / det,
    (b! * g! - a! * h!) / det,
    (a! * e! - b! * d!) / det,
  ]
  const t = [m[12]!, m[13]!, m[14]!]
  return [
    r[0]!,
    r[1]!,
    r[2]!,
    0,
    r[3]!,
    r[4]!,
    r[5]!,
    0,
    r[6]!,
    r[7]!,
    r[8]!,
    0,
    -(r[0]! * t[0]! + r[3]! * t[1]! + r[6]! * t[2]!),
    -(r[1]! * t[0]! + r[4]! * t[1]! + r[7]! * t[2]!),
    -(r[2]! * t[0]! + r[5]! * t[1]! + r[8]! * t[2]!),
    1,
  ]
}

/** 3 x n positions through an affine matrix. */
export function transformPoints(points: Float64Array, m: Matrix): Float64Array {
  const moved = new Float64Array(points.length)
  for (let at = 0; at < points.length; at += 3) {
    const x = points[at]!
    const y = points[at + 1]!
    const z = points[at + 2]!
    moved[at] = m[0]! * x + m[4]! * y + m[8]! * z + m[12]!
    moved[at + 1] = m[1]! * x + m[5]! * y + m[9]! * z + m[13]!
    moved[at + 2] = m[2]! * x + m[6]! * y + m[10]! * z + m[14]!
  }
  return moved
}

/** 3 x n normals through the inverse transpose of a matrix's 3x3 part; what is turned has unit length. */
export function transformNormals(normals: Float64Array, m: Matrix): Float64Array {
  // another size alone turns nothing: they stay as they are, to the last bit
  if (isPlainScale(m)) return normals
  const inverse = invertAffine(m)
  if (!inverse) return normals
  const turned = new Float64Array(normals.length)
  for (let at = 0; at < normals.length; at += 3) {
    const x = normals[at]!
    const y = normals[at + 1]!
    const z = normals[at + 2]!
    const nx = inverse[0]! * x + inverse[1]! * y + inverse[2]! * z
    const ny = inverse[4]! * x + inverse[5]! * y + inverse[6]! * z
    const nz = inverse[8]! * x + inverse[9]! * y + inverse[10]! * z
    const length = Math.hypot(nx, ny, nz) || 1
    turned[at] = nx / length
    turned[at + 1] = ny / length
    turned[at + 2] = nz / length
  }
  return turned
}

/** Whether a matrix makes everything larger or smaller alike and turns nothing. */
const isPlainScale = (m: Matrix): boolean =>
  m[0]! > 0 &&
  m[5] === m[0] &&
  m[10] === m[0] &&
  m[1] === 0 &&
  m[2] === 0 &&
  m[4] === 0 &&
  m[6] === 0 &&
  m[8] === 0 &&
  m[9] === 0

/** The determinant's sign of the 3x3 part tells whether a matrix mirrors. */
export const isMirroring = (m: Matrix): boolean =>
  m[0]! * (m[5]! * m[10]! - m[6]! * m[9]!) -
    m[4]! * (m[1]! * m[10]! - m[2]! * m[9]!) +
    m[8]! * (m[1]! * m[6]! - m[2]! * m[5]!) <
  0

/** Whether no entry differs by more, of a move by more than `moveWithin`. */
export const isNearly = (a: Matrix, b: Matrix, within: number, moveWithin = within): boolean =>
  a.every((value, at) => Math.abs(value - b[at]!) <= (at < 12 ? within : moveWithin))

/** Mean length scale of a matrix: the cube root of how it changes volume. */
export function meanScale(matrix: Matrix): number {
  const inverse = invertAffine(matrix)
  if (!inverse) return 0
  const determinant =
    matrix[0]! * (matrix[5]! * matrix[10]! - matrix[6]! * matrix[9]!) -
    matrix[4]! * (matrix[1]! * matrix[10]! - matrix[2]! * matrix[9]!) +
    matrix[8]! * (matrix[1]! * matrix[6]! - matrix[2]! * matrix[5]!)
  return Math.cbrt(Math.abs(determinant))
}
