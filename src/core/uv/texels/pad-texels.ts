/** Pixels past the borders of islands, and which pixel of an island each repeats. */

export interface TexelPadding {
  /** Pixels that no island has, in the order of their distance. */
  readonly texels: Uint32Array
  /** For each of them the pixel that it repeats. */
  readonly from: Uint32Array
}

/**
 * Each ring of pixels takes what the nearest one of the ring before it repeats, sides before corners: no filter that
 * reaches past a border mixes in what lies behind it.
 *
 * @param owned size x rows, 0 for what no island has.
 * @param size pixels of a row.
 * @param width rings at most; Infinity: until the map is full.
 */
export function padTexels(owned: ArrayLike<number>, size: number, width: number): TexelPadding {
  const count = owned.length
  const source = new Int32Array(count).fill(-1)
  let border: number[] = []
  const isBorder = (at: number): boolean => {
    const column = at % size
    return (
      (column > 0 && !owned[at - 1]) ||
      (column + 1 < size && !owned[at + 1]) ||
      (at >= size && !owned[at - size]) ||
      (at + size < count && !owned[at + size])
    )
  }
  for (let at = 0; at < count; at++)
    if (owned[at]) {
      source[at] = at
      if (isBorder(at)) border.push(at)
    }
  const texels: number[] = []
  for (let ring = 0; ring < width && border.length; ring++) {
    const next: number[] = []
    // two passes, so that a corner never goes before a side
    for (const isCorner of [false, true])
      for (const at of border) {
        const column = at % size
        const left = column > 0
        const right = column + 1 < size
        const up = at >= size
        const down = at + size < count
        const take = (to: number): void => {
          if (source[to]! >= 0) return
          source[to] = source[at]!
          next.push(to)
        }
        if (!isCorner) {
          if (left) take(at - 1)
          if (right) take(at + 1)
          if (up) take(at - size)
          if (down) take(at + size)
        } else {
          if (left && up) take(at - size - 1)
          if (right && up) take(at - size + 1)
          if (left && down) take(at + size - 1)
          if (right && down) take(at + size + 1)
        }
      }
    for (const at of next) texels.push(at)
    border = next
  }
  return { texels: Uint32Array.from(texels), from: Uint32Array.from(texels, (at) => source[at]!) }
}
