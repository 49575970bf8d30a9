import { describe, expect, test } from 'vitest'
import { EMPTY_MESH, type ColorSet, type Mesh } from '../../scene/mesh.ts'
import { joinMesh } from './join-mesh.ts'

/** Two triangles that meet in an edge and have three vertices each; one of a third lies elsewhere. */
const split: Mesh = {
  ...EMPTY_MESH,
  name: 'split',
  points: Float64Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0]),
  faceOffsets: Uint32Array.of(0, 3, 6),
  faceVertices: Uint32Array.of(0, 1, 2, 3, 4, 5),
}
/** Of each vertex the number of the point that it becomes. */
const POINTS = [0, 1, 2, 1, 3, 2]
const colored = (values: readonly number[]): ColorSet => ({
  name: 'paint',
  components: 3,
  values: Float64Array.from(values.flatMap((value) => [value, value / 2, 1])),
  per: 'points',
  indices: new Int32Array(0),
})

describe('joined points', () => {
  test('with one colour keep it', () => {
    const { mesh, joined } = joinMesh({ ...split, colorSets: [colored([0.1, 0.2, 0.3, 0.2, 0.4, 0.3])] })
    expect(joined).toBe(2)
    expect([...mesh.faceVertices]).toEqual(POINTS)
    expect(mesh.colorSets).toEqual([colored([0.1, 0.2, 0.3, 0.4])])
  })
  test.each([
    ['first', 0],
    ['second', 1],
    ['third', 2],
  ] as const)('that differ in the %s channel have it by corners', (_which, channel) => {
    const set = colored([0.1, 0.2, 0.3, 0.2, 0.4, 0.3])
    set.values[3 * 5 + channel] = 0.9
    const [made] = joinMesh({ ...split, colorSets: [set] }).mesh.colorSets
    expect(made!.per).toBe('corners')
    split.faceVertices.forEach((vertex, corner) => {
      const at = 3 * made!.indices[corner]!
      expect([...made!.values.slice(at, at + 3)]).toEqual([...set.values.slice(3 * vertex, 3 * vertex + 3)])
    })
    // what is the same at a point is one value
    expect(made!.values).toHaveLength(3 * 5)
  })
  test('have the UVs that their corners had, those that are the same shared', () => {
    const values = Float64Array.from(POINTS.flatMap((point) => [point / 4, 0]))
    values[2 * 5 + 1] = 0.5
    const uvs = { name: 'uv', values, indices: Int32Array.from(split.faceVertices), depths: null }
    const [made] = joinMesh({ ...split, uvSets: [uvs] }).mesh.uvSets
    expect(made!.values).toHaveLength(2 * 5)
    split.faceVertices.forEach((vertex, corner) => {
      const at = 2 * made!.indices[corner]!
      expect([made!.values[at], made!.values[at + 1]]).toEqual([values[2 * vertex], values[2 * vertex + 1]])
    })
  })
  test('what has none is given back as it is', () => {
    const apart = { ...split, points: split.points.map((value, at) => value + (at < 9 ? 0 : 5)) }
    const made = joinMesh(apart)
    expect(made.joined).toBe(0)
    expect(made.mesh).toBe(apart)
  })
})
