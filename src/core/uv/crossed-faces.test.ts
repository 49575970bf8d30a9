/** Polygons that run through themselves in the UVs, by shapes of which it is known. */
import { expect, test } from 'vitest'
import { howMany } from '../../../tests/how-many.ts'
import { meshOf, type Point } from '../../../tests/solids.ts'
import { chanceOf } from '../base/math/chance.ts'
import { crossedFaces } from './crossed-faces.ts'

/** One polygon with these UVs. */
function over(uvs: readonly (readonly [number, number])[], clear = 0): number[] {
  const points = uvs.map((_uv, at): Point => [Math.cos((2 * Math.PI * at) / uvs.length), 0, -Math.sin((2 * Math.PI * at) / uvs.length)]) // prettier-ignore
  const set = { name: 'uv', values: Float64Array.from(uvs.flat()), indices: Int32Array.from(uvs.keys()), depths: null } // prettier-ignore
  const mesh = meshOf(points, [uvs.map((_uv, at) => at)], { uvSets: [set] })
  return crossedFaces(mesh, set, clear)
}
const star = (corners: number, step: number): [number, number][] =>
  Array.from({ length: corners }, (_corner, at) => [
    0.5 + 0.4 * Math.cos((2 * Math.PI * step * at) / corners),
    0.5 + 0.4 * Math.sin((2 * Math.PI * step * at) / corners),
  ])

test('stars cross, and what only turns does not', () => {
  for (const corners of [5, 7, 9, 11]) {
    expect(over(star(corners, 1))).toEqual([])
    expect(over(star(corners, -1))).toEqual([])
    expect(over(star(corners, 2))).toEqual([0])
  }
})

test('any polygon seen from a place within crosses nothing, however deep its notches; two corners exchanged far apart do', () => {
  let crossed = 0
  for (let seed = 0; seed < howMany(200, 20_000); seed++) {
    const chance = chanceOf(seed)
    const corners = 6 + Math.floor(chance() * 20)
    const size = 10 ** (-4 * chance())
    const outline = Array.from({ length: corners }, (_corner, at): [number, number] => {
      const away = size * (0.2 + chance())
      const angle = (2 * Math.PI * (at + 0.4 * chance())) / corners
      return [0.5 + away * Math.cos(angle), 0.5 + away * Math.sin(angle)]
    })
    expect([seed, over(outline)]).toEqual([seed, []])
    // sides that lead across the middle meet others there
    const [a, b] = [Math.floor(chance() * corners), Math.floor(corners / 2)]
    const exchanged = [...outline]
    ;[exchanged[a], exchanged[(a + b) % corners]] = [outline[(a + b) % corners]!, outline[a]!]
    crossed += over(exchanged).length
  }
  expect(crossed).toBeGreaterThan(0.95 * howMany(200, 20_000))
})

test('what touches itself, lies on itself or has no area is told elsewhere, or not at all', () => {
  expect(over([[0, 0], [1, 0], [0, 1], [1, 1]])).toEqual([]) // prettier-ignore
  expect(over([[0, 0], [2, 0], [2, 2], [1, 0], [0, 2]])).toEqual([]) // prettier-ignore
  expect(over([[0, 0], [1, 0], [1, 0], [1, 1]])).toEqual([]) // prettier-ignore
  expect(over([[0, 0], [1, 0], [1, 1], [0, 1], [0, 0.5], [0, 0.7]])).toEqual([]) // prettier-ignore
  expect(over([[0, 0], [1, 0], [NaN, 1], [0, 1]])).toEqual([]) // prettier-ignore
  expect(over([[0, 0], [1, 0], [0, 1]])).toEqual([]) // prettier-ignore
})

test('only what reaches as far past each other as is asked', () => {
  const past = (by: number): [number, number][] => [[0, 0], [1, 0], [1, 1], [0.5, -by], [0, 1]] // prettier-ignore
  expect(over(past(0.01), 0.009)).toEqual([0])
  expect(over(past(0.01), 0.011)).toEqual([])
})
