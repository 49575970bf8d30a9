import type { ZlibCodec } from '../core/base/bytes/zlib.ts'
import type { GeometryDecoders, PieceReader } from '../core/formats/descriptor.ts'
import type { PackageFile } from '../core/formats/package/package-file.ts'
import type { PackedScene } from '../core/scene/pack-scene.ts'
import type { SceneImage } from '../core/scene/scene.ts'
import type { ListedFacts } from '../core/view/listed-facts.ts'
import type { OptionValues } from '../core/base/options/option.ts'
import type { ImageForm, ImageReader, RowPacker } from '../core/image/image-reader.ts'
import type { ImageOperation, IslandPadding } from '../core/image/operations/operation.ts'
import type { ImageFile, ImageWork } from '../core/image/operations/work-on-image.ts'
import type { DrawnTile, TileDrawing } from '../core/surfaces/one-map/draw-tile.ts'
import type { PlannedMap } from '../core/surfaces/remap/plan-maps.ts'
import type { ImageFacts } from '../core/surfaces/remap/remap-scene.ts'

/** Images: what they say of themselves, and new ones of their channels. */
export interface ImageHost extends ImageReader {
  readonly facts: (files: readonly PackageFile[], told: (share: number) => void) => Promise<ImageFacts[]>
  /** @param bytesOf a file's bytes by its path; null where there is none. */
  readonly make: (
    plan: readonly PlannedMap[],
    names: readonly string[],
    bytesOf: (file: string) => Uint8Array | null,
    told: (share: number) => void,
  ) => Promise<MadeMaps>
  /** An image small enough for a look, `largest` pixels on its longer side at most; null where it can't be read. */
  readonly shrink: (bytes: Uint8Array, largest: number) => Promise<Uint8Array | null>
  /** An operation on each group of images, as many groups at a time as there are cores. */
  readonly work: (
    operation: ImageOperation,
    options: OptionValues,
    groups: readonly (readonly ImageFile[])[],
    told: (share: number) => void,
    islands?: IslandPadding,
  ) => Promise<ImageWork[]>
  /** Images of one map for all, as many at a time as there are cores. */
  readonly draw: (work: readonly TileDrawing[], told: (share: number) => void) => Promise<DrawnTile[]>
  /** A PNG file, some rows at a time. */
  readonly packRows: (form: ImageForm, space: 'sRGB' | 'linear') => Promise<RowPacker>
}

export interface MadeMaps {
  readonly images: readonly SceneImage[]
  /** Images that could not be made, and why. */
  readonly failed: readonly { readonly path: string; readonly why: string }[]
}

/** What the place where use cases run has to offer. */
export interface Host {
  readonly codec: ZlibCodec | null
  readonly pieces: PieceReader | null
  /** Begins to work out a large scene's facts on another thread; see `beginFacts`. */
  readonly facts: ((scene: PackedScene, isPictured: boolean) => (() => ListedFacts | null) | null) | null
  /** Of compressed geometry; null: files that hold such are told of. */
  readonly decoders: GeometryDecoders | null
  /** Null where images can't be unpacked. */
  readonly images: ImageHost | null
}

export const BARE_HOST: Host = { codec: null, pieces: null, facts: null, decoders: null, images: null }

/** Told the share done (0 to 1) and the words of what is being done. */
export type Progress = (share: number, stage: string) => void

export const QUIET: Progress = () => {}
