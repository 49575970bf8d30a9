import { pickOptions } from '../../base/options/check-options.ts'
import type { OptionDescriptor } from '../../base/options/option.ts'
import {
  ARRANGING,
  choice,
  materialsOption,
  tick,
  TRAIT_TICKS,
  unitOption,
  WRITE_SCALE,
} from '../common-options.ts'
import type { FormatDescriptor } from '../descriptor.ts'
import { GLTF_MESSAGES } from './messages.ts'
import type { GltfReadOptions, GltfWriteOptions } from './options.ts'
import { readGltf } from './read-gltf.ts'
import { writeGltf } from './write-gltf.ts'

const READ_OPTIONS: readonly OptionDescriptor[] = [
  tick('join', 'Join split points', true, 'how', { spoken: 'Join points that were split at seams' }),
  unitOption({
    title: 'One unit is',
    words: 'one',
    none: 'a metre, as the format has it',
    spoken: 'Unit of the file',
  }),
] // prettier-ignore

const WRITE_OPTIONS: readonly OptionDescriptor[] = [
  ...TRAIT_TICKS,
  tick('shapes', 'Shapes and skins', true, 'what'),
  tick('tangents', 'Tangents', false, 'what'),
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
      { value: 'binary', title: 'one binary file' },
      { value: 'beside', title: 'text, numbers and maps beside it' },
      { value: 'inside', title: 'text with all inside' },
    ],
    said: '{value}',
  },
  tick('polygons', 'Polygons kept', true, 'how', { spoken: 'Keep polygons by the n-gon encoding' }),
  materialsOption('with maps'),
  { ...unitOption({ title: 'Unit taken for', words: 'one', none: 'a metre', suggested: 1, spoken: 'What the tool takes a unit for', said: 'a unit as {value}' }), id: 'takenFor' },
  choice('unitAs', 'goes into', 'points', [
    ['points', 'the points'],
    ['roots', 'a scale on the roots'],
  ], { spoken: 'The unit goes into', said: 'the size in {value}' }),
  WRITE_SCALE,
  ...ARRANGING,
  tick('maps', 'Maps travel too', true, 'seldom', { when: [{ option: 'materials', is: ['full'] }] }),
] // prettier-ignore

export const gltf: FormatDescriptor = {
  id: 'gltf',
  name: 'glTF',
  endings: ['.glb', '.gltf'],
  endingFor: ({ form }) => (form === 'beside' || form === 'inside' ? '.gltf' : '.glb'),
  besideEndings: ['.bin'],
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
  line: 'One file with maps, in metres; triangles split at seams, from which Kelbo tells polygons and points again.',
  readOptions: READ_OPTIONS,
  writeOptions: WRITE_OPTIONS,
  messages: GLTF_MESSAGES,
  read: (file, beside, { decoders, ...options }) =>
    readGltf(
      file,
      beside,
      pickOptions(READ_OPTIONS, options) as Partial<GltfReadOptions>,
      decoders ?? undefined,
    ),
  write: (scene, fileName, { selection, ...options }) =>
    writeGltf(scene, fileName, {
      ...(pickOptions(WRITE_OPTIONS, options) as Partial<GltfWriteOptions>),
      selection: selection ?? null,
    }),
  // what a tool takes a unit for is not in the file
  readBack: (_space, { takenFor }) => ({ unitMeters: typeof takenFor === 'number' ? takenFor : null }),
}
