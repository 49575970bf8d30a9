import { decodeLatin1 } from '../../base/bytes/text.ts'

/** Rows of one chunk by the number of its compression: none, rle, zips, zip, piz, pxr24, b44, b44a, dwaa, dwab. */
const ROWS = [1, 1, 1, 16, 32, 16, 32, 32, 32, 256] as const
const MOST_ATTRIBUTES = 500

/**
 * Whether an OpenEXR file of one flat part has all that its header promises: every attribute, and every chunk within the
 * file. Loaders that trust the header go on reading behind the end of a file that was cut off. Source: OpenEXR file
 * layout (Academy Software Foundation).
 */
export function isWholeExr(bytes: Uint8Array): boolean {
  if (bytes.length < 16) return false
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (view.getUint32(0, true) !== 20000630) return false
  const flags = view.getUint32(4, true)
  // deep data and several parts are of another layout
  if (flags & 0x1800) return false
  const isTiled = (flags & 0x200) !== 0
  let at = 8
  const text = (): string | null => {
    const end = bytes.indexOf(0, at)
    if (end < 0 || end - at > 255) return null
    const found = decodeLatin1(bytes, at, end)
    at = end + 1
    return found
  }
  let compression = -1
  let window: readonly [number, number, number, number] | null = null
  let tile: readonly [number, number, number] | null = null
  for (let count = 0; ; count++) {
    const name = text()
    if (name === null || count > MOST_ATTRIBUTES) return false
    if (name === '') break
    if (text() === null || at + 4 > bytes.length) return false
    const size = view.getUint32(at, true)
    at += 4
    if (size > bytes.length - at) return false
    if (name === 'compression' && size === 1) compression = bytes[at]!
    if (name === 'dataWindow' && size === 16)
      window = [0, 4, 8, 12].map((byte) => view.getInt32(at + byte, true)) as unknown as [
        number,
        number,
        number,
        number,
      ]
    if (name === 'tiles' && size === 9)
      tile = [view.getUint32(at, true), view.getUint32(at + 4, true), bytes[at + 8]!]
    at += size
  }
  const rows = ROWS[compression]
  if (!window || rows === undefined) return false
  const [width, height] = [window[2] - window[0] + 1, window[3] - window[1] + 1]
  if (width <= 0 || height <= 0 || width * height > 2 ** 28) return false
  if (isTiled && (!tile || tile[0] === 0 || tile[1] === 0)) return false
  // of several levels the first has to be there
  const chunks = isTiled
    ? Math.ceil(width / tile![0]) * Math.ceil(height / tile![1])
    : Math.ceil(height / rows)
  if (chunks * 8 > bytes.length - at) return false
  const head = isTiled ? 20 : 8
  for (let chunk = 0; chunk < chunks; chunk++) {
    const offset = view.getUint32(at + 8 * chunk, true) + view.getUint32(at + 8 * chunk + 4, true) * 2 ** 32
    if (offset < at || offset + head > bytes.length) return false
    if (view.getUint32(offset + head - 4, true) > bytes.length - offset - head) return false
  }
  return true
}
