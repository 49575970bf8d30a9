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
import { USD_MESSAGES } from './messages.ts'
import type { UsdReadOptions, UsdWriteOptions } from './options.ts'
import { readUsd } from './read-usd.ts'
import { writeUsd } from './write-usd.ts'

const READ_OPTIONS: readonly OptionDescriptor[] = [
  unitOption({ title: 'One unit is', words: 'one', none: 'as the file says', spoken: 'Unit of the file' }),
  axisOption('upAxis', { title: 'Up is', default: null, none: 'as the file says', place: 'how' }),
]

const WRITE_OPTIONS: readonly OptionDescriptor[] = [
  ...TRAIT_TICKS,
  tick('shapes', 'Shapes and skins', true, 'what'),
  tick('cameras', 'Cameras', true, 'what'),
  tick('lights', 'Lights', true, 'what'),
  {
    id: 'form',
    title: 'Form',
    kind: 'choice',
    default: null,
    none: 'as the file’s ending says',
    place: 'how',
    choices: [
      { value: 'text', title: 'text, maps beside it' },
      { value: 'package', title: 'one package with its maps' },
    ],
    said: '{value}',
  },
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
    ],
    said: '{value} up',
  },
  WRITE_SCALE,
  ...ARRANGING,
  tick('maps', 'Maps travel too', true, 'seldom', { when: [{ option: 'materials', is: ['full'] }] }),
] // prettier-ignore

export const usd: FormatDescriptor = {
  id: 'usd',
  name: 'USD',
  endings: ['.usda', '.usdz', '.usdc', '.usd'],
  endingFor: ({ form }) => (form === 'package' ? '.usdz' : '.usda'),
  // layers that a file takes in
  besideEndings: ['.usda', '.usdc', '.usd'],
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
  line: 'Text or one package, with hierarchy, polygons, creases, every UV set and groups; states its unit and up axis.',
  readOptions: READ_OPTIONS,
  writeOptions: WRITE_OPTIONS,
  messages: USD_MESSAGES,
  read: (file, beside, options) =>
    readUsd(file, beside, pickOptions(READ_OPTIONS, options) as Partial<UsdReadOptions>),
  write: (scene, fileName, { selection, ...options }) =>
    writeUsd(scene, fileName, {
      ...(pickOptions(WRITE_OPTIONS, options) as Partial<UsdWriteOptions>),
      selection: selection ?? null,
    }),
  // unit and axes stand in the file
  readBack: () => ({}),
}
