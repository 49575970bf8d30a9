/** What images are unpacked and packed with where this runs. */
import type { FileKind } from './file-kinds.ts'
import type { Pixels } from './pixels.ts'

export interface ImageReader {
  /** All pixels of an image, or why it has none. */
  readonly pixels: (bytes: Uint8Array) => Promise<Pixels | { readonly why: string }>
  /**
   * Pixels as a PNG file that says what they are.
   * @param isPassing it is unpacked again soon: quick goes before small.
   */
  readonly pack: (pixels: Pixels, space: 'sRGB' | 'linear', isPassing?: boolean) => Promise<Uint8Array>
}

/** The form of an image, without its values. */
export type ImageForm = Omit<Pixels, 'values'>

/** A file that is broken behind its header. */
export class BrokenRows extends Error {}

/** An image that is unpacked some rows at a time, from the top; it is never in memory as a whole. */
export interface RowReader {
  readonly form: ImageForm
  /** The next rows, fewer at the end; null behind the last. @throws BrokenRows where the file is broken there. */
  readonly next: (rowCount: number) => Promise<Pixels | null>
}

/** An image that is packed some rows at a time. */
export interface RowPacker {
  readonly add: (rows: Pixels) => Promise<void>
  /** The file, when all rows are in it. */
  readonly end: () => Promise<Uint8Array>
}

export interface RowHost {
  /** Null for a kind of file whose rows can't be had one after another. */
  readonly rows: (bytes: Uint8Array) => RowReader | null
  readonly packRows: (form: ImageForm, space: 'sRGB' | 'linear') => RowPacker
}

export interface ImageWorker extends ImageReader, RowHost {
  /** Floats as an OpenEXR file. */
  readonly packFloats: (pixels: Pixels) => Promise<Uint8Array>
  /** Pixels as a file of a kind that is asked for. */
  readonly packAs: (
    pixels: Pixels,
    space: 'sRGB' | 'linear',
    as: { readonly kind: FileKind; readonly quality: number },
  ) => Promise<Uint8Array>
}
