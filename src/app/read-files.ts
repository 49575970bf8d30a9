import type { Finding } from '../core/base/messages/catalogue.ts'
import type { ReadOptions } from '../core/formats/descriptor.ts'
import type { PackageFile } from '../core/formats/package/package-file.ts'
import { readPackage, readPackageEach } from '../core/formats/package/read-package.ts'
import type { ZipLimits } from '../core/formats/package/read-zip.ts'
import type { Scene } from '../core/scene/scene.ts'
import { BARE_HOST, QUIET, type Host, type Progress } from './host.ts'

export interface ReadRequest {
  readonly files: readonly PackageFile[]
  readonly options: ReadOptions
  readonly limits?: ZipLimits
}

/** Files as one scene. @throws KelboError as `readPackage` does. */
export function readFiles(
  { files, options, limits }: ReadRequest,
  progress: Progress = QUIET,
  { codec, pieces, decoders }: Host = BARE_HOST,
): { scene: Scene; findings: readonly Finding[] } {
  progress(0.02, 'Reading')
  return readPackage(files, { ...options, codec, pieces, decoders }, limits, (share) =>
    progress(0.02 + share * 0.95, 'Reading'),
  )
}

/** Files as a scene for each model among them. @throws KelboError as `readPackageEach` does. */
export function readEach(
  { files, options, limits }: ReadRequest,
  progress: Progress = QUIET,
  { codec, pieces, decoders }: Host = BARE_HOST,
): ReturnType<typeof readPackageEach> {
  progress(0.02, 'Reading')
  return readPackageEach(files, { ...options, codec, pieces, decoders }, limits, (share) =>
    progress(0.02 + share * 0.95, 'Reading'),
  )
}
