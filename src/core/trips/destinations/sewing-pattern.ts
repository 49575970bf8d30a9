import { DESTINATION_DEFAULTS, type Destination } from './destination.ts'

export const sewingPattern: Destination = {
  ...DESTINATION_DEFAULTS,
  id: 'sewing-pattern',
  name: 'Sewing pattern tool',
  kind: 'sewing-pattern',
  description:
    'Cuts and sews panels around a figure; takes the figure in its real size and standing on the floor, in millimetres.',
  format: 'obj',
  writeOptions: { unitMeters: 0.001, creases: false, groups: false, colors: false, materials: 'names' },
  size: { unit: 'numbers', unitMeters: 0.001 },
  neverTravels: ['smoothing', 'creases', 'groups', 'shapes', 'transforms', 'scene'],
  checkSettings: { wantPanels: true },
  mustBeClean: ['real-size', 'on-floor'],
  purpose: ['topology', 'points', 'uvs'],
  changesOnReturn: ['smoothing', 'names', 'materials'],
  standIn: 'pattern-maker',
}
