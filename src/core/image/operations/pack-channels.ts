import { fullScale } from '../pixels.ts'
import { emptyLike, ImageRefusal, stepOf, type ImageOperation } from './operation.ts'

export const packChannels: ImageOperation = {
  id: 'pack-channels',
  title: 'Several into one',
  description:
    'The first channel of two to four images as red, green, blue and opacity of one, in the order they are given. All are of one size.',
  takes: 'all',
  options: [{ id: 'name', title: 'Name', kind: 'text', default: 'packed', most: 200 }],
  byRows: { border: 0 },
  run: (given, { name }) => {
    if (given.length < 2 || given.length > 4)
      throw new ImageRefusal(`Two to four images are packed into one, not ${given.length}.`)
    const [first] = given
    const { width, height } = first!.pixels
    const other = given.find(({ pixels }) => pixels.width !== width || pixels.height !== height)
    if (other)
      throw new ImageRefusal(
        `“${other.name}” is ${other.pixels.width} × ${other.pixels.height}, “${first!.name}” ${width} × ${height}: resize one of them first.`,
      )
    const bits = Math.max(...given.map(({ pixels }) => pixels.bits)) as 8 | 16 | 32
    // two are the red and green of three
    const channels = Math.max(3, given.length) as 3 | 4
    const values = emptyLike({ bits }, width * height * channels)
    given.forEach(({ pixels }, channel) => {
      const full = fullScale(pixels)
      for (let at = 0; at < width * height; at++)
        values[at * channels + channel] = stepOf(pixels.values[at * pixels.channels]! / full, { bits })
    })
    return [{ name: String(name), pixels: { width, height, channels, bits, values } }]
  },
}
