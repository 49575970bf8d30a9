/** Parts by their shape: how many polygons of each number of corners they have, in any order. */
import { expect, test } from 'vitest'
import { sceneOf } from '../../../../tests/solids.ts'
import { EMPTY_MESH, type Mesh } from '../../scene/mesh.ts'
import { matchParts } from './match-parts.ts'

/** Polygons of so many corners each, over as many points. */
const meshOf = (name: string, sizes: readonly number[], at = 0): Mesh => {
  const count = sizes.reduce((sum, size) => sum + size, 0)
  return {
    ...EMPTY_MESH,
    name,
    points: Float64Array.from({ length: 3 * count }, (_value, k) => at + Math.sin(k)),
    faceVertices: Uint32Array.from({ length: count }, (_value, k) => k),
    faceOffsets: Uint32Array.from([0, ...sizes.map((_size, k) => sizes.slice(0, k + 1).reduce((sum, size) => sum + size, 0))]), // prettier-ignore
  }
}
const pairs = (master: readonly Mesh[], returned: readonly Mesh[]): string[] =>
  matchParts(sceneOf(master), sceneOf(returned)).map(
    ({ masterNode, returnedNode, by }) => `${masterNode}-${returnedNode} ${by}`,
  )

test('the same polygons in another order are the same shape, and as many corners of others are not', () => {
  // twelve corners each: of 3, 4 and 5; of three 4s; of four 3s
  const mixed = meshOf('a', [3, 4, 5])
  const quads = meshOf('b', [4, 4, 4], 40)
  const triangles = meshOf('c', [3, 3, 3, 3], 80)
  const came = [meshOf('x', [3, 3, 3, 3], 200), meshOf('y', [5, 3, 4], 240), meshOf('z', [4, 4, 4], 280)]
  expect(pairs([mixed, quads, triangles], came)).toEqual(['0-1 shape', '1-2 shape', '2-0 shape'])
})

test('two of one number of corners and one of another are not one and two', () => {
  // 4 + 4 + 6 and 5 + 5 + 4 have fourteen corners of three polygons each
  const master = [meshOf('a', [4, 4, 6]), meshOf('b', [5, 5, 4], 40)]
  const came = [meshOf('x', [4, 5, 5], 400), meshOf('y', [6, 4, 4], 440)]
  expect(pairs(master, came)).toEqual(['0-1 shape', '1-0 shape'])
})
