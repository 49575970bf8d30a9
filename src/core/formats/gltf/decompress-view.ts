/** Compressed buffer views, by the decoder that its authors publish. Source: EXT_meshopt_compression. */
import type { GeometryDecoders } from '../descriptor.ts'
import { textOf, wholeOf, type Json } from '../notes/json.ts'

/** No view that anyone wrote unpacks to more. */
const MOST_BYTES = 1 << 30
/** Stored this many times smaller at most: the codec can't do more, so that more is asked for in bad faith. */
const MOST_GAIN = 4096

/** @returns the bytes, or in words why there are none. */
export function decompressView(
  packed: Json,
  bytes: Uint8Array,
  decode: GeometryDecoders['meshopt'],
): { bytes: Uint8Array; stride: number } | string {
  if (!decode) return 'its bytes are compressed, and what would unpack them is not at hand here'
  const count = wholeOf(packed.count)
  const stride = wholeOf(packed.byteStride)
  const mode = textOf(packed.mode)
  const filter = textOf(packed.filter) || 'NONE'
  if (count === null || stride === null || stride === 0 || stride > 256)
    return 'it doesn’t say how many elements it packs'
  const length = count * stride
  if (length > MOST_BYTES || length > MOST_GAIN * (bytes.length + 64))
    return `it says that ${bytes.length} bytes unpack to ${length}`
  const target = new Uint8Array(length)
  try {
    decode(target, count, stride, bytes, mode, filter)
  } catch {
    return 'its compressed bytes are damaged'
  }
  return { bytes: target, stride }
}
