/** Parts that somebody has paired by hand stay paired, and the rest follows. */
import { expect, test } from 'vitest'
import { cubeOf, gridOf, moved, sceneOf } from '../../../../tests/solids.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { recogniseReturn } from './recognise-return.ts'

const master = sceneOf([gridOf(3, 3), transformMesh(cubeOf(), moved(9, 0, 0))])
/** Both made anew, under other names and elsewhere. */
const returned = sceneOf([
  { ...transformMesh(gridOf(5, 2), moved(0, 30, 0)), name: 'one', uvSets: [] },
  { ...transformMesh(gridOf(2, 7), moved(40, 30, 9)), name: 'two', uvSets: [] },
])
const pairsOf = (...hand: [part: number, returnedNode: number, name?: string][]): unknown[] =>
  recogniseReturn(master, returned, {
    pairs: hand.map(([part, returnedNode, name]) => ({
      part: master.nodes[part]!.id,
      returnedNode,
      name: name ?? returned.nodes[returnedNode]!.name,
    })),
  }).matching.matched.map(({ match }) => [match.masterNode, match.returnedNode, match.by])

test('two that nothing shows to be the same', () => {
  expect(pairsOf()).toEqual([])
  expect(pairsOf([1, 0])).toContainEqual([1, 0, 'hand'])
  expect(pairsOf([1, 0], [0, 1])).toEqual([
    [0, 1, 'hand'],
    [1, 0, 'hand'],
  ])
})
test('each goes with one other, and only with what is there under that name', () => {
  expect(pairsOf([1, 0], [0, 0])).not.toContainEqual([0, 0, 'hand'])
  expect(pairsOf([1, 0, 'another'])).toEqual([])
  expect(pairsOf([1, 17, 'one'])).toEqual([])
})
test('against their names too', () => {
  const named = {
    ...returned,
    nodes: returned.nodes.map((node, at) => ({ ...node, name: `part_${at + 1}` })),
  }
  const hand = [{ part: master.nodes[0]!.id, returnedNode: 1, name: 'part_2' }]
  const { matching } = recogniseReturn(master, named, { pairs: hand })
  expect(matching.matched.map(({ match }) => [match.masterNode, match.returnedNode])).toContainEqual([0, 1])
})
