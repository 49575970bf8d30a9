import { emptyLike, ImageRefusal, type ImageOperation } from './operation.ts'

export const padIslands: ImageOperation = {
  id: 'pad-islands',
  title: 'Past the islands’ borders',
  description:
    'What lies past the borders of the model’s UV islands repeats what is nearest on them, so that no seam shows when the map is made smaller. A name with a tile’s number is that tile.',
  takes: 'each',
  needsIslands: true,
  keepsSpace: true,
  options: [
    {
      id: 'width',
      title: 'Width',
      unit: 'pixels',
      kind: 'number',
      default: 16,
      min: 1,
      max: 8192,
      whole: true,
    },
    { id: 'set', title: 'UV set', kind: 'text', default: '', most: 500 },
  ],
  run: (given, { width }, _first, islands) =>
    given.map(({ name, pixels }) => {
      const { width: wide, height: high, channels, values } = pixels
      if (wide !== high) throw new ImageRefusal(`“${name}” is ${wide} × ${high}: maps of islands are square.`)
      const padding = islands?.(name, wide, width as number)
      if (!padding) throw new ImageRefusal(`The model has no islands where “${name}” lies.`)
      const out = emptyLike(pixels)
      out.set(values as never)
      for (let at = 0; at < padding.texels.length; at++)
        for (let channel = 0; channel < channels; channel++)
          out[padding.texels[at]! * channels + channel] = values[padding.from[at]! * channels + channel]!
      return { name, pixels: { ...pixels, values: out } }
    }),
}
