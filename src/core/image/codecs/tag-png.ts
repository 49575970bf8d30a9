/**
 * What a PNG file says of its values, set right without touching a pixel. Source: PNG (Third Edition), W3C: chunks sRGB,
 * gAMA, cHRM, cICP and iCCP stand between IHDR and IDAT.
 */
import { COLOR_CHUNKS } from './write-png.ts'

const SAYS_COLOR: ReadonlySet<string> = new Set(['sRGB', 'gAMA', 'cHRM', 'cICP', 'iCCP'])
const MARK = [0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]

/**
 * @param space sRGB: the chunk that says so stands in it; linear: none of a colour does, so that nobody bends numbers.
 * @returns the file itself where it is no PNG, or says so already.
 */
export function tagPng(bytes: Uint8Array, space: 'sRGB' | 'linear'): Uint8Array {
  if (!MARK.every((value, at) => bytes[at] === value)) return bytes
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const parts: Uint8Array[] = [bytes.subarray(0, 8)]
  let says = ''
  let at = 8
  for (; at + 12 <= bytes.length;) {
    const length = view.getUint32(at)
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8))
    if (type === 'IDAT' || at + 12 + length > bytes.length) break
    const chunk = bytes.subarray(at, at + 12 + length)
    if (SAYS_COLOR.has(type)) says += type
    else parts.push(chunk)
    if (type === 'IHDR' && space === 'sRGB') parts.push(COLOR_CHUNKS.sRGB)
    at += 12 + length
  }
  if (says === (space === 'sRGB' ? 'sRGB' : '')) return bytes
  parts.push(bytes.subarray(at))
  const whole = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0))
  let to = 0
  for (const part of parts) {
    whole.set(part, to)
    to += part.length
  }
  return whole
}
