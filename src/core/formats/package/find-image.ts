/** A map's image among the files of a package, tile by tile where it has tiles. */
import { tilePath, tilePattern } from '../../scene/image-tiles.ts'
import type { SceneImage } from '../../scene/scene.ts'
import { findInPackage, type PackageFile } from './package-file.ts'

/** Stands in a path for a label while its tiles are looked for; no path can hold it. */
const PLACE = '\u0000'

const escaped = (text: string): string => text.replace(/[\\^$.*+?()[\]{}|]/g, '\\$&')

/** Labels of tiles that some file of the package could be, by its name alone. */
function labelsIn(files: readonly PackageFile[], file: string, source: string): string[] {
  const name = tilePath(file, PLACE).replace(/\\/g, '/').split('/').pop()!.trim().normalize('NFC')
  if (!name.includes(PLACE)) {
    // the word stands in a folder's name
    const path = tilePath(file, PLACE).replace(/\\/g, '/')
    const part = path
      .split('/')
      .find((piece) => piece.includes(PLACE))!
      .normalize('NFC')
    const folder = new RegExp(`(?:^|/)${escaped(part).replace(PLACE, `(${source})`)}/`, 'i')
    return files.flatMap((candidate) => folder.exec(candidate.name.normalize('NFC'))?.[1] ?? [])
  }
  const pattern = new RegExp(`(?:^|/)${escaped(name).replace(PLACE, `(${source})`)}$`, 'i')
  return files.flatMap((candidate) => pattern.exec(candidate.name.normalize('NFC'))?.[1] ?? [])
}

/**
 * The image that a path in a model or material file names, as `findInPackage` looks for it. A path with a word for
 * tiles stands for all tiles that lie there; `entry` and `bytes` are then those of the first tile.
 */
export function findImage(
  files: readonly PackageFile[],
  from: string,
  file: string,
): { image: SceneImage; outside: boolean } {
  const pattern = tilePattern(file)
  if (!pattern) {
    const found = findInPackage(files, from, file)
    return {
      image: { file, entry: found.file?.name ?? null, bytes: found.file?.bytes ?? null },
      outside: found.outside,
    }
  }
  const labels = [...new Set(labelsIn(files, file, pattern.source).map((label) => label.toLowerCase()))]
  const rank = (label: string): number => {
    const { column, row } = pattern.tileOf(label)
    return row * 100000 + column
  }
  const tiles = labels
    .filter((label) => rank(label) >= 0)
    .sort((a, b) => rank(a) - rank(b))
    .flatMap((label) => {
      const found = findInPackage(files, from, tilePath(file, label)).file
      return found ? [{ label, entry: found.name, bytes: found.bytes }] : []
    })
  const [first] = tiles
  return {
    image: {
      file,
      entry: first?.entry ?? null,
      bytes: first?.bytes ?? null,
      ...(tiles.length ? { tiles } : {}),
    },
    outside: findInPackage(files, from, tilePath(file, '1001')).outside,
  }
}
