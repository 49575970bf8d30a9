/**
 * Width and height of an image from its first bytes, without unpacking it.
 *
 * Sources: PNG (W3C, 2003), JPEG (ITU-T T.81, annex B), GIF89a, BMP, WebP (RFC 9649), TIFF 6.0, Radiance HDR,
 * OpenEXR file layout, Truevision TGA 2.0. TGA has no mark at its start, so it is tried last and only where
 * its header makes sense.
 */
export interface ImageSize {
  readonly kind: 'png' | 'jpeg' | 'gif' | 'bmp' | 'webp' | 'tiff' | 'hdr' | 'exr' | 'tga'
  readonly width: number
  readonly height: number
}

const startsWith = (bytes: Uint8Array, mark: readonly number[], at = 0): boolean =>
  mark.every((value, index) => bytes[at + index] === value)

const ascii = (text: string): number[] => [...text].map((letter) => letter.charCodeAt(0))

/** @returns null where the bytes are no image that is known, or end before their size is told. */
export function readImageSize(bytes: Uint8Array): ImageSize | null {
  const size = detect(bytes)
  return size && size.width > 0 && size.height > 0 ? size : null
}

function detect(bytes: Uint8Array): ImageSize | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const has = (length: number): boolean => bytes.length >= length
  if (startsWith(bytes, [0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]))
    return has(24) ? { kind: 'png', width: view.getUint32(16), height: view.getUint32(20) } : null
  if (startsWith(bytes, [0xff, 0xd8])) return readJpeg(view)
  if (startsWith(bytes, ascii('GIF8')))
    return has(10) ? { kind: 'gif', width: view.getUint16(6, true), height: view.getUint16(8, true) } : null
  if (startsWith(bytes, ascii('BM')) && has(26))
    return { kind: 'bmp', width: view.getInt32(18, true), height: Math.abs(view.getInt32(22, true)) }
  if (startsWith(bytes, ascii('RIFF')) && startsWith(bytes, ascii('WEBP'), 8)) return readWebp(bytes, view)
  if (startsWith(bytes, [0x49, 0x49, 42, 0]) || startsWith(bytes, [0x4d, 0x4d, 0, 42])) return readTiff(view)
  if (startsWith(bytes, ascii('#?'))) return readHdr(bytes)
  if (startsWith(bytes, [0x76, 0x2f, 0x31, 0x01])) return readExr(bytes, view)
  return readTga(bytes, view)
}

function readJpeg(view: DataView): ImageSize | null {
  let at = 2
  while (at + 9 < view.byteLength) {
    if (view.getUint8(at) !== 0xff) return null
    const marker = view.getUint8(at + 1)
    if (marker === 0xff) {
      at++
      continue
    }
    // start of frame, but for the tables that share its range
    if (marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc)
      return { kind: 'jpeg', height: view.getUint16(at + 5), width: view.getUint16(at + 7) }
    at += 2 + view.getUint16(at + 2)
  }
  return null
}

function readWebp(bytes: Uint8Array, view: DataView): ImageSize | null {
  if (bytes.length < 30) return null
  if (startsWith(bytes, ascii('VP8X'), 12)) {
    const three = (at: number): number => bytes[at]! | (bytes[at + 1]! << 8) | (bytes[at + 2]! << 16)
    return { kind: 'webp', width: three(24) + 1, height: three(27) + 1 }
  }
  if (startsWith(bytes, ascii('VP8L'), 12)) {
    const bits = view.getUint32(21, true)
    return { kind: 'webp', width: (bits & 0x3fff) + 1, height: ((bits >>> 14) & 0x3fff) + 1 }
  }
  if (startsWith(bytes, ascii('VP8 '), 12))
    return {
      kind: 'webp',
      width: view.getUint16(26, true) & 0x3fff,
      height: view.getUint16(28, true) & 0x3fff,
    }
  return null
}

function readTiff(view: DataView): ImageSize | null {
  const little = view.getUint8(0) === 0x49
  if (view.byteLength < 10) return null
  const start = view.getUint32(4, little)
  if (start + 2 > view.byteLength) return null
  let width = 0
  let height = 0
  const entries = view.getUint16(start, little)
  for (let entry = 0; entry < entries; entry++) {
    const at = start + 2 + 12 * entry
    if (at + 12 > view.byteLength) break
    const value =
      view.getUint16(at + 2, little) === 3 ? view.getUint16(at + 8, little) : view.getUint32(at + 8, little)
    if (view.getUint16(at, little) === 256) width = value
    if (view.getUint16(at, little) === 257) height = value
  }
  return width && height ? { kind: 'tiff', width, height } : null
}

function readHdr(bytes: Uint8Array): ImageSize | null {
  const text = String.fromCharCode(...bytes.subarray(0, 4096))
  const found = /\n[-+]Y (\d+) [-+]X (\d+)\n/.exec(text)
  return found ? { kind: 'hdr', width: Number(found[2]), height: Number(found[1]) } : null
}

function readExr(bytes: Uint8Array, view: DataView): ImageSize | null {
  let at = 8
  const textEnd = (from: number): number => {
    const end = bytes.indexOf(0, from)
    return end < 0 ? bytes.length : end
  }
  while (at < bytes.length && bytes[at] !== 0) {
    const nameEnd = textEnd(at)
    const name = String.fromCharCode(...bytes.subarray(at, nameEnd))
    const typeEnd = textEnd(nameEnd + 1)
    if (typeEnd + 5 > bytes.length) return null
    const size = view.getUint32(typeEnd + 1, true)
    const value = typeEnd + 5
    if (name === 'dataWindow' && value + 16 <= bytes.length)
      return {
        kind: 'exr',
        width: view.getInt32(value + 8, true) - view.getInt32(value, true) + 1,
        height: view.getInt32(value + 12, true) - view.getInt32(value + 4, true) + 1,
      }
    at = value + size
  }
  return null
}

function readTga(bytes: Uint8Array, view: DataView): ImageSize | null {
  if (bytes.length < 18) return null
  const kinds = [1, 2, 3, 9, 10, 11]
  const depths = [8, 15, 16, 24, 32]
  if (bytes[1]! > 1 || !kinds.includes(bytes[2]!) || !depths.includes(bytes[16]!)) return null
  return { kind: 'tga', width: view.getUint16(12, true), height: view.getUint16(14, true) }
}
