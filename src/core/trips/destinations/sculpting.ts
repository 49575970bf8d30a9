import { DESTINATION_DEFAULTS, type Destination } from './destination.ts'

export const sculpting: Destination = {
  ...DESTINATION_DEFAULTS,
  id: 'sculpting',
  name: 'Sculpting tool',
  kind: 'sculpting',
  description:
    'Takes the polygons and one UV set, moves points, and usually returns without smoothing, creases and materials.',
  format: 'obj',
  writeOptions: { normals: false },
  size: { unit: 'numbers', unitMeters: 0.01 },
  polygons: 'quads',
  neverTravels: ['shapes', 'scene'],
  mustBeClean: ['non-manifold', 'broken-points'],
  purpose: ['points'],
  changesOnReturn: ['normals', 'smoothing', 'creases', 'materials', 'groups'],
  standIn: 'sculptor',
}
