/** Images of one map for all, in as many threads as there are cores; what they share lies in memory once. */
import { availableParallelism } from 'node:os'
import { drawTile, type DrawnTile, type TileDrawing } from '../../core/surfaces/one-map/draw-tile.ts'
import type { TileSurface } from '../../core/surfaces/one-map/drawn-surface.ts'
import { builtFile } from '../built-file.ts'
import { askThreads } from './ask-threads.ts'
import { IMAGE_READER } from './image-reader.ts'

/** Pixels of an image below which a thread takes longer to start than it saves. */
const LEAST_PIXELS = 1024 * 1024
/** Each holds an image as it is drawn, and one that is drawn from. */
const MOST_THREADS = 4

/** @throws Error where a thread ends; what can't be drawn is told in the answers. */
export async function drawTiles(
  work: readonly TileDrawing[],
  told: (share: number) => void = () => undefined,
): Promise<DrawnTile[]> {
  const file = builtFile('draw-thread.js')
  const threadCount = Math.min(MOST_THREADS, availableParallelism(), work.length)
  const isLarge = (work[0]?.size ?? 0) ** 2 >= LEAST_PIXELS
  if (!file || threadCount < 2 || !isLarge) {
    const drawn: DrawnTile[] = []
    for (const [at, one] of work.entries()) {
      told(at / work.length)
      drawn.push(await drawTile(one, IMAGE_READER))
    }
    return drawn
  }
  const surface = sharedSurface(work[0]!.surface)
  const padding = { texels: shared(work[0]!.padding.texels), from: shared(work[0]!.padding.from) }
  // what takes longest first
  const order = work.map((_, at) => at).sort((a, b) => costOf(work[b]!) - costOf(work[a]!))
  return askThreads(
    file,
    threadCount,
    order,
    (at) => ({ ...work[at]!, surface, padding }),
    (done) => told(done / work.length),
  )
}

const costOf = ({ drawing }: TileDrawing): number =>
  (drawing.kind === 'normal' ? 5 : drawing.channels) * (1 + drawing.strokes.length)

function shared<Numbers extends Uint32Array | Int32Array | Float64Array>(numbers: Numbers): Numbers {
  const copy = new (numbers.constructor as new (buffer: SharedArrayBuffer) => Numbers)(
    new SharedArrayBuffer(numbers.byteLength),
  )
  copy.set(numbers as never)
  return copy
}

const sharedSurface = (surface: TileSurface): TileSurface => ({
  ...surface,
  uvs: shared(surface.uvs),
  cover: { ...surface.cover, owners: shared(surface.cover.owners) },
  texels: new Map([...surface.texels].map(([material, texels]) => [material, shared(texels)])),
})
