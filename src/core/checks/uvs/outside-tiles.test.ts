import { expect, test } from 'vitest'
import { tryProblems } from '../../../../tests/checks.ts'
import { runChecks } from '../run-checks.ts'
import { uvsOf } from '../../../../tests/solids.ts'
import { cellUvs, mapped, one, png, square } from '../../../../tests/check-shapes.ts'

tryProblems('outside-tiles', {
  outside: {
    bad: one(square({ uvSets: [uvsOf(cellUvs(1, 0, 0.9))] })),
    count: 1,
    near: one(square({ uvSets: [uvsOf(cellUvs(1, 0, 0.9))] })),
    nearSettings: { tiles: true },
  },
  across: {
    bad: one(square({ uvSets: [uvsOf(cellUvs(0.5, 0, 0.6))] })),
    count: 1,
    near: one(square({ uvSets: [uvsOf(cellUvs(0.4, 0, 0.6))] })),
  },
})

test('a map that names tiles says itself that they are used', () => {
  const scene = (file: string) => ({
    ...one(square({ faceMaterials: Int32Array.of(0), uvSets: [uvsOf(cellUvs(1, 0, 0.9))] })),
    materials: mapped([file, png(4, 4)]).materials,
  })
  const found = (file: string) =>
    runChecks(scene(file), { checks: ['outside-tiles'] }).map(({ problem }) => problem)
  expect(found('paint.<UDIM>.png')).toEqual([])
  expect(found('paint.png')).toEqual(['outside'])
})
