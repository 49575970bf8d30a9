/** Parts that were cut up and of which every point has moved a little: their pieces lie on them and come to as much. */
import { describe, expect, test } from 'vitest'
import type { FaultName } from '../../../../tests/file-returns/faults.ts'
import { textOf } from '../../../../tests/file-returns/file-part.ts'
import { madeReturn, type FileReturn } from '../../../../tests/file-returns/make-return.ts'
import type { ShapeName } from '../../../../tests/file-returns/shapes.ts'
import { readText } from '../../../../tests/meshes.ts'
import { recogniseReturn } from '../recognise/recognise-return.ts'

const found = ({ master, came, digits }: Pick<FileReturn, 'master' | 'came' | 'digits'>) => {
  const { matching, findings } = recogniseReturn(readText(textOf(master)).scene, readText(textOf(came, digits)).scene) // prettier-ignore
  return {
    codes: findings.map(({ code }) => code),
    polygons: matching.matched.reduce((sum, part) => sum + part.correspondence.matchedFaceCount, 0),
    // one of the master's, and one that came
    alone: matching.unmatched.map(({ masterNode }) => masterNode >= 0),
  }
}
const made = (shape: ShapeName, faults: readonly FaultName[], seed: number): FileReturn =>
  madeReturn(shape, false, faults, seed)

describe.each(['lump', 'ring', 'cloth', 'fins'] as const)('%s', (shape) => {
  test.each([1, 2, 3, 5])('in pieces under other names, roughened: all of it is there, seed %i', (seed) => {
    const { master, came, digits } = made(shape, ['roughened', 'cutUp', 'reordered'], seed)
    const parts = came.map((part, at) => ({ ...part, name: `object_${at}` }))
    const polygons = master[0]!.polygons.length
    if (parts.length > 1)
      expect(found({ master, came: parts, digits })).toEqual({
        codes: ['return.part-cut'],
        polygons,
        alone: [],
      })
  })
})

test('something new that lies on a part is new, and so is what comes to more than is missing', () => {
  const { master, came, digits } = made('cloth', ['roughened', 'cutUp'], 2)
  const [first] = came
  // a patch on it, of polygons of its own
  const patch = { ...first!, name: 'patch', polygons: first!.polygons.slice(0, 4) }
  const whole = made('cloth', ['roughened'], 2)
  const told = found({ master, came: [...whole.came, patch], digits })
  expect(told.codes).toEqual([])
  expect(told.alone).toEqual([false])
  const twice = [...came, ...came.map((part) => ({ ...part, name: `${part.name} again` }))]
  expect(found({ master, came: twice, digits }).codes).not.toContain('return.part-cut')
})
