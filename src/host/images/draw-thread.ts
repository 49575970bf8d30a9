/** A thread that draws one image after another, as it is asked to. */
import { parentPort } from 'node:worker_threads'
import { drawTile, type TileDrawing } from '../../core/surfaces/one-map/draw-tile.ts'
import { IMAGE_READER } from './image-reader.ts'

parentPort!.on('message', (work: TileDrawing) => {
  void drawTile(work, IMAGE_READER).then(
    (answer) => parentPort!.postMessage({ answer }),
    (error: unknown) =>
      parentPort!.postMessage({ fault: error instanceof Error ? error.stack : String(error) }),
  )
})
