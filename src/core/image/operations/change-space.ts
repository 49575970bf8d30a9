import { decodeSrgb, encodeSrgb } from '../transfer.ts'
import { colorChannels, eachImage, mapPixels, type ImageOperation } from './operation.ts'

export const changeSpace: ImageOperation = {
  id: 'change-space',
  title: 'Colours as light',
  description:
    'sRGB becomes linear, or linear sRGB (IEC 61966-2-1). Opacity stays. In 8 bits the dark loses steps when it becomes linear: take 16.',
  takes: 'each',
  options: [
    {
      id: 'to',
      title: 'They become',
      kind: 'choice',
      default: 'linear',
      choices: [
        { value: 'linear', title: 'linear' },
        { value: 'sRGB', title: 'sRGB' },
      ],
    },
  ],
  byRows: { border: 0 },
  run: eachImage((pixels, { to }) => {
    const colors = colorChannels(pixels)
    const curve = to === 'linear' ? decodeSrgb : encodeSrgb
    return mapPixels(pixels, (value, channel) => (channel < colors ? curve(value) : value))
  }),
}
