/** An operation on images, in as many threads as there are cores. */
import { availableParallelism } from 'node:os'
import type { OptionValues } from '../../core/base/options/option.ts'
import type { ImageOperation, IslandPadding } from '../../core/image/operations/operation.ts'
import { workOnImage, type ImageFile, type ImageWork } from '../../core/image/operations/work-on-image.ts'
import { builtFile } from '../built-file.ts'
import { askThreads } from './ask-threads.ts'
import { IMAGE_READER } from './image-reader.ts'

/** For a thread: what is done with which images. */
export interface ImagePiece {
  readonly operation: string
  readonly options: OptionValues
  readonly files: readonly ImageFile[]
}

/** Bytes of files below which a thread takes longer to start than it saves. */
const LEAST_BYTES = 2 ** 20
/** Each holds what one image needs. */
const MOST_THREADS = 8

export async function workOnImages(
  operation: ImageOperation,
  options: OptionValues,
  groups: readonly (readonly ImageFile[])[],
  told: (share: number) => void = () => undefined,
  islands?: IslandPadding,
): Promise<ImageWork[]> {
  const file = builtFile('work-thread.js')
  const threadCount = Math.min(MOST_THREADS, availableParallelism(), groups.length)
  const bytes = groups.flat().reduce((sum, one) => sum + one.bytes.length, 0)
  // what is asked for the islands can't go into a thread
  if (!file || threadCount < 2 || bytes < LEAST_BYTES || islands) {
    const done: ImageWork[] = []
    for (const [at, files] of groups.entries())
      done.push(
        await workOnImage(
          operation,
          options,
          files,
          IMAGE_READER,
          (share) => told((at + share) / groups.length),
          undefined,
          islands,
        ),
      )
    return done
  }
  return askThreads<ImageWork>(
    file,
    threadCount,
    groups.map((_, at) => at),
    (at) => ({ operation: operation.id, options, files: groups[at]! }) satisfies ImagePiece,
    (done, share) => told(Math.min(1, (done + share) / groups.length)),
  )
}
