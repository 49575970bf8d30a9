import { pickOptions } from '../../base/options/check-options.ts'
import type { OptionDescriptor } from '../../base/options/option.ts'
import {
  ARRANGING,
  axisOption,
  choice,
  materialsOption,
  tick,
  TRAIT_TICKS,
  unitOption,
  WRITE_SCALE,
  WRITE_UNIT,
} from '../common-options.ts'
import type { FormatDescriptor } from '../descriptor.ts'
import { COLLADA_MESSAGES } from './messages.ts'
import { readColladaPiece } from './list-reader.ts'
import type { ColladaReadOptions, ColladaWriteOptions } from './options.ts'
import { readCollada } from './read-collada.ts'
import { writeCollada } from './write-collada.ts'

const READ_OPTIONS: readonly OptionDescriptor[] = [
  unitOption({ title: 'One unit is', words: 'one', none: 'as the file says', spoken: 'Unit of the file' }),
  axisOption('upAxis', { title: 'Up is', default: null, none: 'as the file says', place: 'how' }),
]

const WRITE_OPTIONS: readonly OptionDescriptor[] = [
  ...TRAIT_TICKS,
  tick('shapes', 'Shapes and skins', true, 'what'),
  tick('cameras', 'Cameras', true, 'what'),
  tick('lights', 'Lights', true, 'what'),
  materialsOption('with maps'),
  WRITE_UNIT,
  choice('unitAs', 'goes into', 'points', [
    ['points', 'the points'],
    ['roots', 'a scale on the roots'],
    ['metadata', 'the file’s settings alone'],
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
      { value: 'x', title: 'X' },
    ],
    said: '{value} up',
  },
  WRITE_SCALE,
  ...ARRANGING,
  tick('maps', 'Copy maps beside the file', true, 'seldom', { when: [{ option: 'materials', is: ['full'] }] }),
] // prettier-ignore

export const collada: FormatDescriptor = {
  id: 'collada',
  name: 'COLLADA',
  endings: ['.dae'],
  besideEndings: [],
  hasTransforms: true,
  carries: [
    'topology',
    'points',
    'uvs',
    'smoothing',
    'normals',
    'creases',
    'transforms',
    'names',
    'materials',
    'surfaces',
    'groups',
    'colours',
    'shapes',
    'scene',
  ],
  line: 'Text with hierarchy, polygons, every UV set, skins and shapes; states its unit and up axis; old material models.',
  readOptions: READ_OPTIONS,
  writeOptions: WRITE_OPTIONS,
  messages: COLLADA_MESSAGES,
  read: (file, beside, options) =>
    readCollada(
      file,
      beside,
      pickOptions(READ_OPTIONS, options) as Partial<ColladaReadOptions>,
      options.pieces ?? null,
    ),
  readPiece: readColladaPiece,
  write: (scene, fileName, { selection, ...options }) =>
    writeCollada(scene, fileName, {
      ...(pickOptions(WRITE_OPTIONS, options) as Partial<ColladaWriteOptions>),
      selection: selection ?? null,
    }),
  // unit and axes stand in the file
  readBack: () => ({}),
}
