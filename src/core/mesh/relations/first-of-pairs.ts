/** Pairs of one number from which on they are told apart by a table instead of one by one. */
const MANY = 48

/**
 * For each pair of numbers the first one that is the same, itself where it is that one: pairs gathered by their lower
 * number, and among those few told apart by the higher. Linear in their number.
 *
 * @param lows, highs n each. @param lowCount more than the largest of `lows`.
 */
export function firstOfPairs(lows: Uint32Array, highs: Uint32Array, lowCount: number): Uint32Array {
  const count = lows.length
  const offsets = new Uint32Array(lowCount + 1)
  for (let pair = 0; pair < count; pair++) offsets[lows[pair]! + 1]!++
  for (let low = 0; low < lowCount; low++) offsets[low + 1]! += offsets[low]!
  const next = offsets.slice()
  const pairs = new Uint32Array(count)
  const ends = new Uint32Array(count)
  for (let pair = 0; pair < count; pair++) {
    const place = next[lows[pair]!]!++
    pairs[place] = pair
    ends[place] = highs[pair]!
  }
  const firsts = new Uint32Array(count)
  for (let low = 0; low < lowCount; low++) {
    const start = offsets[low]!
    const end = offsets[low + 1]!
    const many = end - start > MANY ? new Map<number, number>() : null
    for (let at = start; at < end; at++) {
      const high = ends[at]!
      if (many) {
        if (!many.has(high)) many.set(high, pairs[at]!)
        firsts[pairs[at]!] = many.get(high)!
        continue
      }
      let before = start
      while (ends[before] !== high) before++
      firsts[pairs[at]!] = pairs[before]!
    }
  }
  return firsts
}
