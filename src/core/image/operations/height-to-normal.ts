import { fullScale, type Pixels } from '../pixels.ts'

/**
 * A height field as normals in the space of the surface: n = (-dh/du, -dh/dv, 1), made length 1, by central
 * differences (one-sided at the borders).
 *
 * @param heights the first channel counts, 0 to its full scale (floats as they are).
 * @param steepness pixels that the full scale is high: 1 makes a step from black to white between neighbours a slope of
 *   one half on either side of it.
 * @param green which way it points in the result.
 * @returns three channels of 16 bits where the heights have more than 8, else of 8; 0.5 x + 0.5 of each part.
 */
export function heightToNormal(heights: Pixels, steepness: number, green: 'up' | 'down' = 'up'): Pixels {
  const { width, height, channels, values } = heights
  const scale = steepness / fullScale(heights)
  const bits = heights.bits === 8 ? 8 : 16
  const full = bits === 8 ? 255 : 65535
  const out = bits === 8 ? new Uint8Array(width * height * 3) : new Uint16Array(width * height * 3)
  const at = (row: number, column: number): number => values[(row * width + column) * channels]! * scale
  const put = (place: number, part: number): void => {
    out[place] = Math.round((part * 0.5 + 0.5) * full)
  }
  for (let row = 0; row < height; row++) {
    const above = Math.max(0, row - 1)
    const below = Math.min(height - 1, row + 1)
    for (let column = 0; column < width; column++) {
      const left = Math.max(0, column - 1)
      const right = Math.min(width - 1, column + 1)
      const x = right > left ? -(at(row, right) - at(row, left)) / (right - left) : 0
      // rows run down, v runs up
      const up = below > above ? -(at(above, column) - at(below, column)) / (below - above) : 0
      const y = green === 'up' ? up : -up
      const length = Math.sqrt(x * x + y * y + 1)
      const place = (row * width + column) * 3
      put(place, x / length)
      put(place + 1, y / length)
      put(place + 2, 1 / length)
    }
  }
  return { width, height, channels: 3, bits, values: out }
}
