/** The arrays that a scene or a ledger names, as one list of bytes instead of a row an array. */
import type { ArrayType } from '../../core/scene/pack-scene.ts'

export interface ManifestArray {
  /** SHA-256 of the array's bytes, in hexadecimal digits. */
  readonly hash: string
  readonly type: ArrayType
  /** In elements. */
  readonly length: number
}

/** 32 bytes of the hash, 4 of the length, 4 of the kind; numbers highest byte first, as the database sends them. */
const RECORD_BYTES = 40
const TYPES: readonly ArrayType[] = ['f64', 'u32', 'i32', 'u8']

export function encodeManifest(arrays: readonly ManifestArray[]): Buffer {
  const manifest = Buffer.alloc(arrays.length * RECORD_BYTES)
  arrays.forEach(({ hash, type, length }, at) => {
    const start = at * RECORD_BYTES
    manifest.write(hash, start, 32, 'hex')
    manifest.writeUInt32BE(length, start + 32)
    manifest.writeUInt32BE(TYPES.indexOf(type), start + 36)
  })
  return manifest
}

export function decodeManifest(manifest: Buffer): ManifestArray[] {
  const arrays: ManifestArray[] = []
  for (let start = 0; start + RECORD_BYTES <= manifest.length; start += RECORD_BYTES)
    arrays.push({
      hash: manifest.toString('hex', start, start + 32),
      length: manifest.readUInt32BE(start + 32),
      type: TYPES[manifest.readUInt32BE(start + 36)]!,
    })
  return arrays
}

const WIDTHS: Readonly<Record<ArrayType, number>> = { f64: 8, u32: 4, i32: 4, u8: 1 }

export const byteLengthOf = ({ type, length }: ManifestArray): number => length * WIDTHS[type]
