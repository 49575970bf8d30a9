import { tileLabel } from '../../scene/image-tiles.ts'
import {
  emptyLike,
  ImageRefusal,
  type GiveRows,
  type ImageOperation,
  type RowWork,
  type StreamedWork,
} from './operation.ts'
import { atOnce } from './row-work.ts'

const streamed: StreamedWork = function* (given, options, rowsAtOnce): RowWork {
  const [columns, rows] = [options['columns'] as number, options['rows'] as number]
  for (const [at, { name, form }] of given.entries()) {
    const { channels } = form
    const [width, height] = [form.width / columns, form.height / rows]
    if (!Number.isInteger(width) || !Number.isInteger(height))
      throw new ImageRefusal(
        `“${name}” is ${form.width} × ${form.height}: that can’t be cut into ${columns} by ${rows} without a rest.`,
      )
    const tile = (column: number, row: number, strip: number): GiveRows => ({
      give: `${name.replace(/\.[^./]*$/, '')}.${tileLabel('<UDIM>', { column, row })!}`,
      form: { ...form, width, height },
      rows: { ...form, width, height: strip, values: emptyLike(form, width * strip * channels) },
    })
    // tiles are counted from the lower left, and begin in that order; rows come from the top
    for (let row = 0; row < rows; row++)
      for (let column = 0; column < columns; column++) yield tile(column, row, 0)
    for (let row = rows - 1; row >= 0; row--)
      for (let done = 0; done < height;) {
        const strip = yield { take: at, rows: Math.min(rowsAtOnce(form), height - done) }
        done += strip.height
        for (let column = 0; column < columns; column++) {
          const part = tile(column, row, strip.height)
          for (let line = 0; line < strip.height; line++) {
            const from = (line * form.width + column * width) * channels
            part.rows.values.set(
              strip.values.subarray(from, from + width * channels) as never,
              line * width * channels,
            )
          }
          yield part
        }
      }
  }
}

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
  streamed,
  run: atOnce(streamed),
}
