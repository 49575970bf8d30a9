import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, moved, sceneOf, withNodes } from '../../../tests/solids.ts'
import type { Matrix } from '../base/math/matrix.ts'
import type { Scene, Space } from '../scene/scene.ts'
import { heightOf, measureSize, sceneBox, scaleForHeight, type SizeReport } from './size.ts'

const scaled = (...by: [number, number, number]): Matrix => [by[0], 0, 0, 0, 0, by[1], 0, 0, 0, 0, by[2], 0, 0, 0, 0, 1] // prettier-ignore
const cube = sceneOf([cubeOf()])
const space = (scene: Scene, more: Partial<Space>): Scene => ({
  ...scene,
  space: { ...scene.space, ...more },
})
const inMeters = space(cube, { unitMeters: 1 })
const stated = { unit: 'stated', unitMeters: 0.01 } as const
const numbers = { unit: 'numbers', unitMeters: 0.01 } as const
const all = (): boolean => true

describe('what is drawn, in the world', () => {
  const tower = sceneOf([cubeOf(), gridOf(2, 4)])
  test('the box of all, or of some; nodes without a mesh have none', () => {
    const scene = withNodes(tower, (_node, at) => ({ local: moved(at * 5, at * 2, 0) }))
    const bare = {
      ...scene,
      nodes: [...scene.nodes, { ...scene.nodes[0]!, mesh: -1, local: moved(99, 99, 99) }],
    }
    expect(sceneBox(bare)).toEqual({ min: [0, 0, -4], max: [7, 2, 1] })
    expect(sceneBox(bare, (node) => node === 1)).toEqual({ min: [5, 2, -4], max: [7, 2, 0] })
    expect(sceneBox(bare, () => false)).toBeNull()
    expect(sceneBox(sceneOf([]))).toBeNull()
  })
  test('the height goes by the axis that is up', () => {
    const long = withNodes(cube, () => ({ local: scaled(2, 3, 5) }))
    expect(heightOf(space(long, { upAxis: 'x' }))).toBe(2)
    expect(heightOf(space(long, { upAxis: 'y' }))).toBe(3)
    expect(heightOf(space(long, { upAxis: '-z' }))).toBe(5)
    expect(heightOf(sceneOf([]))).toBe(0)
  })
})

describe('what the tool makes of it', () => {
  test('the file’s own unit where the tool goes by it and the file has one, else the tool’s', () => {
    const of = (...[unit, reading]: [number | null, typeof stated | typeof numbers]): SizeReport =>
      measureSize(inMeters, all, cube, unit, reading)
    expect([of(0.1, stated).seenMeters, of(null, stated).seenMeters]).toEqual([0.1, 0.01])
    expect(of(0.1, numbers).seenMeters).toBe(0.01)
    expect([of(0.1, stated).factor, of(1, stated).factor, of(0.1, numbers).factor]).toEqual([10, 1, 100])
    expect(of(0.1, stated)).toMatchObject({
      meters: 1,
      statedUnit: 0.1,
      height: 1,
      pointsHeight: 1,
      rootScale: 1,
    })
  })
  test('a version without a unit has no metres, and nothing makes it right', () => {
    const report = measureSize(space(cube, { unitMeters: null }), all, cube, 1, stated)
    expect([report.meters, report.factor, report.seenMeters]).toEqual([null, null, 1])
  })
  test('only what leaves is measured', () => {
    const two = withNodes(space(sceneOf([cubeOf(), cubeOf()]), { unitMeters: 1 }), (_node, at) => ({ local: moved(0, at * 9, 0) })) // prettier-ignore
    expect(measureSize(two, all, cube, 1, stated).meters).toBe(10)
    expect(measureSize(two, (node) => node === 0, cube, 1, stated).meters).toBe(1)
  })
  test('what is flat has no size that a factor could be told from', () => {
    const report = measureSize(inMeters, all, sceneOf([gridOf(2, 2)]), 1, stated)
    expect([report.height, report.seenMeters, report.factor]).toEqual([0, null, null])
    expect(scaleForHeight(report, 2, 1)).toBeNull()
  })
  test('the scale of the roots, where they have one', () => {
    const roots = (...scales: number[]): SizeReport => {
      const scene = sceneOf(scales.map(() => cubeOf()))
      return measureSize(
        inMeters,
        all,
        withNodes(scene, (_node, at) => ({ local: scaled(scales[at]!, scales[at]!, scales[at]!) })),
        1,
        stated,
      )
    }
    expect([roots(100).rootScale, roots(100).pointsHeight, roots(100).height]).toEqual([100, 1, 100])
    // what rounding left is no other scale
    expect(roots(100, 100.00000001).rootScale).toBe(100)
    expect([roots(100, 50).rootScale, roots(100, 50).pointsHeight]).toEqual([1, 100])
    expect(roots(100.00000003).rootScale).toBe(100)
    expect(roots(100.001).rootScale).toBe(100.001)
    expect([roots(0).rootScale, roots(0).pointsHeight]).toEqual([0, 0])
    // children of a root don’t count
    const child = withNodes(sceneOf([cubeOf(), cubeOf()]), (_node, at) => (at ? { parent: 0, local: scaled(7, 7, 7) } : {})) // prettier-ignore
    expect(measureSize(inMeters, all, child, 1, stated).rootScale).toBe(1)
    // turned, a root is as long in each column
    const turned = withNodes(cube, () => ({ local: [0, 2, 0, 0, -2, 0, 0, 0, 0, 0, 2, 0, 0, 0, 0, 1] }))
    expect(measureSize(inMeters, all, turned, 1, stated).rootScale).toBe(2)
  })
  test('an entered height: by how much the file is to be larger, on top of what it is already', () => {
    const report = measureSize(inMeters, all, cube, 0.01, stated)
    expect([scaleForHeight(report, 1.78, 1), scaleForHeight(report, 1.78, 2)]).toEqual([178, 356])
  })
})
