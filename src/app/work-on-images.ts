/** An operation on images, as many at a time as there are cores where each is taken by itself. */
import type { OptionValues } from '../core/base/options/option.ts'
import type { PackageFile } from '../core/formats/package/package-file.ts'
import type { ImageOperation } from '../core/image/operations/operation.ts'
import type { ImageWork } from '../core/image/operations/work-on-image.ts'
import type { Scene } from '../core/scene/scene.ts'
import { carryMaps } from './carry-maps.ts'
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
  if (operation.carries && scene) return carryMaps(scene, given, options, progress, images)
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
    files: apart(done.flatMap(({ files }) => files)),
    refused: done.flatMap(({ refused }) => refused),
  }
}

/** No two under one name, as a disk takes names: `a.jpg` and `a.png` both become `a.png`. */
function apart(files: ImageWork['files']): ImageWork['files'] {
  const taken = new Set<string>()
  return files.map((file) => {
    const [, stem, ending] = /^(.*?)(\.[^./\\]*)?$/s.exec(file.name)!
    let name = file.name
    for (let number = 2; taken.has(name.toLowerCase()); number++) name = `${stem}_${number}${ending ?? ''}`
    taken.add(name.toLowerCase())
    return name === file.name ? file : { ...file, name }
  })
}
