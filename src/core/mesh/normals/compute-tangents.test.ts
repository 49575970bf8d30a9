/**
 * Tangents against npm mikktspace 1.1.1, a WebAssembly build of the reference code: tests/reference/tangents,
 * copied into tests/reference/tangents. 32-bit floats, so within 1e-5.
 */
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { computeTangents } from './compute-tangents.ts'

interface Case {
  positions: number[][]
  normals: number[][]
  uvs: number[][]
  tangents: number[][]
}
const load = (name: string): Case =>
  JSON.parse(
    readFileSync(join(import.meta.dirname, `../../../../tests/reference/tangents/${name}.json`), 'utf8'),
  ) as Case

test.each(['bumpy-grid', 'mirrored-uv'])('%s', (name) => {
  const { positions, normals, uvs, tangents } = load(name)
  const found = computeTangents({ positions: positions.flat(), normals: normals.flat(), uvs: uvs.flat() })
  tangents.forEach((wanted, corner) =>
    wanted.forEach((value, axis) => expect(Math.abs(found[4 * corner + axis]! - value)).toBeLessThan(1e-5)),
  )
})

test('a triangle without area in the UVs takes what its neighbours have; alone it gets a plain one', () => {
  const flat = [0, 0, 0, 1, 0, 0, 1, 1, 0]
  const up = [0, 0, 1, 0, 0, 1, 0, 0, 1]
  expect([...computeTangents({ positions: flat, normals: up, uvs: [0, 0, 0, 0, 0, 0] })]).toEqual([
    1, 0, 0, 1, 1, 0, 0, 1, 1, 0, 0, 1,
  ])
})
