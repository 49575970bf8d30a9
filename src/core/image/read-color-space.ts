/**
 * What an image says of its values: colours for the eye, or plain numbers. Source: PNG (Third Edition), W3C,
 * chunks sRGB, gAMA and cICP; JPEG files of cameras and paint tools are colours (common practice).
 */

/** @returns null where the file says nothing, or is of another kind. */
export function readColorSpace(bytes: Uint8Array): 'sRGB' | 'linear' | null {
  const mark = [0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]
  if (bytes[0] === 0xff && bytes[1] === 0xd8) return 'sRGB'
  if (!mark.every((value, at) => bytes[at] === value)) return null
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let found: 'sRGB' | 'linear' | null = null
  for (let at = 8; at + 12 <= bytes.length;) {
    const length = view.getUint32(at)
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8))
    const content = at + 8
    if (type === 'IDAT' || content + length > bytes.length) break
    if (type === 'sRGB') return 'sRGB'
    // transfer 13 is that of sRGB, 8 is linear (ITU-T H.273)
    if (type === 'cICP' && length >= 2) return bytes[content + 1] === 8 ? 'linear' : 'sRGB'
    if (type === 'gAMA' && length >= 4) found = view.getUint32(content) === 100000 ? 'linear' : 'sRGB'
    at = content + length + 4
  }
  return found
}
