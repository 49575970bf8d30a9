import { pickOptions } from '../../base/options/check-options.ts'
import type { OptionDescriptor } from '../../base/options/option.ts'
import { ARRANGING, axisOption, choice, TRAIT_TICKS, unitOption, WRITE_SCALE, WRITE_UNIT } from '../common-options.ts' // prettier-ignore
import type { FormatDescriptor } from '../descriptor.ts'
import { ALEMBIC_MESSAGES } from './messages.ts'
import type { AlembicReadOptions, AlembicWriteOptions } from './options.ts'
import { readAlembic } from './read-alembic.ts'
import { writeAlembic } from './write-alembic.ts'

const READ_OPTIONS: readonly OptionDescriptor[] = [
  unitOption({ title: 'One unit is', words: 'one', none: 'not known', spoken: 'Unit of the file' }),
  axisOption('upAxis', { title: 'Up is', default: 'y', place: 'how' }),
  {
    id: 'sample',
    title: 'Sample, from 0 on',
    spoken: 'Which sample of what moves',
    kind: 'number',
    default: 0,
    min: 0,
    max: 1000000,
    place: 'seldom',
  },
]

const WRITE_OPTIONS: readonly OptionDescriptor[] = [
  ...TRAIT_TICKS,
  choice('materials', 'Materials', 'names', [
    ['names', 'names, as sets of polygons'],
    ['none', 'none'],
  ], { said: 'materials {value}' }),
  WRITE_UNIT,
  choice('unitAs', 'goes into', 'points', [
    ['points', 'the points'],
    ['roots', 'a scale on the roots'],
  ], { spoken: 'The unit goes into', said: 'the size in {value}' }),
  {
    id: 'upAxis',
    title: 'Up axis',
    kind: 'choice',
    default: null,
    none: 'as it is',
    place: 'how',
    choices: [
      { value: 'y', title: 'Y' },
      { value: 'z', title: 'Z' },
    ],
    said: '{value} up',
  },
  WRITE_SCALE,
  ...ARRANGING,
] // prettier-ignore

export const alembic: FormatDescriptor = {
  id: 'alembic',
  name: 'Alembic',
  endings: ['.abc'],
  besideEndings: [],
  hasTransforms: true,
  carries: ['topology', 'points', 'uvs', 'smoothing', 'normals', 'creases', 'transforms', 'names', 'materials', 'groups', 'colours'], // prettier-ignore
  line: 'Polygons, creases, every UV set and sets of polygons, under a hierarchy; no unit, no materials beyond names. No other program has confirmed what Kelbo makes of it.',
  readOptions: READ_OPTIONS,
  writeOptions: WRITE_OPTIONS,
  messages: ALEMBIC_MESSAGES,
  read: (file, _beside, options) =>
    readAlembic(file, pickOptions(READ_OPTIONS, options) as Partial<AlembicReadOptions>),
  write: (scene, fileName, { selection, ...options }) =>
    writeAlembic(scene, fileName, {
      ...(pickOptions(WRITE_OPTIONS, options) as Partial<AlembicWriteOptions>),
      selection: selection ?? null,
    }),
  // neither unit nor axes stand in the file
  readBack: (space) => ({ unitMeters: space.unitMeters, upAxis: space.upAxis }),
}
