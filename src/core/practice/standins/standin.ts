/** A stand-in: a small simulated tool, one file each. Files in, files out, and what it has to say. */
import type { ZlibCodec } from '../../base/bytes/zlib.ts'
import type { PackageFile } from '../../formats/package/package-file.ts'
import type { ReadOptions } from '../../formats/registry.ts'

export type StandInValue = string | number | boolean

export type StandInParameter = {
  readonly name: string
  readonly title: string
} & (
  | { readonly type: 'boolean'; readonly default: boolean }
  | { readonly type: 'text'; readonly default: string; readonly most: number }
  | {
      readonly type: 'number'
      readonly default: number
      readonly min: number
      readonly max: number
      readonly step: number
      /** Shown as a share of a hundred. */
      readonly percent?: boolean
    }
  | {
      readonly type: 'choice'
      readonly default: string
      readonly choices: readonly { readonly value: string; readonly title: string }[]
    }
)

export interface StandInResult {
  /** The model first. */
  readonly files: readonly PackageFile[]
  readonly log: readonly string[]
}

export interface StandInContext {
  readonly value: (name: string) => StandInValue
  readonly readOptions: ReadOptions
  readonly codec: ZlibCodec | null
}

export interface StandInDescriptor {
  readonly id: string
  readonly name: string
  readonly description: string
  /** The button that sets it to work. */
  readonly action: string
  /** What it puts behind the file's name. */
  readonly suffix: string
  /** Formats that it reads, by id. */
  readonly reads: readonly string[]
  readonly parameters: readonly StandInParameter[]
  /** @param beside all files that came, the model among them. */
  readonly run: (model: PackageFile, beside: readonly PackageFile[], context: StandInContext) => StandInResult
}
