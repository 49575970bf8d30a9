/** Work that asks for rows as it needs them and gives what is ready, done on images that are in memory. */
import type { Pixels } from '../pixels.ts'
import { emptyLike, type ImageOperation, type NamedPixels, type StreamedWork } from './operation.ts'

export const rowsOf = (pixels: Pixels, from: number, to: number): Pixels => {
  const line = pixels.width * pixels.channels
  return { ...pixels, height: to - from, values: pixels.values.subarray(from * line, to * line) }
}

export const atOnce =
  (streamed: StreamedWork): ImageOperation['run'] =>
  (given, options) => {
    const work = streamed(
      given.map(({ name, pixels: { width, height, channels, bits } }) => ({
        name,
        form: { width, height, channels, bits },
      })),
      options,
      ({ height }) => height,
    )
    const taken = given.map(() => 0)
    const made = new Map<string, { pixels: Pixels; row: number }>()
    for (let step = work.next(); !step.done;) {
      const asked = step.value
      if ('take' in asked) {
        const { pixels } = given[asked.take]!
        const from = taken[asked.take]!
        const to = Math.min(pixels.height, from + asked.rows)
        taken[asked.take] = to
        step = work.next(rowsOf(pixels, from, to))
        continue
      }
      const { give, form, rows } = asked
      const own = made.get(give) ?? {
        pixels: { ...form, values: emptyLike(rows, form.width * form.height * form.channels) },
        row: 0,
      }
      own.pixels.values.set(rows.values as never, own.row * form.width * form.channels)
      own.row += rows.height
      made.set(give, own)
      step = work.next()
    }
    return [...made].map(([name, { pixels }]): NamedPixels => ({ name, pixels }))
  }
