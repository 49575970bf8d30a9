import { pickOptions } from '../../base/options/check-options.ts'
import type { OptionDescriptor } from '../../base/options/option.ts'
import {
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
import { STL_MESSAGES } from './messages.ts'
import type { StlReadOptions, StlWriteOptions } from './options.ts'
import { readStl } from './read-stl.ts'
import { writeStl } from './write-stl.ts'

const READ_OPTIONS: readonly OptionDescriptor[] = [
  unitOption({ title: 'One unit is', words: 'one', none: 'not known', spoken: 'Unit of the file', suggested: 0.001 }),
  axisOption('upAxis', { title: 'Up is', default: 'z', place: 'how' }),
  tick('join', 'Join corners', true, 'how', { spoken: 'Join the corners of triangles that lie at one place' }),
  axisOption('frontAxis', { title: 'Front is', default: '-y', place: 'seldom' }),
  tick('mirrored', 'Mirrored (left-handed)', false, 'seldom'),
] // prettier-ignore

const WRITE_OPTIONS: readonly OptionDescriptor[] = [
  tick('colors', 'Vertex colours', true, 'what'),
  choice('form', 'Form', 'binary', [
    ['binary', 'binary'],
    ['text', 'text'],
  ], { said: '{value}', saidAlways: true }),
  WRITE_UNIT,
  WRITE_UP,
  WRITE_SCALE,
  tick('visibleOnly', 'Visible parts only', false, 'how', { said: 'visible parts only' }),
  axisOption('frontAxis', { title: 'Front axis', default: null, none: 'as it is', place: 'seldom', said: '{value} to the front' }),
  { id: 'mirrored', title: 'Mirrored (left-handed)', kind: 'boolean', default: null, place: 'seldom', said: 'mirrored' },
] // prettier-ignore

export const stl: FormatDescriptor = {
  id: 'stl',
  name: 'STL',
  endings: ['.stl'],
  besideEndings: [],
  hasTransforms: false,
  carries: ['points', 'names', 'colours'],
  line: 'Triangles alone, as printing takes them; no UVs, no materials, no unit.',
  readOptions: READ_OPTIONS,
  writeOptions: WRITE_OPTIONS,
  messages: STL_MESSAGES,
  read: (file, _beside, options) =>
    readStl(file, pickOptions(READ_OPTIONS, options) as Partial<StlReadOptions>),
  write: (scene, fileName, { selection, ...options }) =>
    writeStl(scene, fileName, {
      ...(pickOptions(WRITE_OPTIONS, options) as Partial<StlWriteOptions>),
      selection: selection ?? null,
    }),
  readBack: spaceOptions,
}
