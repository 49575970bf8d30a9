/** What glass and slits let through is not called hidden, and removing what is hidden leaves nothing more to find. */
import { describe, expect, test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import { cubeOf, materialOf, moved, scaled, sceneOf, withNodes } from '../../../../tests/solids.ts'
import { multiplyMatrices } from '../../base/math/matrix.ts'
import { runChecks } from '../../checks/run-checks.ts'
import { completeIds } from '../../scene/ids.ts'
import type { Material } from '../../scene/material.ts'
import type { Scene } from '../../scene/scene.ts'
import { runStep } from '../../steps/run-steps.ts'
import { isSeeThrough } from '../../surfaces/see-through.ts'

const value = (name: string, ...values: number[]): Partial<Material> => ({
  properties: [{ name, values, text: null }],
})
/** A burner within a case of a material. */
const lamp = (caseMaterial: Material): Scene =>
  completeIds(
    withNodes(
      sceneOf(
        [
          cubeOf({ name: 'case', faceMaterials: new Int32Array(6).fill(0) }),
          cubeOf({ name: 'burner', faceMaterials: new Int32Array(6).fill(1) }),
        ],
        { materials: [caseMaterial, materialOf('brass')] },
      ),
      (_node, at) => ({
        local: at === 0 ? scaled(4, 4, 4) : multiplyMatrices(moved(1.5, 1.5, 1.5), scaled(1, 1, 1)),
      }),
    ),
  )
const hiddenIn = (scene: Scene): number =>
  runChecks(scene, { checks: ['hidden-faces'] }).reduce((sum, { count }) => sum + count, 0)

describe('polygons nobody can see', () => {
  test('are those within an opaque case', () => expect(hiddenIn(lamp(materialOf('tin')))).toBe(6))
  test.each([
    ['opacity in an MTL', value('d', 0.35)],
    ['transparency in an MTL', value('Tr', 0.65)],
    ['opacity of any vendor', value('Studio|Glass|Opacity', 0.35)],
    ['transparency factor', value('TransparencyFactor', 0.65)],
    [
      'a map of opacity',
      { maps: [{ property: 'map_d', slot: 'opacity' as const, file: 'holes.png', options: [] }] },
    ],
  ])('are none behind glass: %s', (_what, more) => {
    const scene = lamp(materialOf('glass', more))
    expect(hiddenIn(scene)).toBe(0)
    expect(runStep(scene, { step: 'remove-hidden', params: {} }).changedCount).toBe(0)
  })
  test('opaque is what says so', () => {
    expect(isSeeThrough(materialOf('tin', value('d', 1)) as Material)).toBe(false)
    expect(isSeeThrough(materialOf('tin', value('Tr', 0)) as Material)).toBe(false)
    expect(isSeeThrough(materialOf('tin', value('Kd', 0.2, 0.2, 0.2)) as Material)).toBe(false)
  })
  test('removed once are found no more', () => {
    for (let seed = 1; seed <= 25; seed++) {
      const chance = chanceOf(seed)
      const count = 3 + Math.floor(chance() * 8)
      const heap = completeIds(
        withNodes(sceneOf(Array.from({ length: count }, (_cube, at) => cubeOf({ name: `c${at}` }))), () => {
          const size = 0.3 + 2 * chance()
          return { local: multiplyMatrices(moved(chance(), chance(), chance()), scaled(size, size, size)) }
        }),
      )
      const once = runStep(heap, { step: 'remove-hidden', params: {} })
      expect([seed, runStep(once.scene, { step: 'remove-hidden', params: {} }).changedCount]).toEqual([
        seed,
        0,
      ])
    }
  })
})
