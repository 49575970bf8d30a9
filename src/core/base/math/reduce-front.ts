/** The dense work of a sparse factor. */

/** Columns that are taken off the rest at once. */
const AT_ONCE = 4

/**
 * Takes the first columns off a dense symmetric matrix: LDLᵀ of them, and what is left of the rest.
 *
 * @param front size x size, columns one after another; what stands above the diagonal is not looked at. Its first columns
 * become those of L, the rest what is left.
 * @param pivots gets D from `first` on.
 * @returns false where a pivot is not positive.
 */
export function reduceFront(
  front: Float64Array,
  size: number,
  columns: number,
  pivots: Float64Array,
  first: number,
): boolean {
  for (let begin = 0; begin < columns; begin += AT_ONCE) {
    const end = Math.min(columns, begin + AT_ONCE)
    // the columns themselves
    for (let column = begin; column < end; column++) {
      const base = column * size
      for (let before = begin; before < column; before++) {
        const other = before * size
        const share = front[other + column]! * pivots[first + before]!
        for (let row = column; row < size; row++) front[base + row]! -= front[other + row]! * share
      }
      const pivot = front[base + column]!
      if (!(pivot > 0) || pivot === Infinity) return false
      pivots[first + column] = pivot
      for (let row = column + 1; row < size; row++) front[base + row]! /= pivot
    }
    // what they take off the others
    if (end - begin === AT_ONCE) {
      const a = begin * size
      const b = a + size
      const c = b + size
      const d = c + size
      const [pa, pb, pc, pd] = [
        pivots[first + begin]!,
        pivots[first + begin + 1]!,
        pivots[first + begin + 2]!,
        pivots[first + begin + 3]!,
      ]
      let column = end
      // two columns at a time: what is looked up serves both
      for (; column + 1 < size; column += 2) {
        const base = column * size
        const next = base + size
        const sa = front[a + column]! * pa
        const sb = front[b + column]! * pb
        const sc = front[c + column]! * pc
        const sd = front[d + column]! * pd
        const ta = front[a + column + 1]! * pa
        const tb = front[b + column + 1]! * pb
        const tc = front[c + column + 1]! * pc
        const td = front[d + column + 1]! * pd
        front[base + column]! -=
          front[a + column]! * sa +
          front[b + column]! * sb +
          front[c + column]! * sc +
          front[d + column]! * sd
        for (let row = column + 1; row < size; row++) {
          const la = front[a + row]!
          const lb = front[b + row]!
          const lc = front[c + row]!
          const ld = front[d + row]!
          front[base + row]! -= la * sa + lb * sb + lc * sc + ld * sd
          front[next + row]! -= la * ta + lb * tb + lc * tc + ld * td
        }
      }
      for (; column < size; column++) {
        const base = column * size
        const sa = front[a + column]! * pa
        const sb = front[b + column]! * pb
        const sc = front[c + column]! * pc
        const sd = front[d + column]! * pd
        for (let row = column; row < size; row++)
          front[base + row]! -=
            front[a + row]! * sa + front[b + row]! * sb + front[c + row]! * sc + front[d + row]! * sd
      }
    } else
      for (let before = begin; before < end; before++) {
        const other = before * size
        const pivot = pivots[first + before]!
        for (let column = end; column < size; column++) {
          const share = front[other + column]! * pivot
          const base = column * size
          for (let row = column; row < size; row++) front[base + row]! -= front[other + row]! * share
        }
      }
  }
  return true
}
