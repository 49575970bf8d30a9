/** An operation on images, as many at a time as there are cores where each is taken by itself. */
import type { OptionValues } from '../core/base/options/option.ts'
import type { PackageFile } from '../core/formats/package/package-file.ts'
import type { ImageOperation } from '../core/image/operations/operation.ts'
import type { ImageWork } from '../core/image/operations/work-on-image.ts'
import type { Scene } from '../core/scene/scene.ts'
import { islandsOf } from './islands-of.ts'
import type { ImageHost, Progress } from './host.ts'

export async function workOnImages(
  operation: ImageOperation,
  options: OptionValues,
  given: readonly PackageFile[],
  progress: Progress,
  images: ImageHost,
  scene: Scene | null = null,
): Promise<ImageWork> {
  const islands = operation.needsIslands && scene ? islandsOf(scene, String(options['set'] ?? '')) : undefined
  if (operation.needsIslands && !islands)
    return { files: [], refused: given.map(({ name }) => ({ file: name, why: 'it takes a model with UVs' })) }
  const groups = operation.takes === 'all' ? [given] : given.map((file) => [file])
  const done = await images.work(
    operation,
    options,
    groups,
    (share) => progress(share, operation.title),
    islands,
  )
  return {
    files: done.flatMap(({ files }) => files),
    refused: done.flatMap(({ refused }) => refused),
  }
}
