/**
 * Whether two pieces of plain data are the same to the last bit: numbers, texts, lists, objects, and typed arrays by
 * their type and content. A NaN is equal to a NaN.
 */
export function equalData(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true
  if (a === null || b === null || typeof a !== 'object' || typeof b !== 'object') return false
  if (ArrayBuffer.isView(a) || ArrayBuffer.isView(b)) {
    if (!ArrayBuffer.isView(a) || !ArrayBuffer.isView(b) || a.constructor !== b.constructor) return false
    const x = new Uint8Array(a.buffer, a.byteOffset, a.byteLength)
    const y = new Uint8Array(b.buffer, b.byteOffset, b.byteLength)
    return x.length === y.length && x.every((byte, at) => byte === y[at])
  }
  if (Array.isArray(a) !== Array.isArray(b)) return false
  const keys = Object.keys(a)
  return (
    keys.length === Object.keys(b).length &&
    keys.every(
      (key) =>
        Object.hasOwn(b, key) &&
        equalData((a as Record<string, unknown>)[key], (b as Record<string, unknown>)[key]),
    )
  )
}
