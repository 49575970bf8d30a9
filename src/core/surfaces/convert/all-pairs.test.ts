/** Properties of conversions between any two models, over random materials. */
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { SurfaceModel, SurfaceValue, SurfaceValues } from '../model.ts'
import { f0OfIor, iorOfF0, roughnessOfExponent } from '../optics.ts'
import { reference } from '../../../../tests/reference/reference.ts'
import { SURFACE_MODELS, surfaceModelNamed } from '../registry.ts'
import { convertSurface, convertValues, difference } from './convert-surface.ts'
import { howMany } from '../../../../tests/how-many.ts'

/** Some of a model's parameters, at values within their ranges. */
function materialsOf(model: SurfaceModel): fc.Arbitrary<SurfaceValues> {
  const entries: Record<string, fc.Arbitrary<SurfaceValue | undefined>> = {}
  for (const { name, kind, width, range, choices } of model.parameters) {
    if (name === null) continue
    const [least, most] = range ?? [-1, 1]
    const one = fc.oneof(
      fc.constantFrom(least, most ?? least + 2),
      fc.double({ min: least, max: most ?? least + 3, noNaN: true }),
    )
    const value: fc.Arbitrary<SurfaceValue> =
      kind === 'boolean'
        ? fc.boolean()
        : kind === 'choice'
          ? fc.constantFrom(...choices!)
          : width === 3
            ? fc.tuple(one, one, one)
            : one
    entries[name] = fc.option(value, { nil: undefined })
  }
  return fc
    .record(entries)
    .map(
      (values) =>
        Object.fromEntries(
          Object.entries(values).filter(([, value]) => value !== undefined),
        ) as SurfaceValues,
    )
}
const pairs = SURFACE_MODELS.flatMap((from) => SURFACE_MODELS.map((to) => [from.id, to.id] as const))

describe('any model to any other', () => {
  test.each(pairs)(
    '%s to %s: finite values for exactly its own parameters, the same for the same model',
    (from, to) => {
      const [source, target] = [surfaceModelNamed(from), surfaceModelNamed(to)]
      const own = new Set(target.parameters.flatMap(({ name }) => name ?? []))
      own.add('normal')
      fc.assert(
        fc.property(materialsOf(source), (values) => {
          const there = convertValues(values, source, target)
          for (const [name, value] of Object.entries(there)) {
            if (!own.has(name)) expect.fail(`${name} is none of its own`)
            const numbers = Array.isArray(value)
              ? (value as number[])
              : typeof value === 'number'
                ? [value]
                : []
            if (name !== 'Ns' && !numbers.every(Number.isFinite)) expect.fail(`${name} is ${numbers.join()}`)
          }
          if (from === to)
            for (const [name, value] of Object.entries(values)) expect(there[name]).toEqual(value)
        }),
        { numRuns: howMany(20, 400), seed: 11 },
      )
    },
  )
  test.each(pairs.filter(([from, to]) => from !== to))(
    '%s to %s: what is called exact comes back the same, and what has no place moves nothing',
    (from, to) => {
      const [source, target] = [surfaceModelNamed(from), surfaceModelNamed(to)]
      fc.assert(
        fc.property(materialsOf(source), (values) => {
          const { parameters, report } = convertSurface(values, source, target)
          const back = convertValues(parameters, target, source)
          for (const { parameter, how, given } of report) {
            if (!given) continue
            const own = values[parameter]!
            if (how === 'exact') expect(difference(own, back[parameter]), parameter).toBeLessThanOrEqual(1e-6)
            if (how !== 'none') continue
            const without = { ...values }
            delete without[parameter]
            // a key that is not said may mean another thing than its standard: it is said at its standard
            const standard = source.parameters.find(({ name }) => name === parameter)!.standard
            if (standard === null) continue
            const other = convertValues({ ...without, [parameter]: standard }, source, target)
            for (const key of Object.keys(parameters))
              if (!(difference(parameters[key], other[key]) <= 1e-6)) expect.fail(`${parameter} moves ${key}`)
          }
        }),
        { numRuns: 12, seed: 5 },
      )
    },
  )
})

describe('measures of one thing', () => {
  test('reflectance and index, exponent and roughness, as tests/reference/materials/facts.json has them', () => {
    const facts = reference<{
      fresnel: { table: { ior: number; f0: number }[]; inverse: { f0: number; ior: number }[] }
      blinnPhong: { table: { exponent: number; roughness: number }[] }
    }>('materials/facts.json')
    for (const { ior, f0 } of facts.fresnel.table) expect(f0OfIor(ior)).toBeCloseTo(f0, 10)
    for (const { ior, f0 } of facts.fresnel.inverse) expect(iorOfF0(f0)).toBeCloseTo(ior, 8)
    for (const { exponent, roughness } of facts.blinnPhong.table)
      expect(roughnessOfExponent(exponent)).toBeCloseTo(roughness, 10)
    expect(iorOfF0(1)).toBe(100)
  })
  test('a metal goes to reflection and index and comes back a metal', () => {
    const gold = { base_color: [1, 0.77, 0.34], metalness: 1, specular_roughness: 0.3 }
    const [own, other] = [surfaceModelNamed('standard-surface'), surfaceModelNamed('reflection-glossiness')]
    const there = convertValues(gold, own, other)
    expect(there).toMatchObject({ diffuse: [0, 0, 0], reflection: [1, 0.77, 0.34], glossiness: 0.7 })
    expect(convertValues(there, other, own)).toMatchObject({ metalness: 1, base_color: [1, 0.77, 0.34] })
  })
  test('the inputs are those that the standard declares, with its defaults', () => {
    const { surfaces } = reference<{
      surfaces: Record<string, { inputs: Record<string, [string, string | null]> }>
    }>('materials/materialx-surface-inputs.json')
    for (const model of SURFACE_MODELS) {
      if (!model.materialX) continue
      const inputs = surfaces[model.materialX.category]!.inputs
      for (const { name, standard, choices } of model.parameters) {
        if (name === null || model.materialX.without?.includes(name)) continue
        const declared = inputs[name]
        expect(declared, `${model.id} ${name}`).toBeDefined()
        if (declared![1] === null || standard === null) continue
        const numbers = declared![1]
          .split(',')
          .map((text) => (text === 'true' ? 1 : text === 'false' ? 0 : Number(text)))
        const own = choices
          ? [choices.indexOf(String(standard))]
          : Array.isArray(standard)
            ? standard
            : [Number(standard)]
        expect(own, `${model.id} ${name}`).toEqual(numbers)
      }
      for (const [name, [type]] of Object.entries(inputs))
        if (type !== 'vector3')
          expect(
            model.parameters.some((one) => one.name === name),
            `${model.id} lacks ${name}`,
          ).toBe(true)
    }
  })
})
