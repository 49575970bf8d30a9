import { ImageRefusal, mapPixels, type ImageOperation } from './operation.ts'

export const flipGreen: ImageOperation = {
  id: 'flip-green',
  title: 'Green the other way',
  description: 'Normals whose green points down become such whose green points up, and back.',
  takes: 'each',
  options: [],
  byRows: { border: 0 },
  run: (given) =>
    given.map(({ name, pixels }) => {
      if (pixels.channels < 3) throw new ImageRefusal(`“${name}” is grey: normals have three channels.`)
      return { name, pixels: mapPixels(pixels, (value, channel) => (channel === 1 ? 1 - value : value)) }
    }),
}
