/** CRC-32 as ZIP, PNG and gzip have it. Source: ISO 3309, polynomial 0xedb88320 (reflected). */
const TABLE = Uint32Array.from({ length: 256 }, (_value, byte) => {
  let rest = byte
  for (let bit = 0; bit < 8; bit++) rest = rest & 1 ? (rest >>> 1) ^ 0xedb88320 : rest >>> 1
  return rest
})

/** The checksum of all bytes, as an unsigned number. */
export function crc32(bytes: Uint8Array): number {
  let rest = 0xffffffff
  for (let at = 0; at < bytes.length; at++) rest = TABLE[(rest ^ bytes[at]!) & 255]! ^ (rest >>> 8)
  return (rest ^ 0xffffffff) >>> 0
}
