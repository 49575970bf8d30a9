/** One flat shape laid onto another as well as turning, moving and scaling can. */

/** (u, v) becomes (a u - b v + u0, b u + a v + v0); of a mirrored one v is turned round first. */
export interface Similarity {
  readonly a: number
  readonly b: number
  readonly u: number
  readonly v: number
  readonly isMirrored: boolean
  /** Root of the mean of the squared distances that are left. */
  readonly off: number
}

/**
 * @param from 2 x count. @param to 2 x count: where each should come to lie.
 * @param keepSize no scaling. @param mirror turn it over first.
 */
export function fitFlat(
  from: ArrayLike<number>,
  to: ArrayLike<number>,
  keepSize = false,
  mirror = false,
): Similarity {
  const count = from.length / 2
  const sign = mirror ? -1 : 1
  let [fu, fv, tu, tv] = [0, 0, 0, 0]
  for (let at = 0; at < count; at++) {
    fu += from[2 * at]! / count
    fv += (sign * from[2 * at + 1]!) / count
    tu += to[2 * at]! / count
    tv += to[2 * at + 1]! / count
  }
  let [along, across, squares, others] = [0, 0, 0, 0]
  for (let at = 0; at < count; at++) {
    const [x, y] = [from[2 * at]! - fu, sign * from[2 * at + 1]! - fv]
    const [u, v] = [to[2 * at]! - tu, to[2 * at + 1]! - tv]
    along += x * u + y * v
    across += x * v - y * u
    squares += x * x + y * y
    others += u * u + v * v
  }
  const length = Math.hypot(along, across)
  let [a, b] = [1, 0]
  if (length > 0 && squares > 0) {
    const scale = keepSize ? 1 / length : 1 / squares
    ;[a, b] = [along * scale, across * scale]
  }
  // |to - s R from|² = others - 2 s length + s² squares
  const scale = Math.hypot(a, b)
  const left = Math.max(0, others - 2 * scale * length + scale * scale * squares)
  return {
    a,
    b,
    u: tu - a * fu + b * fv,
    v: tv - b * fu - a * fv,
    isMirrored: mirror,
    off: Math.sqrt(left / Math.max(1, count)),
  }
}

export function applySimilarity(flat: Float64Array, { a, b, u, v, isMirrored }: Similarity): Float64Array {
  const moved = new Float64Array(flat.length)
  const sign = isMirrored ? -1 : 1
  for (let at = 0; at < flat.length; at += 2) {
    const [x, y] = [flat[at]!, sign * flat[at + 1]!]
    moved[at] = a * x - b * y + u
    moved[at + 1] = b * x + a * y + v
  }
  return moved
}
