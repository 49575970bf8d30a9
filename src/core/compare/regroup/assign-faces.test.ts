/** Of which part each polygon is, where a piece that hangs together is of several, or nearly all of it of one. */
import { describe, expect, test } from 'vitest'
import { gridOf, moved, sharedUvs } from '../../../../tests/solids.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { assignFaces } from './assign-faces.ts'

const standing = (mesh: Mesh) => ({ mesh, points: mesh.points })
/** UVs of its own, off by so much. */
const laid = (mesh: Mesh, off: number): Mesh => ({
  ...mesh,
  uvSets: [
    sharedUvs(
      Array.from({ length: pointCountOf(mesh) }, (_point, at): [number, number] => [
        off + Math.floor(at / 7) / 100,
        off + (at % 7) / 90,
      ]),
      [...mesh.faceVertices],
    ),
  ],
})
const hilly = (x: number, z: number): number => Math.sin(x) + 0.4 * Math.cos(z * 1.3)
/** Six by six squares; the second lies beside the first. */
const [left, right] = [
  laid(gridOf(6, 6, {}, hilly), 0),
  laid(
    transformMesh(
      gridOf(6, 6, {}, (x, z) => hilly(x + 6, z)),
      moved(6, 0, 0),
    ),
    0.4,
  ),
]
/** Both as one, the points of their common side joined. */
const whole: Mesh = (() => {
  const both = gridOf(12, 6, {}, hilly)
  const values: number[] = []
  const indices: number[] = []
  for (let face = 0; face < faceCountOf(both); face++) {
    const [column, row] = [face % 12, Math.floor(face / 12)]
    const own = column < 6 ? left : right
    const from = 4 * (6 * row + (column % 6))
    for (let corner = 0; corner < 4; corner++) {
      const uv = own.uvSets[0]!.indices[from + corner]!
      indices.push(values.length / 2)
      values.push(own.uvSets[0]!.values[2 * uv]!, own.uvSets[0]!.values[2 * uv + 1]!)
    }
  }
  return {
    ...both,
    uvSets: [{ ...left.uvSets[0]!, values: Float64Array.from(values), indices: Int32Array.from(indices) }],
  }
})()

describe('a piece that hangs together', () => {
  test('of two parts is taken apart where they met', () => {
    const { assigned } = assignFaces([left, right].map(standing), [standing(whole)], [-1])
    expect([...assigned[0]!]).toEqual(Array.from({ length: 72 }, (_face, face) => Number(face % 12 >= 6)))
  })
  test('of one part, on which a polygon says it is of another, is of that one all the same', () => {
    for (const odd of [0, 14, 35]) {
      const uvs = left.uvSets[0]!
      const values = [...uvs.values]
      const indices = uvs.indices.slice()
      for (let corner = 0; corner < 4; corner++) {
        const uv = right.uvSets[0]!.indices[4 * odd + corner]!
        indices[4 * odd + corner] = values.length / 2
        values.push(right.uvSets[0]!.values[2 * uv]!, right.uvSets[0]!.values[2 * uv + 1]!)
      }
      // bent, so that places say nothing
      const came = {
        ...left,
        points: left.points.map((value, at) => value + 0.3 * Math.sin(at)),
        uvSets: [{ ...uvs, values: Float64Array.from(values), indices }],
      }
      const { assigned } = assignFaces([left, right].map(standing), [standing(came)], [-1])
      expect([odd, ...assigned[0]!]).toEqual([odd, ...Array<number>(36).fill(0)])
    }
  })
})
