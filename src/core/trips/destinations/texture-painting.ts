import { DESTINATION_DEFAULTS, type Destination } from './destination.ts'

export const texturePainting: Destination = {
  ...DESTINATION_DEFAULTS,
  id: 'texture-painting',
  name: 'Texture painting tool',
  kind: 'texture-painting',
  description: 'Paints maps on the UVs; needs material names and UVs, and should return both as they were.',
  format: 'fbx',
  writeOptions: { creases: false, materials: 'names', cameras: false, lights: false, shapes: false },
  size: { unit: 'stated', unitMeters: 0.01 },
  neverTravels: ['creases', 'shapes', 'groups'],
  checkSettings: { mapSize: 4096, paddingPixels: 8 },
  mustBeClean: ['no-uvs', 'uv-overlaps', 'flipped-islands', 'unassigned-faces'],
  purpose: ['uvs', 'surfaces'],
  changesOnReturn: ['smoothing', 'names'],
  standIn: 'painter',
}
