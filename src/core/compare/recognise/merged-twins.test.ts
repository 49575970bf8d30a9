/** Twins that came back as one part: what they were taken apart into is called after them, which says nothing of which is which. */
import { expect, test } from 'vitest'
import { anyReturn } from '../../../../tests/file-returns/make-return.ts'
import { textOf } from '../../../../tests/file-returns/file-part.ts'
import { readText } from '../../../../tests/meshes.ts'
import { compareScenes } from '../compare-scenes.ts'
import { recogniseReturn } from './recognise-return.ts'

test('merged, mirrored, sized and turned over: all of it moved as one, and each twin is where it was', () => {
  const { master, came, digits } = anyReturn(21363)
  const own = readText(textOf(master)).scene
  const back = readText(textOf(came, digits)).scene
  const asItCame = recogniseReturn(own, back)
  const { whole } = compareScenes(own, asItCame.returned, () => {}, asItCame.matching)
  expect(whole!.factor).toBeCloseTo(39.37, 3)
  expect(whole!.mirror).toBe('X')
  const undone = recogniseReturn(own, back, { undoWhole: true })
  for (const { match, correspondence, master: mesh, returned } of undone.matching.matched) {
    const { name } = own.nodes[match.masterNode]!
    expect(correspondence.matchedFaceCount, name).toBe(mesh.faceOffsets.length - 1)
    correspondence.pointToReturned.forEach((other, point) => {
      for (let axis = 0; axis < 3; axis++)
        expect(returned.points[3 * other + axis]!).toBeCloseTo(mesh.points[3 * point + axis]!, 4)
    })
  }
})
