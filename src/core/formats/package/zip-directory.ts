/**
 * What a ZIP's directory states of its entries. Source: PKWARE APPNOTE 6.3, sections 4.3.12 (central directory),
 * 4.3.14 (ZIP64 end), 4.3.16 (end); fflate reads the same and tells all but the checksum.
 */
const END = 0x06054b50
const END_64 = 0x06064b50
const LOCATOR_64 = 0x07064b50
const ENTRY = 0x02014b50
const END_BYTES = 22
const LONGEST_COMMENT = 65535

/** Checksums (CRC-32) in the order of the directory; null where there is no directory to be read. */
export function zipChecksums(bytes: Uint8Array): number[] | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let end = bytes.length - END_BYTES
  const least = Math.max(0, end - LONGEST_COMMENT)
  while (end >= least && view.getUint32(end, true) !== END) end--
  if (end < least || end < 0) return null
  let count = view.getUint16(end + 10, true)
  let at = view.getUint32(end + 16, true)
  const locator = end - 20
  if (
    (at === 0xffffffff || count === 0xffff) &&
    locator >= 0 &&
    view.getUint32(locator, true) === LOCATOR_64
  ) {
    const large = Number(view.getBigUint64(locator + 8, true))
    if (large + 56 > bytes.length || view.getUint32(large, true) !== END_64) return null
    count = Number(view.getBigUint64(large + 32, true))
    at = Number(view.getBigUint64(large + 48, true))
  }
  const checksums: number[] = []
  for (let entry = 0; entry < count; entry++) {
    if (at + 46 > bytes.length || view.getUint32(at, true) !== ENTRY) return null
    checksums.push(view.getUint32(at + 16, true))
    at += 46 + view.getUint16(at + 28, true) + view.getUint16(at + 30, true) + view.getUint16(at + 32, true)
  }
  return checksums
}
