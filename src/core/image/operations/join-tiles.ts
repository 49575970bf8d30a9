import { tilePattern } from '../../scene/image-tiles.ts'
import { emptyLike, ImageRefusal, type ImageOperation } from './operation.ts'

const LABEL = /(1\d{3}|u[1-9]\d{0,3}_v[1-9]\d{0,3})(?=\.[^.]*$|$)/i
const MOST_SQUARES = 64

/** A tile's square by its name; null where the name has none. */
export function squareOf(name: string): { column: number; row: number; label: string } | null {
  const label = LABEL.exec(name)?.[1]?.toLowerCase()
  if (!label) return null
  const { tileOf } = tilePattern(label.startsWith('u') ? '<UVTILE>' : '<UDIM>')!
  return { ...tileOf(label), label }
}

export const joinTiles: ImageOperation = {
  id: 'join-tiles',
  title: 'Tiles as one image',
  description:
    'Tiles by their numbers, or by u and v, side by side in one image, from the lower left. UVs have to be divided by as many squares. Squares without a tile stay black.',
  keepsSpace: true,
  takes: 'all',
  options: [{ id: 'name', title: 'Name', kind: 'text', default: 'atlas', most: 200 }],
  run: (given, { name }) => {
    const tiles = given.map((one) => {
      const square = squareOf(one.name)
      if (!square) throw new ImageRefusal(`“${one.name}” has no number of a tile in its name.`)
      return { ...one, ...square }
    })
    const [first] = tiles
    if (!first) throw new ImageRefusal('There are no tiles.')
    const other = tiles.find(
      ({ pixels }) =>
        pixels.width !== first.pixels.width ||
        pixels.height !== first.pixels.height ||
        pixels.channels !== first.pixels.channels ||
        pixels.bits !== first.pixels.bits,
    )
    if (other) throw new ImageRefusal(`“${other.name}” is of another size or form than “${first.name}”.`)
    const columns = 1 + Math.max(...tiles.map(({ column }) => column))
    const rows = 1 + Math.max(...tiles.map(({ row }) => row))
    if (columns * rows > MOST_SQUARES)
      throw new ImageRefusal(`These tiles lie over ${columns * rows} squares: ${MOST_SQUARES} at most.`)
    const { width, height, channels } = first.pixels
    const [allWidth, allHeight] = [width * columns, height * rows]
    const values = emptyLike(first.pixels, allWidth * allHeight * channels)
    for (const { pixels, column, row } of tiles)
      for (let line = 0; line < height; line++) {
        const to = ((rows - 1 - row) * height + line) * allWidth + column * width
        values.set(
          pixels.values.subarray(line * width * channels, (line + 1) * width * channels) as never,
          to * channels,
        )
      }
    return [{ name: String(name), pixels: { ...first.pixels, width: allWidth, height: allHeight, values } }]
  },
}
