/** A thread that draws one image after another, as it is asked to. */
import { drawTile, type TileDrawing } from '../../core/surfaces/one-map/draw-tile.ts'
import { answerInThread } from './ask-threads.ts'
import { IMAGE_READER } from './image-reader.ts'

answerInThread((work: TileDrawing) => drawTile(work, IMAGE_READER))
