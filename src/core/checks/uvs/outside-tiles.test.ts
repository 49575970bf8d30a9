import { expect, test } from 'vitest'
import { tryProblems } from '../../../../tests/checks.ts'
import { findingText, runChecks } from '../run-checks.ts'
import type { Scene } from '../../scene/scene.ts'
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
  expect(found('paint.<UVTILE>.png')).toEqual([])
  expect(found('paint.png')).toEqual(['outside'])
})

test('ten columns have numbers by one way of naming, all by the other; what lies outside is said of each by itself', () => {
  const far = (file: string, column: number): Scene => ({
    ...one(square({ faceMaterials: Int32Array.of(0), uvSets: [uvsOf(cellUvs(column, 3, 0.9))] })),
    materials: mapped([file, png(4, 4)]).materials,
  })
  const texts = (scene: Scene) => runChecks(scene, { checks: ['outside-tiles'] }).map(findingText)
  expect(texts(far('paint.<UDIM>.png', 9))).toEqual([])
  expect(texts(far('paint.<UDIM>.png', 10))).toEqual(['1 polygon lies outside the tiles that have a number.'])
  expect(texts(far('paint.<UVTILE>.png', 10))).toEqual([])
  expect(texts(far('paint.<UVTILE>.png', -1))).toEqual([
    '1 polygon lies outside the tiles that have a number.',
  ])
  expect(texts(far('paint.png', 9))).toEqual(['1 polygon lies outside the unit tile.'])
})
