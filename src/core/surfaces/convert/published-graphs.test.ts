/**
 * Conversions against the translation graphs that MaterialX 1.39.4 publishes (evaluated apart from this project, see
 * the README of the reference), the Khronos example of specular-glossiness, and what the graphs leave out.
 */
import { describe, expect, test } from 'vitest'
import { reference } from '../../../../tests/reference/reference.ts'
import { surfaceModelNamed } from '../registry.ts'
import type { SurfaceValue, SurfaceValues } from '../model.ts'
import { convertSurface, convertValues } from './convert-surface.ts'

interface GraphCases {
  readonly cases: readonly {
    readonly name: string
    readonly input: SurfaceValues
    readonly expected: SurfaceValues
  }[]
}
const closeTo = (value: SurfaceValue | undefined, expected: SurfaceValue, what: string): void => {
  const numbers = (some: SurfaceValue | undefined): number[] =>
    Array.isArray(some) ? [...(some as number[])] : [Number(some)]
  const [left, right] = [numbers(value), numbers(expected)]
  expect(left.length, what).toBe(right.length)
  left.forEach((one, at) =>
    expect(Math.abs(one - right[at]!), `${what}: ${left} for ${right}`).toBeLessThanOrEqual(
      1e-6 * Math.max(1, Math.abs(right[at]!)),
    ),
  )
}

describe.each([
  ['open_pbr_surface-to-standard_surface', ['openpbr', 'standard-surface']],
  ['standard_surface-to-open_pbr_surface', ['standard-surface', 'openpbr']],
  ['standard_surface-to-gltf_pbr', ['standard-surface', 'gltf']],
  ['standard_surface-to-UsdPreviewSurface', ['standard-surface', 'usd-preview']],
  ['chain-open_pbr_surface-standard_surface-gltf_pbr', ['openpbr', 'gltf']],
  ['chain-open_pbr_surface-standard_surface-UsdPreviewSurface', ['openpbr', 'usd-preview']],
  ['chain-open_pbr_surface-standard_surface-open_pbr_surface', ['openpbr', 'standard-surface', 'openpbr']],
] as const)('%s', (file, way) => {
  const { cases } = reference<GraphCases>(`surfaces/${file}.json`)
  test.each(cases)('$name', ({ input, expected }) => {
    let values = input
    for (let at = 1; at < way.length; at++)
      values = convertValues(values, surfaceModelNamed(way[at - 1]!), surfaceModelNamed(way[at]!))
    for (const [name, value] of Object.entries(expected)) closeTo(values[name], value, name)
  })
})

describe('specular-glossiness', () => {
  test('as the Khronos example has it, both ways', () => {
    const { cases } = reference<{
      cases: {
        diffuseFactor: number[]
        specularFactor: number[]
        glossinessFactor: number
        expected: { baseColor: number[]; metallic: number; roughness: number }
      }[]
    }>('materials/spec-gloss-to-metal-rough.json')
    const from = surfaceModelNamed('gltf-specular-glossiness')
    for (const { expected, ...input } of cases) {
      const there = convertValues(input, from, surfaceModelNamed('gltf'))
      closeTo(there['base_color'], expected.baseColor, 'base colour')
      closeTo(there['metallic'], expected.metallic, 'metallic')
      closeTo(there['roughness'], expected.roughness, 'roughness')
    }
    const { metallicRoughnessToSpecularGlossiness: other } = reference<{
      metallicRoughnessToSpecularGlossiness: {
        table: {
          baseColor: number[]
          metallic: number
          roughness: number
          expected: { diffuse: number[]; specular: number[]; glossiness: number }
        }[]
      }
    }>('materials/facts.json')
    for (const { baseColor, metallic, roughness, expected } of other.table) {
      const there = convertValues(
        { base_color: baseColor, metallic, roughness },
        surfaceModelNamed('gltf'),
        from,
      )
      closeTo(there['diffuseFactor'], expected.diffuse, 'diffuse')
      closeTo(there['specularFactor'], expected.specular, 'specular')
      closeTo(there['glossinessFactor'], expected.glossiness, 'glossiness')
    }
  })
})

describe('what the graphs lose is named', () => {
  const reportOf = (from: string, to: string, values: SurfaceValues) =>
    Object.fromEntries(
      convertSurface(values, surfaceModelNamed(from), surfaceModelNamed(to)).report.map((line) => [
        line.parameter,
        line,
      ]),
    )
  test('towards USD: sheen, film and scattering have no place; the tint of a coat is worked in', () => {
    const report = reportOf('standard-surface', 'usd-preview', {
      sheen: 0.5,
      thin_film_thickness: 400,
      transmission: 1,
      coat: 0.5,
      coat_color: [1, 0.5, 0.2],
      base_color: [0.5, 0.5, 0.5],
      specular_roughness: 0.4,
    })
    expect(report['sheen']!.how).toBe('none')
    expect(report['thin_film_thickness']!.how).toBe('none')
    expect(report['transmission']!.how).toBe('none')
    expect(report['thin_walled']).toMatchObject({ how: 'none', given: false })
    expect(report['specular_roughness']).toMatchObject({ how: 'exact', becomes: ['roughness'] })
    expect(report['base_color']!.how).toBe('approximate')
    expect(report['coat_color']!.becomes).toContain('diffuseColor')
  })
  test('index, specular and opacity reach glTF, though the graph leaves them out', () => {
    const there = convertValues(
      { specular_IOR: 1.33, specular: 0.6, specular_color: [1, 0.9, 0.8], opacity: [0.5, 0.5, 0.5] },
      surfaceModelNamed('standard-surface'),
      surfaceModelNamed('gltf'),
    )
    expect(there).toMatchObject({
      ior: 1.33,
      specular: 0.6,
      specular_color: [1, 0.9, 0.8],
      alpha: 0.5,
      alpha_mode: 'BLEND',
    })
  })
  test('a roughness that lies under a full coat is lost on the way to Standard Surface; an exponent beside a roughness is not', () => {
    const report = reportOf('openpbr', 'standard-surface', { coat_weight: 1, specular_roughness: 0.6 })
    expect(report['specular_roughness']!.how).toBe('none')
    expect(report['specular_roughness']!.note).toContain('leaves it no effect')
    expect(report['specular_roughness']!.losesNothing).toBe(false)
    expect(reportOf('mtl', 'openpbr', { Pr: 0.4, Ns: 90 })['Ns']).toMatchObject({
      how: 'none',
      losesNothing: true,
    })
  })
})
