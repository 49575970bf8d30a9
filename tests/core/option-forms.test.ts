/** What forms that are made from descriptors say of options, for all of them that there are. */
import { describe, expect, test } from 'vitest'
import { applies, defaultsOf, hasValue, presetOf } from '../../src/core/base/options/option.ts'
import { FORMATS } from '../../src/core/formats/registry.ts'
import { STAND_INS } from '../../src/core/practice/standins/registry.ts'
import { STEPS } from '../../src/core/steps/registry.ts'
import { DESTINATIONS } from '../../src/core/trips/destinations/registry.ts'
import { setBy, summaryOf, titleOf } from '../../src/web/kit/form/options.ts'

const LISTS = [
  ...FORMATS.flatMap((format) => [
    [`reading ${format.name}`, format.readOptions] as const,
    [`writing ${format.name}`, format.writeOptions] as const,
  ]),
  ...STEPS.map((step) => [`step ${step.id}`, step.parameters] as const),
  ...STAND_INS.map((standIn) => [`stand-in ${standIn.id}`, standIn.parameters] as const),
]

describe.each(LISTS)('%s', (_name, options) => {
  test('every value has words, and what an option hangs on is there', () => {
    const ids = options.map((option) => option.id)
    expect(new Set(ids).size).toBe(ids.length)
    for (const option of options) {
      for (const { option: other } of option.when ?? []) expect(ids).toContain(other)
      for (const id of setBy(option)) expect(ids).toContain(id)
      if (!hasValue(option)) continue
      expect(titleOf(option, option.default)).toMatch(/\S/)
      if (option.kind === 'choice')
        for (const choice of option.choices) expect(titleOf(option, choice.value)).toBe(choice.title)
    }
  })
  test('a summary of the defaults holds no place that was left open', () => {
    expect(summaryOf(options, defaultsOf(options))).not.toMatch(/[{}]|undefined|null/)
  })
})

test('a destination in a line: what differs, and what a model’s own unit and axes come to', () => {
  const modelling = DESTINATIONS.find(({ id }) => id === 'modelling')!
  const { writeOptions } = FORMATS.find(({ id }) => id === modelling.format)!
  const values = { ...defaultsOf(writeOptions), ...(modelling.writeOptions as Record<string, string>) }
  expect(summaryOf(writeOptions, values, { upAxis: 'z', unitMeters: 1 })).toBe(
    '7.4, binary, materials with maps, centimetres, Z up, smoothing by edge',
  )
  expect(summaryOf(writeOptions, { ...values, creases: false, creaseScale: 7 })).not.toContain('creases')
  expect(summaryOf(writeOptions, { ...values, creaseScale: 10 })).toContain('creases 0 to 10')
  const preset = writeOptions.find((option) => option.kind === 'preset')!
  expect(presetOf(preset as never, { ...values, creaseScale: 7 })).toBe(null)
  expect(applies(preset, { ...values, creases: false })).toBe(false)
})
