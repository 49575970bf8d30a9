/**
 * Arrays of numbers whose bytes are the same are equal: looked at first, since `toEqual` otherwise goes through a mesh
 * or an image value by value. All else is compared, and told, as ever.
 */
import { expect } from 'vitest'

function sameBytes(a: unknown, b: unknown): true | undefined {
  if (!ArrayBuffer.isView(a) || !ArrayBuffer.isView(b) || a.byteLength !== b.byteLength) return undefined
  if (Object.getPrototypeOf(a) !== Object.getPrototypeOf(b)) return undefined
  const bytesOf = (view: ArrayBufferView): Buffer =>
    Buffer.from(view.buffer, view.byteOffset, view.byteLength)
  return bytesOf(a).equals(bytesOf(b)) || undefined
}

// modules of the core's tests are loaded once, this one for each file
const known = globalThis as { isQuickEqualityKnown?: true }
if (!known.isQuickEqualityKnown) expect.addEqualityTesters([sameBytes])
known.isQuickEqualityKnown = true
