/**
 * Unpacks a ZIP within limits. Source: PKWARE APPNOTE 6.3 as far as fflate reads it (stored and deflated
 * entries). Sizes are checked before anything is unpacked and again while it is unpacked, since the sizes
 * that a ZIP states may lie.
 */
import { firstLetters } from '../../base/bytes/text.ts'
import { unzipSync } from 'fflate'
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages, KelboError } from '../../base/messages/collector.ts'
import { crc32 } from '../../base/bytes/crc32.ts'
import type { PackageFile } from './package-file.ts'
import { zipChecksums } from './zip-directory.ts'

export interface ZipLimits {
  /** Bytes of all entries together, unpacked. */
  readonly unpackedBytes: number
  readonly entryCount: number
}

export const ZIP_LIMITS_DEFAULTS: ZipLimits = { unpackedBytes: 2 * 2 ** 30, entryCount: 10000 }

const readableSize = (bytes: number): string =>
  bytes >= 2 ** 30 ? `${+(bytes / 2 ** 30).toFixed(1)} GB` : `${+(bytes / 2 ** 20).toFixed(1)} MB`

/** How far deflate can shrink at the most (about 1032:1); a stated size beyond it is a lie. */
const MOST_RATIO = 1040

/** By its first bytes; names don't tell. */
export const isZip = (file: PackageFile): boolean =>
  file.bytes[0] === 0x50 && file.bytes[1] === 0x4b && (file.bytes[2] === 3 || file.bytes[2] === 5)

/**
 * @throws KelboError `zip.broken`, `zip.too-large`, `zip.too-many`. Entries whose names lead outside the
 * package, and those that can't be unpacked, are left out with a finding.
 */
export function readZip(
  file: PackageFile,
  limits: ZipLimits = ZIP_LIMITS_DEFAULTS,
): { files: PackageFile[]; findings: Finding[] } {
  const messages = collectMessages(file.name)
  const files: PackageFile[] = []
  let stated = 0
  let entries = 0
  interface Entry {
    name: string
    ordinal: number
    /** Bytes that it is said to have. */
    size: number
  }
  const wanted: Entry[] = []
  const tooLarge = (): KelboError =>
    new KelboError('zip.too-large', { limit: readableSize(limits.unpackedBytes) }, file.name)
  try {
    // the directory is walked without unpacking anything
    unzipSync(file.bytes, {
      filter: (entry) => {
        entries++
        if (entries > limits.entryCount)
          throw new KelboError('zip.too-many', { limit: limits.entryCount }, file.name)
        if (entry.name.endsWith('/')) return false
        const parts = entry.name.replace(/\\/g, '/').split('/')
        if (parts.includes('..') || parts[0] === '' || /^[a-z]:/i.test(entry.name)) {
          messages.add('zip.entry-outside', { entry: firstLetters(entry.name, 120) })
          return false
        }
        // what a program adds for itself is no part of the package
        if (parts[0] === '__MACOSX' || parts[parts.length - 1]!.startsWith('._')) return false
        // it can't be packed in more bytes than there are; what it unpacks to would be made up as well
        if (entry.size > file.bytes.length) {
          messages.add('zip.entry-unreadable', { entry: firstLetters(entry.name, 120) })
          return false
        }
        if (entry.originalSize > entry.size * MOST_RATIO + 4096) throw tooLarge()
        stated += entry.originalSize
        if (stated > limits.unpackedBytes) throw tooLarge()
        wanted.push({
          ordinal: entries - 1,
          size: entry.originalSize,
          name: parts.filter((part) => part !== '.').join('/'),
        })
        return false
      },
    })
  } catch (error) {
    if (error instanceof KelboError) throw error
    throw new KelboError('zip.broken', { reason: readableReason(error) }, file.name)
  }
  // fflate unpacks an entry into an array of its stated size and no further, so the sum above bounds memory
  const unpack = (ordinals: ReadonlyMap<number, string>): PackageFile[] => {
    let ordinal = -1
    const names: string[] = []
    const contents = unzipSync(file.bytes, {
      filter: (entry) => {
        ordinal++
        if (!ordinals.has(ordinal)) return false
        names.push(entry.name)
        return true
      },
    })
    const cleaned = [...ordinals.values()]
    return names.map((name, index) => ({ name: cleaned[index]!, bytes: contents[name]! }))
  }
  const checksums = zipChecksums(file.bytes)
  /** Takes what is as long as it is said to be and has the checksum; tells the rest. */
  const take = (unpacked: readonly PackageFile[], entriesOf: readonly Entry[]): void => {
    unpacked.forEach((entry, at) => {
      const { ordinal, size } = entriesOf[at]!
      const isWhole = entry.bytes.length === size && (!checksums || crc32(entry.bytes) === checksums[ordinal])
      if (isWhole) files.push(entry)
      else messages.add('zip.entry-unreadable', { entry: firstLetters(entry.name, 120) })
    })
  }
  const all = new Map(wanted.map((entry) => [entry.ordinal, entry.name]))
  let together: PackageFile[] | null = null
  try {
    together = unpack(all)
  } catch {
    // one entry is damaged: take them one by one to say which
    for (const entry of wanted)
      try {
        take(unpack(new Map([[entry.ordinal, entry.name]])), [entry])
      } catch {
        messages.add('zip.entry-unreadable', { entry: firstLetters(entry.name, 120) })
      }
  }
  if (together) take(together, wanted)
  return { files, findings: messages.list() }
}

function readableReason(error: unknown): string {
  const text = error instanceof Error ? error.message : String(error)
  return /invalid zip/i.test(text) ? 'it is damaged or no ZIP' : firstLetters(text, 80)
}
