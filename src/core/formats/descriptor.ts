/** What a format tells of itself; everything outside its folder reads this and never names it. */
import type { ZlibCodec } from '../base/bytes/zlib.ts'
import type { CatalogueEntry, Finding } from '../base/messages/catalogue.ts'
import type { OptionDescriptor, OptionValues } from '../base/options/option.ts'
import type { Scene, Space } from '../scene/scene.ts'
import type { PackageFile } from './package/package-file.ts'

/** Options of reading and writing by their ids; a format takes those it knows. */
export type FormatOptions = Readonly<Record<string, unknown>>

/** Lets other threads read pieces of a file, from the last on, while this one reads from the first on. */
export interface PieceReader {
  /** Into how many pieces a file of so many bytes is best cut; 1: it is read in one go. */
  readonly piecesFor: (byteLength: number) => number
  readonly begin: (
    format: string,
    pieces: readonly Uint8Array[],
  ) => {
    /** What the format's `readPiece` made of a piece in another thread; null: it is to be read here. */
    readonly take: (piece: number) => unknown
    readonly end: () => void
  }
}

/** Decoders of compressed geometry, as their authors publish them; they throw on damaged bytes. */
export interface GeometryDecoders {
  /** EXT_meshopt_compression. @param target count x stride bytes. */
  readonly meshopt?: (
    target: Uint8Array,
    count: number,
    stride: number,
    bytes: Uint8Array,
    mode: string,
    filter: string,
  ) => void
  /**
   * KHR_draco_mesh_compression. @param widths numbers an element has, by the compressed attribute's own number.
   * @returns three vertices a triangle, and the values of each attribute, closely packed.
   */
  readonly draco?: (
    bytes: Uint8Array,
    widths: ReadonlyMap<number, number>,
  ) => { indices: Uint32Array; vertexCount: number; values: ReadonlyMap<number, Float64Array> }
}

/** What readers are given by the host. */
export interface ReadingHost {
  readonly decoders?: GeometryDecoders | null
  readonly codec?: ZlibCodec | null
  readonly pieces?: PieceReader | null
}

/** How files are read, whatever their formats. */
export type ReadOptions = FormatOptions &
  ReadingHost & {
    /** What is assumed of a file of a format, by the format's id, where nothing else is said. */
    readonly assumed?: Readonly<Record<string, FormatOptions>>
  }

/** What leaves of a scene and how, whatever the format. */
export type WriteOptions = FormatOptions & {
  /** Node numbers to write; null: all. */
  readonly selection?: readonly number[] | null
  readonly visibleOnly?: boolean
  /** Makes everything larger by this. */
  readonly scale?: number
  readonly codec?: ZlibCodec | null
}

export interface FormatDescriptor {
  /** The folder's name. */
  readonly id: string
  readonly name: string
  /** Endings of its files, in small letters with the dot; the first is the one that is written. */
  readonly endings: readonly string[]
  /** The ending of a file that is written with given options, where it is not always the first. */
  readonly endingFor?: (options: FormatOptions) => string
  /** Endings of files that lie beside a model of this format and belong to it, other than images. */
  readonly besideEndings: readonly string[]
  /** False: its points are in the world, so a part's own space is known through the master only. */
  readonly hasTransforms: boolean
  /** Traits that the format has words for, as far as one file goes, by their ids. */
  readonly carries: readonly string[]
  /** What the artist is told of the format where it may be chosen. */
  readonly line: string
  readonly readOptions: readonly OptionDescriptor[]
  readonly writeOptions: readonly OptionDescriptor[]
  readonly messages: Readonly<Record<string, CatalogueEntry>>
  /** @param options of `readOptions`; what is left out takes its default. */
  readonly read: (
    file: PackageFile,
    beside: readonly PackageFile[],
    options: FormatOptions & ReadingHost,
  ) => {
    scene: Scene
    findings: readonly Finding[]
    /** Other model files of the package that it took in; they are no models of their own. */
    taken?: readonly string[]
  }
  /** Reads a part of a file apart from the others, in another thread: plain values and typed arrays. */
  readonly readPiece?: (bytes: Uint8Array) => unknown
  /** @param options of `writeOptions`; what is left out takes its default. */
  readonly write: (
    scene: Scene,
    fileName: string,
    options: WriteOptions,
  ) => { files: readonly PackageFile[]; findings: readonly Finding[]; space: Space }
  /** Options that understand a file that was written in a space with given options. */
  readonly readBack: (space: Space, options: FormatOptions) => OptionValues
}
