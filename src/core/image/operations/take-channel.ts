import { colorChannels, emptyLike, type ImageOperation } from './operation.ts'

export const takeChannel: ImageOperation = {
  id: 'take-channel',
  title: 'One channel',
  description: 'Red, green, blue or opacity alone, as a grey image. What has no opacity is opaque.',
  takes: 'each',
  options: [
    {
      id: 'channel',
      title: 'Channel',
      kind: 'choice',
      default: 'r',
      choices: [
        { value: 'r', title: 'red' },
        { value: 'g', title: 'green' },
        { value: 'b', title: 'blue' },
        { value: 'a', title: 'opacity' },
      ],
    },
  ],
  byRows: { border: 0 },
  run: (given, { channel }) =>
    given.map(({ name, pixels }) => {
      const { width, height, channels, values, bits } = pixels
      const colors = colorChannels(pixels)
      const full = bits === 8 ? 255 : bits === 16 ? 65535 : 1
      const at =
        channel === 'a'
          ? colors < channels
            ? colors
            : -1
          : colors === 1
            ? 0
            : 'rgb'.indexOf(String(channel))
      const out = emptyLike(pixels, width * height)
      for (let pixel = 0; pixel < out.length; pixel++)
        out[pixel] = at < 0 ? full : values[pixel * channels + at]!
      return { name, pixels: { width, height, channels: 1, bits, values: out } }
    }),
}
