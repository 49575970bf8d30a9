import { expect, test } from 'vitest'
import { runChecks } from '../run-checks.ts'
import { tryProblems } from '../../../../tests/checks.ts'
import { uvsOf } from '../../../../tests/solids.ts'
import { one, pair, cellUvs } from '../../../../tests/check-shapes.ts'

tryProblems('island-distance', {
  close: {
    bad: one(pair(true, 0, { uvSets: [uvsOf([...cellUvs(0, 0, 0.4), ...cellUvs(0.401, 0, 0.4)])] })),
    count: 1,
    near: one(pair(true, 0, { uvSets: [uvsOf([...cellUvs(0, 0, 0.4), ...cellUvs(0.403, 0, 0.4)])] })),
  },
})

test('islands of different materials lie on different maps and are never too close', () => {
  const near = { uvSets: [uvsOf([...cellUvs(0, 0, 0.4), ...cellUvs(0.401, 0, 0.4)])] }
  const found = (faceMaterials: Int32Array): number =>
    runChecks(one(pair(true, 0, { ...near, faceMaterials })), { checks: ['island-distance'] }).length
  expect(found(Int32Array.of(0, 0))).toBe(1)
  expect(found(Int32Array.of(0, 1))).toBe(0)
})

test('the distance that is told is below the limit that is told, also where written digits round it', () => {
  for (const gap of [4 / 2048, 4 / 2048 - 1e-6, 3.94 / 2048, 2 / 2048]) {
    const shape = pair(true, 0, { uvSets: [uvsOf([...cellUvs(0, 0, 0.4), ...cellUvs(0.4 + gap, 0, 0.4)])] })
    const [found] = runChecks(one(shape), { checks: ['island-distance'] })
    if (gap * 2048 > 3.95) expect(found).toBeUndefined()
    else expect(Number(found!.parameters.least)).toBeLessThan(4)
  }
})
