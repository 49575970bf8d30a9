import { DESTINATION_DEFAULTS, type Destination } from './destination.ts'

export const engine: Destination = {
  ...DESTINATION_DEFAULTS,
  id: 'engine',
  name: 'Real-time engine',
  kind: 'engine',
  description:
    'Draws triangles: cuts polygons, splits points at seams and hard edges, and wants tangents and few materials.',
  format: 'fbx',
  writeOptions: {
    creases: false,
    tangents: true,
    triangulate: true,
    smoothingForm: 'edges',
    unitMeters: 0.01,
    unitAs: 'points',
    cameras: false,
    lights: false,
    visibleOnly: true,
  },
  size: { unit: 'stated', unitMeters: 1 },
  polygons: 'triangles',
  polygonBudget: 50000,
  normalMapGreen: 'down',
  neverTravels: ['creases', 'groups'],
  naming: { letters: 'plain', longest: 63, prefix: '', suffix: '' },
  checkSettings: { paddingPixels: 8, smoothingForm: 'edges' },
  mustBeClean: ['no-uvs', 'missing-maps', 'zero-size', 'broken-points'],
  purpose: [],
  changesOnReturn: ['topology', 'points', 'normals', 'smoothing', 'materials'],
  standIn: 'engine',
}
