import { tilePattern } from '../../scene/image-tiles.ts'
import { emptyLike, ImageRefusal, type ImageOperation, type RowWork, type StreamedWork } from './operation.ts'
import { atOnce } from './row-work.ts'

const LABEL = /(1\d{3}|u[1-9]\d{0,3}_v[1-9]\d{0,3})(?=\.[^.]*$|$)/i
const MOST_SQUARES = 64

/** A tile's square by its name; null where the name has none. */
export function squareOf(name: string): { column: number; row: number; label: string } | null {
  const label = LABEL.exec(name)?.[1]?.toLowerCase()
  if (!label) return null
  const { tileOf } = tilePattern(label.startsWith('u') ? '<UVTILE>' : '<UDIM>')!
  return { ...tileOf(label), label }
}

const streamed: StreamedWork = function* (given, { name }, rowsAtOnce): RowWork {
  const tiles = given.map((one) => {
    const square = squareOf(one.name)
    if (!square) throw new ImageRefusal(`“${one.name}” has no number of a tile in its name.`)
    return { ...one, ...square }
  })
  const [first] = tiles
  if (!first) throw new ImageRefusal('There are no tiles.')
  const other = tiles.find(
    ({ form }) =>
      form.width !== first.form.width ||
      form.height !== first.form.height ||
      form.channels !== first.form.channels ||
      form.bits !== first.form.bits,
  )
  if (other) throw new ImageRefusal(`“${other.name}” is of another size or form than “${first.name}”.`)
  const columns = 1 + Math.max(...tiles.map(({ column }) => column))
  const rows = 1 + Math.max(...tiles.map(({ row }) => row))
  if (columns * rows > MOST_SQUARES)
    throw new ImageRefusal(`These tiles lie over ${columns * rows} squares: ${MOST_SQUARES} at most.`)
  const { width, height, channels } = first.form
  const form = { ...first.form, width: width * columns, height: height * rows }
  for (let row = rows - 1; row >= 0; row--)
    for (let done = 0; done < height;) {
      const strip = Math.min(rowsAtOnce(form), height - done)
      done += strip
      const values = emptyLike(first.form, form.width * strip * channels)
      // of two with the same number the later one lies on top
      for (const [at, tile] of tiles.entries()) {
        if (tile.row !== row) continue
        const taken = yield { take: at, rows: strip }
        for (let line = 0; line < strip; line++)
          values.set(
            taken.values.subarray(line * width * channels, (line + 1) * width * channels) as never,
            (line * form.width + tile.column * width) * channels,
          )
      }
      yield { give: String(name), form, rows: { ...form, height: strip, values } }
    }
}

export const joinTiles: ImageOperation = {
  id: 'join-tiles',
  title: 'Tiles as one image',
  description:
    'Tiles by their numbers, or by u and v, side by side in one image, from the lower left. UVs have to be divided by as many squares. Squares without a tile stay black.',
  keepsSpace: true,
  takes: 'all',
  options: [{ id: 'name', title: 'Name', kind: 'text', default: 'atlas', most: 200 }],
  streamed,
  run: atOnce(streamed),
}
