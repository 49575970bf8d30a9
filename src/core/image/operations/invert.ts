import { colorChannels, eachImage, mapPixels, type ImageOperation } from './operation.ts'

export const invert: ImageOperation = {
  id: 'invert',
  title: 'Turn round',
  description: 'White becomes black: a map of gloss one of roughness. Opacity stays.',
  takes: 'each',
  options: [],
  byRows: { border: 0 },
  run: eachImage((pixels) => {
    const colors = colorChannels(pixels)
    return mapPixels(pixels, (value, channel) => (channel < colors ? 1 - value : value))
  }),
}
