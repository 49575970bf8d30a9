/** What materials are like: found in the return by name or by their polygons, and never called the same unseen. */
import { describe, expect, test } from 'vitest'
import { cubeOf, materialOf, sceneOf } from '../../../../../tests/solids.ts'
import { compareScenes } from '../../compare-scenes.ts'
import { reconcile } from '../../../reconcile/reconcile.ts'
import type { Material } from '../../../scene/material.ts'
import { completeIds } from '../../../scene/ids.ts'
import type { Scene } from '../../../scene/scene.ts'

const rust = { properties: [{ name: 'Kd', values: [0.5, 0.2, 0.1], text: null }] }
const paint = { properties: [{ name: 'Kd', values: [0.1, 0.2, 0.9], text: null }] }
const hullOf = (materials: Material[], faces: number[]): Scene =>
  completeIds(sceneOf([cubeOf({ faceMaterials: Int32Array.from(faces) })], { materials }))
const cellOf = (master: Scene, returned: Scene) => compareScenes(master, returned).rows[0]!.cells.surfaces!

const ALL = [0, 0, 0, 0, 0, 0]
const HALF = [0, 0, 0, 1, 1, 1]

describe('surfaces', () => {
  test('of which the master knows the name only are gained, and taken', () => {
    const master = hullOf([materialOf('hull')], ALL)
    const returned = hullOf([materialOf('hull', rust)], ALL)
    expect([cellOf(master, returned).state, cellOf(master, returned).empty]).toEqual(['gained', false])
    const { scene, taken } = reconcile(master, returned, { take: ['surfaces'] })
    expect(taken).toEqual({ surfaces: 1 })
    expect(scene.materials[0]).toMatchObject({ name: 'hull', ...rust })
  })
  test('of one material that only the return describes beside one that both do are told', () => {
    const master = hullOf([materialOf('hull', rust), materialOf('keel')], HALF)
    const returned = hullOf([materialOf('hull', rust), materialOf('keel', paint)], HALF)
    expect(cellOf(master, returned)).toMatchObject({ state: 'changed', changedCount: 1, totalCount: 2 })
  })
  test('that neither describes are nothing', () => {
    expect(cellOf(hullOf([materialOf('hull')], ALL), hullOf([materialOf('hull')], ALL))).toMatchObject({
      state: 'same',
      empty: true,
    })
  })
  test('of a renamed material are those of its polygons: the same, or changed and taken under its own name', () => {
    const master = hullOf([materialOf('hull', rust), materialOf('keel', paint)], HALF)
    const renamed = hullOf([materialOf('hull_SG', rust), materialOf('keel', paint)], HALF)
    expect(cellOf(master, renamed).state).toBe('same')
    expect(reconcile(master, renamed, { take: ['surfaces'] }).taken).toEqual({})
    const repainted = hullOf([materialOf('hull_SG', paint), materialOf('keel', paint)], HALF)
    expect(cellOf(master, repainted)).toMatchObject({ state: 'changed', changedCount: 1 })
    const { scene, taken } = reconcile(master, repainted, { take: ['surfaces'] })
    expect(taken).toEqual({ surfaces: 1 })
    expect(scene.materials[0]).toMatchObject({ name: 'hull', ...paint })
  })
  test('that came back bare are lost; ticking them takes nothing, and nothing is counted', () => {
    const master = hullOf([materialOf('hull', rust)], ALL)
    const returned = hullOf([materialOf('hull')], ALL)
    expect(cellOf(master, returned).state).toBe('lost')
    const { scene, taken } = reconcile(master, returned, { take: ['surfaces'] })
    expect(taken).toEqual({})
    expect(scene.materials[0]).toMatchObject(rust)
  })
})
