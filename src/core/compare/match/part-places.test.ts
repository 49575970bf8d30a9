import { describe, expect, test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import type { Scene } from '../../scene/scene.ts'
import { cubeOf, sceneOf, type Point } from '../../../../tests/solids.ts'
import { matchParts } from './match-parts.ts'

const PLACES: readonly Point[] = [[0, 0, 0], [3, 0, 1], [0, 4, 0], [5, 5, 5]] // prettier-ignore
/** Boxes of one name, each moved by so much at most. */
function boxes(places: readonly Point[], most: number, factor = 1): Scene {
  const chance = chanceOf(7)
  const scene = sceneOf(
    places.map((at) => {
      const cube = cubeOf({}, 1, at)
      return { ...cube, points: cube.points.map((value) => factor * (value + most * (2 * chance() - 1))) }
    }),
  )
  return { ...scene, nodes: scene.nodes.map((node) => ({ ...node, name: 'box' })) }
}
const pairsOf = (master: Scene, returned: Scene): string[] =>
  matchParts(master, returned)
    .filter(({ masterNode, returnedNode }) => masterNode >= 0 && returnedNode >= 0)
    .map(({ masterNode, returnedNode }) => `${masterNode} ${returnedNode}`)

describe('alike parts of one name, all of them moved a little', () => {
  const master = boxes(PLACES, 0)
  test('go by where they stand', () => {
    const order = [2, 0, 3, 1]
    expect(pairsOf(master, boxes(order.map((at) => PLACES[at]!), 0.05))).toEqual(['0 1', '1 3', '2 0', '3 2'])
  }) // prettier-ignore
  test('also where one is missing, and something new stands far off', () => {
    const returned = boxes([PLACES[3]!, [40, 0, 0], PLACES[1]!, PLACES[2]!], 0.05)
    const [, far] = returned.nodes
    const named = { ...returned, nodes: returned.nodes.map((node) => (node === far ? { ...node, name: 'else' } : node)) } // prettier-ignore
    // the one that is new is no farther from the missing one than anything else of its kind
    const pairs = pairsOf(master, named)
    for (const pair of ['1 2', '2 3', '3 0']) expect(pairs).toContain(pair)
  })
  test('and where all of it is another size', () => {
    expect(pairsOf(master, boxes(PLACES, 0.02, 100))).toEqual(['0 0', '1 1', '2 2', '3 3'])
  })
})
