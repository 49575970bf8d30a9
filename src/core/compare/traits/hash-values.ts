import { type ContentHash } from '../../base/bytes/hash.ts'

/** Indices renumbered by first use, and the values in that order; unused values drop out. */
export function canonicalIndices(
  indices: Int32Array,
  values: Float64Array,
  width: number,
): { indices: Int32Array; values: Float64Array } {
  const valueCount = values.length / width
  const newOf = new Int32Array(valueCount).fill(-1)
  const renumbered = new Int32Array(indices.length)
  const ordered = new Float64Array(values.length)
  let used = 0
  for (let at = 0; at < indices.length; at++) {
    const old = indices[at]!
    if (old < 0) {
      renumbered[at] = -1
      continue
    }
    let index = newOf[old]!
    if (index < 0) {
      index = used++
      newOf[old] = index
      for (let part = 0; part < width; part++) ordered[index * width + part] = values[old * width + part]!
    }
    renumbered[at] = index
  }
  return { indices: renumbered, values: ordered.subarray(0, used * width) }
}

/** Takes values that corners share into a hash, independent of how a file numbers them. */
export function addShared(hash: ContentHash, indices: Int32Array, values: Float64Array, width: number): void {
  const canonical = canonicalIndices(indices, values, width)
  hash.numbers(canonical.indices).numbers(canonical.values)
}
