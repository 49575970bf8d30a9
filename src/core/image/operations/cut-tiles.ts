import { tileLabel } from '../../scene/image-tiles.ts'
import { emptyLike, ImageRefusal, type ImageOperation } from './operation.ts'

export const cutTiles: ImageOperation = {
  id: 'cut-tiles',
  title: 'One image as tiles',
  description: 'An image cut into squares from the lower left, each named by its number (1001 and on).',
  keepsSpace: true,
  takes: 'each',
  options: [
    { id: 'columns', title: 'Columns', kind: 'number', default: 2, min: 1, max: 10, whole: true },
    { id: 'rows', title: 'Rows', kind: 'number', default: 2, min: 1, max: 100, whole: true },
  ],
  run: (given, options) =>
    given.flatMap(({ name, pixels }) => {
      const [columns, rows] = [options['columns'] as number, options['rows'] as number]
      const { channels } = pixels
      const [width, height] = [pixels.width / columns, pixels.height / rows]
      if (!Number.isInteger(width) || !Number.isInteger(height))
        throw new ImageRefusal(
          `“${name}” is ${pixels.width} × ${pixels.height}: that can’t be cut into ${columns} by ${rows} without a rest.`,
        )
      return Array.from({ length: columns * rows }, (_, at) => {
        const [column, row] = [at % columns, Math.floor(at / columns)]
        const values = emptyLike(pixels, width * height * channels)
        for (let line = 0; line < height; line++) {
          const from = (((rows - 1 - row) * height + line) * pixels.width + column * width) * channels
          values.set(pixels.values.subarray(from, from + width * channels) as never, line * width * channels)
        }
        const label = tileLabel('<UDIM>', { column, row })!
        return {
          name: `${name.replace(/\.[^./]*$/, '')}.${label}`,
          pixels: { ...pixels, width, height, values },
        }
      })
    }),
}
