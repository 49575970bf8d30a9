import { fullScale } from '../pixels.ts'
import { emptyLike, ImageRefusal, stepOf, type ImageOperation } from './operation.ts'

export const renormalise: ImageOperation = {
  id: 'renormalise',
  title: 'Normals of unit length',
  description:
    'Makes each normal as long as one again, after a tool has scaled, blurred or packed them. What points nowhere points out of the surface.',
  takes: 'each',
  options: [],
  byRows: { border: 0 },
  run: (given) =>
    given.map(({ name, pixels }) => {
      const { channels, values } = pixels
      if (channels < 3) throw new ImageRefusal(`“${name}” is grey: normals have three channels.`)
      const full = fullScale(pixels)
      const out = emptyLike(pixels)
      for (let at = 0; at < values.length; at += channels) {
        const [x, y, z] = [0, 1, 2].map((part) => (values[at + part]! / full) * 2 - 1) as [
          number,
          number,
          number,
        ]
        const length = Math.hypot(x, y, z)
        const own = length > 1e-6 ? [x / length, y / length, z / length] : [0, 0, 1]
        for (let part = 0; part < 3; part++) out[at + part] = stepOf(own[part]! * 0.5 + 0.5, pixels)
        if (channels === 4) out[at + 3] = values[at + 3]!
      }
      return { name, pixels: { ...pixels, values: out } }
    }),
}
