import { zipSync } from 'fflate'
import type { PackageFile } from './package-file.ts'

/** Packs files; the same files give the same bytes (entries carry a fixed date). */
export function writeZip(files: readonly PackageFile[]): Uint8Array {
  const entries: Record<string, [Uint8Array, { level: 0 | 6; mtime: Date }]> = {}
  // images are compressed already
  for (const file of files)
    entries[file.name] = [
      file.bytes,
      { level: /\.(png|jpe?g|webp)$/i.test(file.name) ? 0 : 6, mtime: new Date(2000, 0, 1) },
    ]
  return zipSync(entries)
}
