import { pickOptions } from '../../base/options/check-options.ts'
import type { OptionDescriptor } from '../../base/options/option.ts'
import {
  ARRANGING,
  axisOption,
  choice,
  CREASE_SCALE_OPTIONS,
  SELDOM_WRITTEN,
  materialsOption,
  tick,
  TRAIT_TICKS,
  unitOption,
  WRITE_UP,
  WRITE_UNIT,
  WRITE_SCALE,
} from '../common-options.ts'
import type { FormatDescriptor } from '../descriptor.ts'
import { FBX_MESSAGES } from './messages.ts'
import { FBX_WRITE_DEFAULTS, type FbxReadOptions, type FbxWriteOptions } from './options.ts'
import { readFbx } from './read-fbx.ts'
import { writeFbx } from './write-fbx.ts'

const READ_OPTIONS: readonly OptionDescriptor[] = [
  unitOption({ title: 'One unit is', words: 'one', none: 'as the file says', spoken: 'Unit of the file' }),
  axisOption('upAxis', { title: 'Up is', default: null, none: 'as the file says', place: 'how' }),
  ...CREASE_SCALE_OPTIONS,
  axisOption('frontAxis', { title: 'Front is', default: null, none: 'as the file says', place: 'seldom' }),
  {
    id: 'mirrored',
    title: 'Mirrored (left-handed)',
    kind: 'boolean',
    default: null,
    place: 'seldom',
  },
]

const WRITE_OPTIONS: readonly OptionDescriptor[] = [
  ...TRAIT_TICKS,
  tick('shapes', 'Shapes and skins', true, 'what'),
  tick('tangents', 'Tangents', false, 'what'),
  tick('cameras', 'Cameras', true, 'what'),
  tick('lights', 'Lights', true, 'what'),
  choice('version', 'Version', 7400, [
    [7400, '7.4'],
    [7500, '7.5'],
  ], { said: '{value}', saidAlways: true }),
  choice('form', 'Form', 'binary', [
    ['binary', 'binary'],
    ['text', 'text'],
  ], { said: '{value}', saidAlways: true }),
  materialsOption('with maps'),
  WRITE_UNIT,
  choice('unitAs', 'goes into', 'points', [
    ['points', 'the points'],
    ['roots', 'a scale on the roots'],
    ['metadata', 'the file’s settings alone'],
  ], { spoken: 'The unit goes into', said: 'the size in {value}' }),
  WRITE_UP,
  choice('axesAs', 'goes into', 'points', [
    ['points', 'the points'],
    ['metadata', 'the file’s settings alone'],
  ], { spoken: 'The axes go into', said: 'the axes in {value}' }),
  WRITE_SCALE,
  choice('smoothingForm', 'Smoothing', 'own', [
    ['own', 'as the part has it'],
    ['edges', 'by edge'],
    ['polygons', 'by polygon'],
  ], { spoken: 'Form of smoothing', when: [{ option: 'smoothing', is: [true] }], said: 'smoothing {value}' }),
  ...CREASE_SCALE_OPTIONS.map((option) => ({ ...option, when: [{ option: 'creases', is: [true] }] })),
  choice('groupsAs', 'Groups', 'sets', [
    ['sets', 'as numbered sets'],
    ['materials', 'as materials'],
  ], { spoken: 'Face groups as', when: [{ option: 'groups', is: [true] }], said: 'groups {value}' }),
  {
    id: 'uvSetNames',
    title: 'UV names',
    spoken: 'Names of UV sets',
    kind: 'text',
    default: '',
    most: 1000,
    none: 'their own',
    place: 'how',
    when: [{ option: 'uvs', is: [true] }],
    said: 'UV sets called {value}',
  },
  ...ARRANGING,
  tick('embedMaps', 'Maps inside the file', false, 'how', {
    when: [{ option: 'materials', is: ['full'] }],
    said: 'maps inside the file',
  }),
  tick('packAll', 'Pack every list', false, 'seldom', { said: 'every list packed' }),
  ...SELDOM_WRITTEN,
] // prettier-ignore

export const fbx: FormatDescriptor = {
  id: 'fbx',
  name: 'FBX',
  endings: ['.fbx'],
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
  line: 'Hierarchy with pivots, every UV set, creases, skins and shapes, cameras and lights; states its unit.',
  readOptions: READ_OPTIONS,
  writeOptions: WRITE_OPTIONS,
  messages: FBX_MESSAGES,
  read: (file, beside, { codec, ...options }) =>
    readFbx(file, beside, {
      ...(pickOptions(READ_OPTIONS, options) as Partial<FbxReadOptions>),
      codec: codec ?? null,
    }),
  write: (scene, fileName, { selection, codec, ...options }) =>
    writeFbx(scene, fileName, {
      ...(pickOptions(WRITE_OPTIONS, options) as Partial<FbxWriteOptions>),
      selection: selection ?? null,
      codec: codec ?? null,
    }),
  // unit and axes stand in the file; on which scale its creases are doesn't
  readBack: (_space, { creaseScale, creaseExponent }) => ({
    creaseScale: typeof creaseScale === 'number' ? creaseScale : FBX_WRITE_DEFAULTS.creaseScale,
    creaseExponent: typeof creaseExponent === 'number' ? creaseExponent : FBX_WRITE_DEFAULTS.creaseExponent,
  }),
}
