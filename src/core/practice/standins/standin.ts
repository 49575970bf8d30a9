/** A stand-in: a small simulated tool, one file each. Files in, files out, and what it has to say. */
import type { ZlibCodec } from '../../base/bytes/zlib.ts'
import type { OptionDescriptor, OptionValue } from '../../base/options/option.ts'
import type { PackageFile } from '../../formats/package/package-file.ts'
import type { ReadOptions } from '../../formats/descriptor.ts'

export interface StandInResult {
  /** The model first. */
  readonly files: readonly PackageFile[]
  readonly log: readonly string[]
}

export interface StandInContext {
  readonly value: (id: string) => OptionValue
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
  readonly parameters: readonly OptionDescriptor[]
  /** @param beside all files that came, the model among them. */
  readonly run: (model: PackageFile, beside: readonly PackageFile[], context: StandInContext) => StandInResult
}
