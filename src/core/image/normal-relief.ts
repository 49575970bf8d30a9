/**
 * What a map of normals means for the eye: lit from above beside a bump that is known to rise, so that its direction
 * can be seen. Pictures are red, green, blue and opacity as bytes, rows from the top.
 */

/** Where the light comes from, X to the right, Y up, Z to the eye; its length is 1. */
const LIGHT = [0, 0.8, 0.6] as const
const AMBIENT = 0.3
/** Share of the picture that the bump's radius has. */
const BUMP = 0.36
/** How steep the bump's border is: its normal's Z there. */
const BORDER_Z = 0.45

type Picture = Uint8ClampedArray<ArrayBuffer>

/** A round bump that rises from a plane, as a map of normals whose green points as asked. */
export function bumpNormals(size: number, green: 'up' | 'down'): Picture {
  const picture = new Uint8ClampedArray(4 * size * size)
  const radius = BUMP * size
  const steepest = Math.sqrt(1 - BORDER_Z ** 2)
  for (let row = 0; row < size; row++)
    for (let column = 0; column < size; column++) {
      const across = (column + 0.5 - size / 2) / radius
      const up = (size / 2 - row - 0.5) / radius
      const isOn = Math.hypot(across, up) < 1
      const [x, y] = isOn ? [across * steepest, up * steepest] : [0, 0]
      const z = Math.sqrt(1 - x * x - y * y)
      const at = 4 * (row * size + column)
      picture[at] = 127.5 + 127.5 * x
      picture[at + 1] = 127.5 + 127.5 * (green === 'up' ? y : -y)
      picture[at + 2] = 127.5 + 127.5 * z
      picture[at + 3] = 255
    }
  return picture
}

/** The surface that a map of normals stands for, lit from above, as grey. */
export function lightNormals(normals: Uint8ClampedArray | Uint8Array, green: 'up' | 'down'): Picture {
  const picture = new Uint8ClampedArray(normals.length)
  const sign = green === 'up' ? 1 : -1
  for (let at = 0; at + 3 < normals.length; at += 4) {
    const x = normals[at]! / 127.5 - 1
    const y = sign * (normals[at + 1]! / 127.5 - 1)
    const z = normals[at + 2]! / 127.5 - 1
    const length = Math.hypot(x, y, z) || 1
    const lit = Math.max(0, (x * LIGHT[0] + y * LIGHT[1] + z * LIGHT[2]) / length)
    picture[at] = picture[at + 1] = picture[at + 2] = 255 * (AMBIENT + (1 - AMBIENT) * lit)
    picture[at + 3] = 255
  }
  return picture
}

/** The same map with its green turned round. */
export function turnedGreen(normals: Uint8ClampedArray | Uint8Array): Picture {
  const picture = new Uint8ClampedArray(normals)
  for (let at = 1; at < picture.length; at += 4) picture[at] = 255 - picture[at]!
  return picture
}

/**
 * Where a map of normals has most of a shape: the square of `size` pixels whose normals differ most among each other.
 * @returns its column and row; the corner where the map is no larger than that.
 */
export function liveliestSquare(
  normals: Uint8ClampedArray | Uint8Array,
  width: number,
  height: number,
  size: number,
): readonly [number, number] {
  let best: readonly [number, number] = [0, 0]
  let most = -1
  const step = Math.max(1, Math.floor(size / 2))
  for (let row = 0; row === 0 || row + size <= height; row += step)
    for (let column = 0; column === 0 || column + size <= width; column += step) {
      const spread = spreadOf(normals, width, height, column, row, size)
      if (spread > most) [best, most] = [[column, row], spread]
    }
  return best
}

/** Pixels between those that are looked at. */
const SPARSE = 3

function spreadOf(
  normals: Uint8ClampedArray | Uint8Array,
  width: number,
  height: number,
  left: number,
  top: number,
  size: number,
): number {
  let [count, sumX, sumY, squares] = [0, 0, 0, 0]
  for (let row = top; row < Math.min(height, top + size); row += SPARSE)
    for (let column = left; column < Math.min(width, left + size); column += SPARSE) {
      const at = 4 * (row * width + column)
      const [x, y] = [normals[at]!, normals[at + 1]!]
      count++
      sumX += x
      sumY += y
      squares += x * x + y * y
    }
  return count ? squares / count - (sumX / count) ** 2 - (sumY / count) ** 2 : 0
}
