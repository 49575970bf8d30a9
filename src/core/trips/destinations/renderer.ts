import { DESTINATION_DEFAULTS, type Destination } from './destination.ts'

export const renderer: Destination = {
  ...DESTINATION_DEFAULTS,
  id: 'renderer',
  name: 'Renderer',
  kind: 'renderer',
  description:
    'Subdivides and draws; needs creases, every UV set, materials with their maps, cameras and lights.',
  format: 'fbx',
  writeOptions: { version: 7500, materials: 'full', maps: true },
  size: { unit: 'stated', unitMeters: 1 },
  mustBeClean: ['missing-maps', 'unassigned-faces'],
  purpose: ['surfaces'],
  standIn: 'renderer',
}
