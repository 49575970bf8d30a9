import { DESTINATION_DEFAULTS, type Destination } from './destination.ts'

export const posing: Destination = {
  ...DESTINATION_DEFAULTS,
  id: 'posing',
  name: 'Posing tool',
  kind: 'posing',
  description: 'Bends a figure by its joints and mixes its blend shapes; needs its points in their order.',
  format: 'fbx',
  writeOptions: { smoothingForm: 'edges', unitMeters: 0.01, unitAs: 'points', lights: false, cameras: false },
  size: { unit: 'stated', unitMeters: 0.01 },
  neverTravels: ['groups'],
  mustBeClean: ['broken-points', 'unwelded-points'],
  purpose: ['shapes', 'points'],
  changesOnReturn: ['transforms', 'normals'],
}
