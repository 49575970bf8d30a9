/** Options that several formats share: units, axes, and what leaves of a scene. */
import type { OptionDescriptor, OptionValues } from '../base/options/option.ts'
import type { Space } from '../scene/scene.ts'

/** Units of length that tools work in: metres in one, and what many of them are called. */
export const UNITS = [
  { meters: 0.001, one: 'a millimetre', many: 'millimetres' },
  { meters: 0.01, one: 'a centimetre', many: 'centimetres' },
  { meters: 0.1, one: 'a decimetre', many: 'decimetres' },
  { meters: 0.0254, one: 'an inch', many: 'inches' },
  { meters: 0.3048, one: 'a foot', many: 'feet' },
  { meters: 1, one: 'a metre', many: 'metres' },
] as const

/** The unit of a file, in metres; null is what `none` says. */
export const unitOption = ({
  words = 'many',
  ...more
}: {
  title: string
  words?: 'one' | 'many'
  none: string
  spoken?: string
  suggested?: number
  said?: string
}): OptionDescriptor => ({
  id: 'unitMeters',
  kind: 'number',
  default: null,
  min: 1e-9,
  max: 1e6,
  unit: 'metres',
  place: 'how',
  usual: UNITS.map((unit) => ({ value: unit.meters, title: unit[words] })),
  ...more,
})

const AXES = ['x', 'y', 'z', '-x', '-y', '-z'] as const
const axisTitle = (axis: string): string => axis.toUpperCase()

/** An axis that points up or to the front. */
export const axisOption = (
  id: 'upAxis' | 'frontAxis',
  more: { title: string; default: string | null; none?: string; place?: 'how' | 'seldom'; said?: string },
): OptionDescriptor => ({
  id,
  kind: 'choice',
  choices: AXES.map((value) => ({ value, title: axisTitle(value) })),
  ...more,
})

/** A tick. */
export const tick = (
  id: string,
  title: string,
  value: boolean,
  place: 'what' | 'how' | 'seldom' = 'how',
  more: Partial<Pick<OptionDescriptor, 'when' | 'said' | 'spoken'>> = {},
): OptionDescriptor => ({ id, title, kind: 'boolean', default: value, place, ...more })

/** One of several values. */
export const choice = (
  id: string,
  title: string,
  value: string | number,
  choices: readonly (readonly [value: string | number, title: string])[],
  more: Partial<Pick<OptionDescriptor, 'when' | 'said' | 'saidAlways' | 'place' | 'spoken'>> = {},
): OptionDescriptor => ({
  id,
  title,
  kind: 'choice',
  default: value,
  place: 'how',
  choices: choices.map(([own, words]) => ({ value: own, title: words })),
  ...more,
})

/** The scale that weights of creases are on in a file: weight = scale x (sharpness / 10) ^ exponent. */
export const CREASE_SCALE_OPTIONS: readonly OptionDescriptor[] = [
  {
    id: 'creaseScales',
    title: 'Creases',
    spoken: 'Scale of creases',
    kind: 'preset',
    place: 'how',
    choices: [
      { title: '0 to 1', sets: { creaseScale: 1, creaseExponent: 1 } },
      { title: '0 to 1, squared', sets: { creaseScale: 1, creaseExponent: 2 } },
      { title: '0 to 10', sets: { creaseScale: 10, creaseExponent: 1 } },
    ],
    otherwise: 'another scale',
    said: 'creases {value}',
  },
  {
    id: 'creaseScale',
    title: '0 up to',
    spoken: 'Weight of an edge that stays sharp',
    kind: 'number',
    default: 1,
    min: 0.001,
    max: 1000,
    place: 'how',
  },
  {
    id: 'creaseExponent',
    title: 'power',
    spoken: 'Power of a crease’s weight',
    kind: 'number',
    default: 1,
    min: 0.1,
    max: 10,
    place: 'how',
  },
]

/** What of a mesh leaves in a file. */
export const TRAIT_TICKS: readonly OptionDescriptor[] = [
  tick('uvs', 'UVs', true, 'what'),
  tick('normals', 'Normals', true, 'what'),
  tick('smoothing', 'Smoothing', true, 'what'),
  tick('creases', 'Creases', true, 'what'),
  tick('groups', 'Face groups', true, 'what'),
  tick('colors', 'Vertex colours', true, 'what'),
]

/** How much of materials leaves. @param full what all of it is called. */
export const materialsOption = (full: string): OptionDescriptor =>
  choice(
    'materials',
    'Materials',
    'full',
    [
      ['full', full],
      ['names', 'names only'],
      ['none', 'none'],
    ],
    { said: 'materials {value}', saidAlways: true },
  )

/** In which unit a file is written; null leaves it as it is. */
export const WRITE_UNIT = unitOption({ title: 'Unit', none: 'as it is', said: '{value}' })
/** Which axis points up in a file. */
export const WRITE_UP = axisOption('upAxis', {
  title: 'Up axis',
  default: null,
  none: 'as it is',
  place: 'how',
  said: '{value} up',
})
/** Makes everything larger by this. */
export const WRITE_SCALE: OptionDescriptor = {
  id: 'scale',
  title: 'Scale',
  kind: 'number',
  default: 1,
  min: 1e-9,
  max: 1e9,
  place: 'how',
  said: '× {value}',
}
/** What is done to the scene on its way into a file. */
export const ARRANGING: readonly OptionDescriptor[] = [
  tick('triangulate', 'Cut into triangles', false, 'how', { said: 'cut into triangles' }),
  tick('visibleOnly', 'Visible parts only', false, 'how', { said: 'visible parts only' }),
]
/** What is seldom asked for of any format. */
export const SELDOM_WRITTEN: readonly OptionDescriptor[] = [
  tick('maps', 'Copy maps beside the file', true, 'seldom', {
    when: [{ option: 'materials', is: ['full'] }],
  }),
  axisOption('frontAxis', {
    title: 'Front axis',
    default: null,
    none: 'as it is',
    place: 'seldom',
    said: '{value} to the front',
  }),
  {
    id: 'mirrored',
    title: 'Mirrored (left-handed)',
    kind: 'boolean',
    default: null,
    place: 'seldom',
    said: 'mirrored',
  },
]

/** What is to be said on reading of a file of a format that says nothing of its unit and axes. */
export const spaceOptions = (space: Space): OptionValues => ({
  unitMeters: space.unitMeters,
  upAxis: space.upAxis,
  frontAxis: space.frontAxis,
  mirrored: space.handedness === 'left',
})
