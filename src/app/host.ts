import type { ZlibCodec } from '../core/base/bytes/zlib.ts'
import type { PieceReader } from '../core/formats/descriptor.ts'

/** What the place where use cases run has to offer. */
export interface Host {
  readonly codec: ZlibCodec | null
  readonly pieces: PieceReader | null
}

export const BARE_HOST: Host = { codec: null, pieces: null }

/** Told the share done (0 to 1) and the words of what is being done. */
export type Progress = (share: number, stage: string) => void

export const QUIET: Progress = () => {}
