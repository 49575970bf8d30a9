import type { ZlibCodec } from '../core/base/bytes/zlib.ts'
import type { PieceReader } from '../core/formats/descriptor.ts'
import type { PackageFile } from '../core/formats/package/package-file.ts'
import type { Pixels } from '../core/image/pixels.ts'
import type { SceneImage } from '../core/scene/scene.ts'
import type { PlannedMap } from '../core/surfaces/remap/plan-maps.ts'
import type { ImageFacts } from '../core/surfaces/remap/remap-scene.ts'

/** Images: what they say of themselves, and new ones of their channels. */
export interface ImageHost {
  readonly facts: (files: readonly PackageFile[], told: (share: number) => void) => Promise<ImageFacts[]>
  /** @param bytesOf a file's bytes by its path; null where there is none. */
  readonly make: (
    plan: readonly PlannedMap[],
    names: readonly string[],
    bytesOf: (file: string) => Uint8Array | null,
    told: (share: number) => void,
  ) => Promise<MadeMaps>
  /** All pixels of an image, or why it has none. */
  readonly pixels: (bytes: Uint8Array) => Promise<Pixels | { readonly why: string }>
  /** Pixels as a PNG file that says what they are. */
  readonly pack: (pixels: Pixels, space: 'sRGB' | 'linear') => Promise<Uint8Array>
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
  /** Null where images can't be unpacked. */
  readonly images: ImageHost | null
}

export const BARE_HOST: Host = { codec: null, pieces: null, images: null }

/** Told the share done (0 to 1) and the words of what is being done. */
export type Progress = (share: number, stage: string) => void

export const QUIET: Progress = () => {}
