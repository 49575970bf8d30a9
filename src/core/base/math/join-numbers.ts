/** Several lists of numbers, one after the other. */
export function joinNumbers(lists: readonly Float64Array[]): Float64Array {
  const all = new Float64Array(lists.reduce((sum, { length }) => sum + length, 0))
  let at = 0
  for (const list of lists) {
    all.set(list, at)
    at += list.length
  }
  return all
}
