/** A thread that works on one image after another, as it is asked to. */
import { imageOperation } from '../../core/image/operations/registry.ts'
import { workOnImage } from '../../core/image/operations/work-on-image.ts'
import { answerInThread } from './ask-threads.ts'
import { IMAGE_READER } from './image-reader.ts'
import type { ImagePiece } from './work-on-images.ts'

answerInThread(({ operation, options, files }: ImagePiece, told) =>
  workOnImage(imageOperation(operation)!, options, files, IMAGE_READER, told),
)
