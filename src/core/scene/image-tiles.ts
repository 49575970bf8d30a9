/**
 * Maps that are cut into tiles: one image for each unit square of the UVs, under one name with a word in it that each
 * tile's own label stands for.
 *
 * Source: USD (AssetPath of UsdUVTexture, `<UDIM>`: 1001 + column + 10 x row, columns 0 to 9) and MaterialX 1.38
 * ("Filename Substitutions": `<UDIM>` and `<UVTILE>`, the latter `u1_v1` for the unit square), from memory.
 */
import type { SceneImage } from './scene.ts'

/** A square of the UVs by the whole numbers at its lower left corner. */
export interface UvTile {
  readonly column: number
  readonly row: number
}

const WORD = /<(UDIM|UVTILE)>/

/** Whether a path names a map by tiles. */
export const isTiled = (file: string): boolean => WORD.test(file)

/** The label of a tile under the word that a path has; null where it has none for this tile, or names no tiles. */
export function tileLabel(file: string, { column, row }: UvTile): string | null {
  const word = WORD.exec(file)?.[1]
  if (word === 'UVTILE') return column >= 0 && row >= 0 ? `u${column + 1}_v${row + 1}` : null
  const number = 1001 + column + 10 * row
  return word === 'UDIM' && column >= 0 && column < 10 && row >= 0 && number <= 9999 ? String(number) : null
}

/** The path of one tile. */
export const tilePath = (file: string, label: string): string => file.replace(WORD, label)

/** What a tile's label may be, and what it means. */
export interface TilePattern {
  /** Fits what may stand in place of the word. */
  readonly source: string
  readonly tileOf: (label: string) => UvTile
}

/** How the tiles that a path names are labelled; null where it names one image. */
export function tilePattern(file: string): TilePattern | null {
  const word = WORD.exec(file)?.[1]
  if (word === 'UDIM')
    return {
      source: '[1-9]\\d{3}',
      tileOf: (label) => ({
        column: (Number(label) - 1001) % 10,
        row: Math.floor((Number(label) - 1001) / 10),
      }),
    }
  if (word === 'UVTILE')
    return {
      source: 'u[1-9]\\d{0,3}_v[1-9]\\d{0,3}',
      tileOf: (label) => {
        const [column, row] = label.slice(1).split('_v').map(Number)
        return { column: column! - 1, row: row! - 1 }
      },
    }
  return null
}

/** One image file of a map: its path as the map names it, and what lies there. */
export interface ImageFile {
  readonly path: string
  readonly label: string | null
  readonly bytes: Uint8Array
}

/** All files that a map consists of: its tiles, or the one image; none where it is missing. */
export function imageFiles(image: SceneImage | undefined): ImageFile[] {
  if (!image) return []
  if (image.tiles)
    return image.tiles.map(({ label, bytes }) => ({ path: tilePath(image.file, label), label, bytes }))
  return image.bytes ? [{ path: image.file, label: null, bytes: image.bytes }] : []
}
