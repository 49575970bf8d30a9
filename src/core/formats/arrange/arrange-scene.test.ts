import { describe, expect, test } from 'vitest'
import { cubeOf, sceneOf } from '../../../../tests/solids.ts'
import type { Space } from '../../scene/scene.ts'
import { moveToSpace, pointsFactor, staysAsStated, type TargetSpace } from './arrange-scene.ts'

const own: Space = { unitMeters: 0.01, upAxis: 'y', frontAxis: 'z', handedness: 'right' }
const target = (more: Partial<TargetSpace>): TargetSpace => ({
  unitMeters: null,
  unitAs: 'points',
  upAxis: null,
  frontAxis: null,
  mirrored: null,
  axesAs: 'points',
  scale: 1,
  ...more,
})

describe('what is only stated', () => {
  test('a unit that is another one stays; the same one, none, or one that is converted doesn’t', () => {
    expect(staysAsStated(own, target({ unitMeters: 1, unitAs: 'metadata' }))).toEqual(['unit'])
    expect(staysAsStated(own, target({ unitMeters: 0.01, unitAs: 'metadata' }))).toEqual([])
    expect(staysAsStated(own, target({ unitAs: 'metadata' }))).toEqual([])
    expect(
      staysAsStated({ ...own, unitMeters: null }, target({ unitMeters: 1, unitAs: 'metadata' })),
    ).toEqual([])
    for (const unitAs of ['points', 'roots'] as const)
      expect(staysAsStated(own, target({ unitMeters: 1, unitAs }))).toEqual([])
  })
  test.each([
    ['up', { upAxis: 'z' }],
    ['front', { frontAxis: 'x' }],
    ['mirrored', { mirrored: true }],
  ] as const)('axes that are others stay: %s', (_what, axes) => {
    expect(staysAsStated(own, target({ ...axes, axesAs: 'metadata' }))).toEqual(['direction of the axes'])
    expect(staysAsStated(own, target(axes))).toEqual([])
  })
  test('axes that are the same don’t', () => {
    expect(
      staysAsStated(own, target({ upAxis: 'y', frontAxis: 'z', mirrored: false, axesAs: 'metadata' })),
    ).toEqual([])
  })
})

test('a size goes into the points, the roots or the unit, and is the same in the world', () => {
  const scene = sceneOf([cubeOf()])
  const [inPoints, onRoots, stated] = (['points', 'roots', 'metadata'] as const).map((unitAs) =>
    moveToSpace(scene, target({ unitMeters: unitAs === 'metadata' ? null : 1, unitAs, scale: 2 })),
  )
  const first = scene.meshes[0]!.points
  expect([...inPoints!.meshes[0]!.points]).toEqual([...first].map((value) => value * 0.02))
  expect(inPoints!.space.unitMeters).toBe(1)
  expect([...onRoots!.meshes[0]!.points]).toEqual([...first])
  expect(onRoots!.nodes[0]!.local.slice(0, 1)).toEqual([0.02])
  expect([...stated!.meshes[0]!.points]).toEqual([...first])
  expect(stated!.space.unitMeters).toBe(0.02)
  // where there is no unit to say it by
  expect(pointsFactor({ ...own, unitMeters: null }, target({ unitAs: 'metadata', scale: 3 }))).toBe(3)
  expect(pointsFactor(own, target({ unitAs: 'metadata', scale: 3 }))).toBe(1)
  expect(pointsFactor(own, target({ unitAs: 'roots', scale: 3 }))).toBe(1)
})
