/** Typed arrays that grow by doubling, for readers that can't know their counts beforehand. */
export interface GrowingFloat64 {
  array: Float64Array
  length: number
}
export interface GrowingInt32 {
  array: Int32Array
  length: number
}

/** An empty list of 64-bit numbers with room for `capacity`; it doubles when it is full. */
export const growingFloat64 = (capacity = 1024): GrowingFloat64 => ({
  array: new Float64Array(capacity),
  length: 0,
})
/** An empty list of 32-bit integers with room for `capacity`; it doubles when it is full. */
export const growingInt32 = (capacity = 1024): GrowingInt32 => ({
  array: new Int32Array(capacity),
  length: 0,
})

/** Makes room for `more` elements behind `length`. */
export function reserveFloat64(growing: GrowingFloat64, more: number): Float64Array {
  const wanted = growing.length + more
  if (wanted > growing.array.length) {
    const larger = new Float64Array(Math.max(wanted, growing.array.length * 2))
    larger.set(growing.array.subarray(0, growing.length))
    growing.array = larger
  }
  return growing.array
}

/** Makes room for `more` elements behind `length`. */
export function reserveInt32(growing: GrowingInt32, more: number): Int32Array {
  const wanted = growing.length + more
  if (wanted > growing.array.length) {
    const larger = new Int32Array(Math.max(wanted, growing.array.length * 2))
    larger.set(growing.array.subarray(0, growing.length))
    growing.array = larger
  }
  return growing.array
}

/** Puts a value behind the last. */
export function pushInt32(growing: GrowingInt32, value: number): void {
  if (growing.length === growing.array.length) reserveInt32(growing, 1)
  growing.array[growing.length++] = value
}
