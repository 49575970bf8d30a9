/** Choices that several forms offer. */

/** Units of length that tools work in: metres in one, and what one and many of them are called. */
export const UNITS = [
  { meters: 0.001, one: 'a millimetre', many: 'millimetres' },
  { meters: 0.01, one: 'a centimetre', many: 'centimetres' },
  { meters: 0.1, one: 'a decimetre', many: 'decimetres' },
  { meters: 0.0254, one: 'an inch', many: 'inches' },
  { meters: 0.3048, one: 'a foot', many: 'feet' },
  { meters: 1, one: 'a metre', many: 'metres' },
] as const

/** Units to choose from; 0 stands for none of them, in the words that are given. */
export const unitChoices = (
  words: 'one' | 'many',
  none?: string,
): { readonly label: string; readonly value: number }[] => [
  ...(none === undefined ? [] : [{ label: none, value: 0 }]),
  ...UNITS.map((unit) => ({ label: unit[words], value: unit.meters })),
]

/** Scales that creases' weights are on; the value is the scale and its exponent. */
export const CREASE_SCALES = [
  { label: '0 to 1', value: '1 1' },
  { label: '0 to 1, squared', value: '1 2' },
  { label: '0 to 10', value: '10 1' },
] as const

interface CreaseScale {
  readonly creaseScale?: number
  readonly creaseExponent?: number
}
export const creaseScaleValue = ({ creaseScale = 1, creaseExponent = 1 }: CreaseScale): string =>
  `${creaseScale} ${creaseExponent}`
export function creaseScaleOf(value: string): Required<CreaseScale> {
  const [creaseScale, creaseExponent] = value.split(' ').map(Number)
  return { creaseScale: creaseScale!, creaseExponent: creaseExponent! }
}
