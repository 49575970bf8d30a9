import { DESTINATION_DEFAULTS, type Destination } from './destination.ts'

export const tablet: Destination = {
  ...DESTINATION_DEFAULTS,
  id: 'tablet',
  name: 'Sculpting tablet',
  kind: 'tablet',
  description:
    'Takes one file with its maps in metres, is worked on by hand, and returns triangles without smoothing, creases and groups.',
  format: 'gltf',
  writeOptions: { form: 'binary', cameras: false, lights: false },
  size: { unit: 'stated', unitMeters: 1 },
  neverTravels: ['creases', 'smoothing', 'groups'],
  mustBeClean: ['broken-points'],
  purpose: ['points'],
  changesOnReturn: ['topology', 'normals', 'smoothing', 'creases', 'groups', 'uvs', 'scene'],
  standIn: 'tablet',
}
