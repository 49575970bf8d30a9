import { DESTINATION_DEFAULTS, type Destination } from './destination.ts'

export const modelling: Destination = {
  ...DESTINATION_DEFAULTS,
  id: 'modelling',
  name: 'Modelling tool',
  kind: 'modelling',
  description:
    'Changes polygons, UVs and assignments; takes hierarchy, smoothing by edge, creases and several UV sets.',
  format: 'fbx',
  writeOptions: { version: 7400, form: 'binary', smoothingForm: 'edges', unitMeters: 0.01, unitAs: 'points' },
  size: { unit: 'stated', unitMeters: 0.01 },
  polygons: 'quads',
  mustBeClean: ['broken-points'],
  purpose: ['topology', 'points', 'uvs', 'smoothing', 'materials', 'groups'],
  changesOnReturn: ['names', 'transforms'],
  standIn: 'modeller',
}
