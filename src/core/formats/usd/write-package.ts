/** Files as one package: a ZIP of what is not packed, each file on a multiple of 64 bytes. Source: OpenUSD, “Usdz file format specification”. */
import { crc32 } from '../../base/bytes/crc32.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import type { PackageFile } from '../package/package-file.ts'

const ALIGNED = 64
const LOCAL = 30
const CENTRAL = 46
const END = 22
/** 1 January 1980, so that the same files give the same bytes. */
const DATE = 0x21
/** Names are UTF-8. */
const FLAGS = 0x800

/** @param files the model first. Together at most 4 GB. */
export function writeUsdPackage(files: readonly PackageFile[]): Uint8Array {
  const names = files.map(({ name }) => encodeUtf8(name))
  let at = 0
  const places = files.map(({ bytes }, index) => {
    const header = at
    const bare = header + LOCAL + names[index]!.length
    // an extra field has a head of four bytes
    let padding = (ALIGNED - (bare % ALIGNED)) % ALIGNED
    if (padding > 0 && padding < 4) padding += ALIGNED
    at = bare + padding + bytes.length
    return { header, padding, checksum: crc32(bytes) }
  })
  const directory = at
  const size = names.reduce((sum, name) => sum + CENTRAL + name.length, 0)
  const out = new Uint8Array(directory + size + END)
  const view = new DataView(out.buffer)
  /** What both headers share, from the flags on. */
  const common = (place: number, index: number, extra: number): void => {
    const { length } = files[index]!.bytes
    view.setUint16(place, FLAGS, true)
    view.setUint16(place + 2, 0, true)
    view.setUint16(place + 4, 0, true)
    view.setUint16(place + 6, DATE, true)
    view.setUint32(place + 8, places[index]!.checksum, true)
    view.setUint32(place + 12, length, true)
    view.setUint32(place + 16, length, true)
    view.setUint16(place + 20, names[index]!.length, true)
    view.setUint16(place + 22, extra, true)
  }
  let entry = directory
  files.forEach(({ bytes }, index) => {
    const { header, padding } = places[index]!
    const name = names[index]!
    view.setUint32(header, 0x04034b50, true)
    view.setUint16(header + 4, 20, true)
    common(header + 6, index, padding)
    out.set(name, header + LOCAL)
    const field = header + LOCAL + name.length
    if (padding > 0) {
      view.setUint16(field, 0x1986, true)
      view.setUint16(field + 2, padding - 4, true)
    }
    out.set(bytes, field + padding)
    view.setUint32(entry, 0x02014b50, true)
    view.setUint16(entry + 4, 20, true)
    view.setUint16(entry + 6, 20, true)
    common(entry + 8, index, 0)
    view.setUint32(entry + 42, header, true)
    out.set(name, entry + CENTRAL)
    entry += CENTRAL + name.length
  })
  view.setUint32(entry, 0x06054b50, true)
  view.setUint16(entry + 8, files.length, true)
  view.setUint16(entry + 10, files.length, true)
  view.setUint32(entry + 12, size, true)
  view.setUint32(entry + 16, directory, true)
  return out
}
