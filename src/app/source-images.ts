/** Images that lie here by the paths that materials name: in the folder that was given, and in the model. */
import type { PackageFile } from '../core/formats/package/package-file.ts'
import { imageFiles, tilePattern, type UvTile } from '../core/scene/image-tiles.ts'
import type { Scene } from '../core/scene/scene.ts'

export interface SourceImage {
  readonly bytes: Uint8Array
  readonly path: string
  /** Square of the UVs that it shows, and what it is called by; null: all of them. */
  readonly tile: UvTile | null
  readonly label: string | null
}

/** Files of a map by its path: one, or one a tile. */
export type SourceList = (file: string) => SourceImage[]

/** @param files go before the model's own of the same path. */
export function sourceList(files: readonly PackageFile[], scene: Scene): SourceList {
  const own = scene.images.flatMap((image) =>
    imageFiles(image).map(({ path, bytes }) => ({ name: path, bytes })),
  )
  const all = [...files, ...own]
  return (file) => {
    const pattern = tilePattern(file)
    if (!pattern) {
      const found = all.find(({ name }) => name.toLowerCase() === file.toLowerCase())
      return found ? [{ bytes: found.bytes, path: found.name, tile: null, label: null }] : []
    }
    const escaped = file
      .replace(/[\\^$.*+?()[\]{}|]/g, '\\$&')
      .replace(/<(?:UDIM|UVTILE)>/, `(${pattern.source})`)
    const fits = new RegExp(`^${escaped}$`, 'i')
    const found = new Map<string, SourceImage>()
    for (const { name, bytes } of all) {
      const label = fits.exec(name)?.[1]?.toLowerCase()
      if (label && !found.has(label))
        found.set(label, { bytes, path: name, tile: pattern.tileOf(label), label })
    }
    return [...found.values()]
  }
}
