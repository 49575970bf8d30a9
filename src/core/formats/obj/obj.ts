import { pickOptions } from '../../base/options/check-options.ts'
import type { OptionDescriptor } from '../../base/options/option.ts'
import type { Space } from '../../scene/scene.ts'
import {
  ARRANGING,
  axisOption,
  choice,
  SELDOM_WRITTEN,
  materialsOption,
  spaceOptions,
  tick,
  TRAIT_TICKS,
  unitOption,
  WRITE_UP,
  WRITE_UNIT,
  WRITE_SCALE,
} from '../common-options.ts'
import type { FormatDescriptor, FormatOptions } from '../descriptor.ts'
import { OBJ_MESSAGES } from './messages.ts'
import type { ObjReadOptions, ObjWriteOptions } from './options.ts'
import { readObjPiece } from './pieces.ts'
import { readObj } from './read-obj.ts'
import { writeObj } from './write-obj.ts'

const READ_OPTIONS: readonly OptionDescriptor[] = [
  unitOption({ title: 'One unit is', words: 'one', none: 'not known', spoken: 'Unit of the file', suggested: 0.01 }),
  axisOption('upAxis', { title: 'Up is', default: 'y', place: 'how' }),
  choice('partsBy', 'A part is', 'object', [
    ['object', 'object (o)'],
    ['group', 'group (g)'],
    ['material', 'material'],
    ['one', 'file (all in one)'],
  ], { spoken: 'What makes a part' }),
  choice('normals', 'Normals', 'file', [
    ['file', 'from the file'],
    ['smoothing', 'from smoothing groups'],
    ['angle', 'from an angle'],
  ]),
  {
    id: 'normalsAngle',
    title: 'Hard above',
    spoken: 'Angle in degrees',
    kind: 'number',
    default: 60,
    min: 0,
    max: 180,
    unit: 'degrees',
    place: 'how',
    when: [{ option: 'normals', is: ['angle'] }],
  },
  choice('materials', 'Materials', 'full', [
    ['full', 'from the MTL'],
    ['names', 'names only'],
    ['none', 'none'],
  ]),
  axisOption('frontAxis', { title: 'Front is', default: 'z', place: 'seldom' }),
  tick('mirrored', 'Mirrored (left-handed)', false, 'seldom'),
  tick('flipV', 'V points down', false, 'seldom'),
  tick('invertTransparency', 'Transparency inverted', false, 'seldom'),
] // prettier-ignore

const WRITE_OPTIONS: readonly OptionDescriptor[] = [
  ...TRAIT_TICKS,
  {
    id: 'digits',
    title: 'Digits',
    kind: 'number',
    default: null,
    min: 1,
    max: 17,
    whole: true,
    place: 'how',
    none: 'exact',
    usual: [4, 6, 8].map((value) => ({ value, title: `${value} after the point` })),
    said: '{value} digits',
    saidAlways: true,
  },
  materialsOption('with MTL and maps'),
  WRITE_UNIT,
  WRITE_UP,
  WRITE_SCALE,
  ...ARRANGING,
  tick('flipV', 'V points down', false, 'seldom', { said: 'v points down' }),
  ...SELDOM_WRITTEN,
] // prettier-ignore

export const obj: FormatDescriptor = {
  id: 'obj',
  name: 'OBJ',
  endings: ['.obj'],
  besideEndings: ['.mtl'],
  hasTransforms: false,
  carries: [
    'topology',
    'points',
    'uvs',
    'smoothing',
    'normals',
    'creases',
    'names',
    'materials',
    'surfaces',
    'groups',
    'colours',
  ],
  line: 'Text that every tool reads: polygons, one UV set, smoothing groups; no hierarchy, no unit.',
  readOptions: READ_OPTIONS,
  writeOptions: WRITE_OPTIONS,
  messages: OBJ_MESSAGES,
  read: (file, beside, { pieces, ...options }) =>
    readObj(file, beside, pickOptions(READ_OPTIONS, options) as Partial<ObjReadOptions>, pieces),
  readPiece: readObjPiece,
  write: (scene, fileName, { selection, ...options }) =>
    writeObj(scene, fileName, {
      ...(pickOptions(WRITE_OPTIONS, options) as Partial<ObjWriteOptions>),
      selection: selection ?? null,
    }),
  // the file says nothing of its unit and axes
  readBack: (space: Space, options: FormatOptions) => ({
    ...spaceOptions(space),
    flipV: options.flipV === true,
  }),
}
