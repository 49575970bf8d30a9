import { ImageRefusal, type ImageOperation } from './operation.ts'

export const carryMapsToUvs: ImageOperation = {
  id: 'carry-maps-to-uvs',
  title: 'Maps carried to other UVs',
  description:
    'Maps that were painted for one UV set of the model, drawn anew for another, pixel by pixel and padded: what was painted stays where it is on the surface. Normals are turned with the islands. Images that differ by a tile’s number are one map.',
  takes: 'all',
  needsIslands: true,
  carries: true,
  keepsSpace: true,
  options: [
    { id: 'from', title: 'Painted for the UV set', kind: 'text', default: '', most: 500 },
    { id: 'set', title: 'Carried to the UV set', kind: 'text', default: '', most: 500 },
    {
      id: 'size',
      title: 'Side',
      unit: 'pixels',
      kind: 'number',
      none: 'as it is',
      default: null,
      min: 16,
      max: 16384,
      whole: true,
    },
    {
      id: 'padding',
      title: 'Padding',
      unit: 'pixels',
      kind: 'number',
      default: 16,
      min: 0,
      max: 8192,
      whole: true,
    },
    {
      id: 'kind',
      title: 'Its pixels are',
      kind: 'choice',
      default: 'byName',
      choices: [
        { value: 'byName', title: 'what their names say' },
        { value: 'color', title: 'colours' },
        { value: 'data', title: 'plain numbers' },
        { value: 'normals', title: 'normals' },
      ],
    },
  ],
  // it is done where the model is, see app/carry-maps.ts
  run: () => {
    throw new ImageRefusal('It takes a model with two UV sets.')
  },
}
