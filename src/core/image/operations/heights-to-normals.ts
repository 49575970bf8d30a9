import { heightToNormal } from './height-to-normal.ts'
import { eachImage, type ImageOperation } from './operation.ts'

export const heightsToNormals: ImageOperation = {
  id: 'heights-to-normals',
  title: 'Heights as normals',
  description: 'Slopes of a map of heights or bumps as a map of normals.',
  takes: 'each',
  options: [
    {
      id: 'height',
      title: 'White over black',
      unit: 'pixels',
      kind: 'number',
      default: 10,
      min: -10000,
      max: 10000,
    },
    {
      id: 'green',
      title: 'Green points',
      kind: 'choice',
      default: 'up',
      choices: [
        { value: 'up', title: 'up' },
        { value: 'down', title: 'down' },
      ],
    },
  ],
  byRows: { border: 1 },
  run: eachImage((pixels, { height, green }) =>
    heightToNormal(pixels, height as number, green as 'up' | 'down'),
  ),
}
