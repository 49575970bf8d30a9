import { DESTINATION_DEFAULTS, type Destination } from './destination.ts'

export const sceneAssembly: Destination = {
  ...DESTINATION_DEFAULTS,
  id: 'scene-assembly',
  name: 'Scene assembly',
  kind: 'scene-assembly',
  description:
    'Takes one package with its maps, puts it into a larger scene and binds materials there; polygons stay as they are.',
  format: 'usd',
  writeOptions: { form: 'package', cameras: false, lights: false },
  size: { unit: 'stated', unitMeters: 0.01 },
  neverTravels: ['smoothing'],
  naming: { letters: 'plain', longest: null, prefix: '', suffix: '' },
  mustBeClean: ['missing-maps', 'unassigned-faces'],
  purpose: ['surfaces'],
  changesOnReturn: ['transforms', 'names', 'materials', 'smoothing', 'scene'],
  standIn: 'assembler',
}
