/** Symmetrical parts that came back in pieces: which side is which only a layout, labels or their place tell. */
import { expect, test } from 'vitest'
import { renumbered } from '../../../../tests/arranged.ts'
import { gridOf, materialOf, sceneOf, sharedUvs, turnedAbout } from '../../../../tests/solids.ts'
import { transformPoints } from '../../base/math/matrix.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX, type Scene } from '../../scene/scene.ts'
import { correspond } from '../match/correspond.ts'
import type { MatchedPart } from '../traits/trait.ts'
import { mayLieOtherwise } from './lies-otherwise.ts'

/** A hill on a square, the same from all four sides. */
const hill: Mesh = { ...gridOf(8, 8, { name: 'hill', uvSets: [] }, (x, z) => Math.cos((x - 4) / 3) * Math.cos((z - 4) / 3)) } // prettier-ignore
const withMaterials = (mesh: Mesh): Mesh => ({
  ...mesh,
  faceMaterials: Int32Array.from({ length: faceCountOf(mesh) }, (_face, face) => Number(face % 8 < 3)),
})
const withLayout = (mesh: Mesh): Mesh => ({
  ...mesh,
  uvSets: [
    sharedUvs(
      Array.from({ length: pointCountOf(mesh) }, (_point, at): [number, number] => [at / 99, (at % 9) / 10]),
      [...mesh.faceVertices],
    ),
  ],
})
const sceneWith = (...meshes: Mesh[]): Scene => ({ ...sceneOf(meshes), materials: [materialOf('wood'), materialOf('tin')] }) // prettier-ignore
/** The very pairs, of what was numbered anew and moved as a whole, as if it had come in pieces. */
function moved(mesh: Mesh, matrix: readonly number[], more: Partial<MatchedPart> = {}): boolean {
  const other = renumbered(mesh, 9)
  const correspondence = correspond(mesh, other)
  expect(correspondence.matchedFaceCount).toBe(64)
  const returned = { ...other, points: transformPoints(other.points, [...matrix]) }
  const part: MatchedPart = {
    match: { masterNode: 0, returnedNode: 0, by: 'pieces' },
    master: mesh,
    returned,
    correspondence: { ...correspondence, guess: false },
    countedFrom: [0, 0, 0],
    returnedLocal: IDENTITY_MATRIX,
    placedOtherwise: false,
    ...more,
  }
  return mayLieOtherwise(sceneWith(mesh), sceneWith(returned), part)
}
const TURNED = turnedAbout([1, 2, 0.5], 40)
const PLACE = turnedAbout([0, 1, 0], 0)

test('moved, it may', () => {
  expect(moved(hill, TURNED)).toBe(true)
})
test('in its place it does not, nor where another way would move it farther', () => {
  expect(moved(hill, PLACE)).toBe(false)
  expect(moved(hill, turnedAbout([0, 1, 0], 5))).toBe(false)
  expect(moved(hill, turnedAbout([0, 1, 0], 45))).toBe(true)
})
test('with a layout that nobody touched it does not', () => {
  expect(moved(withLayout(hill), TURNED)).toBe(false)
})
test('with materials that say which side is which it does not; with what is alike on two sides it may', () => {
  const sided = withMaterials(hill)
  // one of the middle too, so that it is not its own mirror image
  sided.faceMaterials![63] = 1
  expect(moved(sided, TURNED)).toBe(false)
  const banded = { ...hill, faceMaterials: Int32Array.from({ length: 64 }, (_face, face) => Number(face % 8 === 0 || face % 8 === 7)) } // prettier-ignore
  expect(moved(banded, turnedAbout([0, 1, 0], 90))).toBe(true)
})
test('one that came back whole under its name was asked before', () => {
  expect(moved(hill, TURNED, { match: { masterNode: 0, returnedNode: 0, by: 'name' } })).toBe(false)
})
