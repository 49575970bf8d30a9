/** The order of points, believed where what has the same numbers lies about where it lay. */
import { expect, test } from 'vitest'
import { gridOf, turnedAbout } from '../../../../../tests/solids.ts'
import { transformMesh } from '../../../mesh/rebuilding/transform-mesh.ts'
import type { Mesh } from '../../../scene/mesh.ts'
import { byOrder } from './by-order.ts'

/** Five by four points, a step from one to the next. */
const sheet = gridOf(4, 3)
const same = Array.from({ length: 20 }, (_point, at) => at)
const raised = (from: number, by: number): Mesh => ({
  ...sheet,
  points: sheet.points.map((value, at) => (at >= 3 * from && at % 3 === 1 ? value + by : value)),
})

test('a row at the end that moved by less than half a step is what it was; by more, points may have gone or come', () => {
  expect([...byOrder(sheet, raised(16, 0.3))!]).toEqual(same)
  expect(byOrder(sheet, raised(16, 0.7))).toBeNull()
})

test('sized, turned and moved as a whole it has its order still', () => {
  const turned = transformMesh(raised(16, 0.3), turnedAbout([1, 2, 3], 70))
  const points = turned.points.map((value, at) => 12 * value + (at % 3))
  expect([...byOrder(sheet, { ...turned, points })!]).toEqual(same)
})

test('a point more at the beginning moves all numbers on, which is no order', () => {
  const points = Float64Array.from([...sheet.points.subarray(0, 3), ...sheet.points])
  expect(byOrder(sheet, { ...sheet, points })).toBeNull()
})

test('without points there is none', () => {
  const nothing = { ...sheet, points: new Float64Array(0) }
  expect([byOrder(sheet, nothing), byOrder(nothing, sheet)]).toEqual([null, null])
})
