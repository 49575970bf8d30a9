import { pickOptions } from '../../base/options/check-options.ts'
import type { OptionDescriptor } from '../../base/options/option.ts'
import {
  ARRANGING,
  axisOption,
  choice,
  spaceOptions,
  tick,
  unitOption,
  WRITE_SCALE,
  WRITE_UNIT,
  WRITE_UP,
} from '../common-options.ts'
import type { FormatDescriptor } from '../descriptor.ts'
import { PLY_MESSAGES } from './messages.ts'
import type { PlyReadOptions, PlyWriteOptions } from './options.ts'
import { readPly } from './read-ply.ts'
import { writePly } from './write-ply.ts'

const READ_OPTIONS: readonly OptionDescriptor[] = [
  unitOption({ title: 'One unit is', words: 'one', none: 'not known', spoken: 'Unit of the file', suggested: 0.01 }),
  axisOption('upAxis', { title: 'Up is', default: 'y', place: 'how' }),
  tick('join', 'Join split points', true, 'how', { spoken: 'Join points that were split at seams' }),
  axisOption('frontAxis', { title: 'Front is', default: 'z', place: 'seldom' }),
  tick('mirrored', 'Mirrored (left-handed)', false, 'seldom'),
] // prettier-ignore

const WRITE_OPTIONS: readonly OptionDescriptor[] = [
  tick('uvs', 'UVs', true, 'what'),
  tick('normals', 'Normals', true, 'what'),
  tick('smoothing', 'Smoothing', true, 'what'),
  tick('groups', 'Face groups', true, 'what'),
  tick('colors', 'Vertex colours', true, 'what'),
  choice('form', 'Form', 'binary', [
    ['binary', 'binary'],
    ['binary-big', 'binary, large end first'],
    ['text', 'text'],
  ], { said: '{value}', saidAlways: true }),
  tick('exact', '64 bits where 32 round', true, 'how', { spoken: 'Numbers in 64 bits where 32 would round them' }),
  choice('materials', 'Materials', 'names', [
    ['names', 'names only'],
    ['none', 'none'],
  ], { said: 'materials {value}' }),
  WRITE_UNIT,
  WRITE_UP,
  WRITE_SCALE,
  ...ARRANGING,
  axisOption('frontAxis', { title: 'Front axis', default: null, none: 'as it is', place: 'seldom', said: '{value} to the front' }),
  { id: 'mirrored', title: 'Mirrored (left-handed)', kind: 'boolean', default: null, place: 'seldom', said: 'mirrored' },
] // prettier-ignore

export const ply: FormatDescriptor = {
  id: 'ply',
  name: 'PLY',
  endings: ['.ply'],
  besideEndings: [],
  hasTransforms: false,
  carries: ['topology', 'points', 'uvs', 'smoothing', 'normals', 'names', 'materials', 'groups', 'colours'],
  line: 'Points and polygons with colours, as scanners write them; no hierarchy, no unit, materials by name alone.',
  readOptions: READ_OPTIONS,
  writeOptions: WRITE_OPTIONS,
  messages: PLY_MESSAGES,
  read: (file, beside, options) =>
    readPly(file, beside, pickOptions(READ_OPTIONS, options) as Partial<PlyReadOptions>),
  write: (scene, fileName, { selection, ...options }) =>
    writePly(scene, fileName, {
      ...(pickOptions(WRITE_OPTIONS, options) as Partial<PlyWriteOptions>),
      selection: selection ?? null,
    }),
  readBack: spaceOptions,
}
