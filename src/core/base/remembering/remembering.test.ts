import { expect, test } from 'vitest'
import { cubeOf, gridOf, moved, sceneOf, withNodes } from '../../../../tests/solids.ts'
import { buildEdges, edgesOf } from '../../mesh/relations/adjacency.ts'
import { nodePaths, worldMatrices } from '../../scene/world.ts'
import { once } from './once.ts'
import { remember } from './remember.ts'

test('an answer is worked out once an object, also where it is undefined', () => {
  let count = 0
  const answer = remember((_key: object): undefined => {
    count++
    return undefined
  })
  const [a, b] = [{}, {}]
  answer(a)
  answer(a)
  answer(b)
  expect(count).toBe(2)
  const first = once(() => ++count)
  expect([first(), first()]).toEqual([3, 3])
})

test('worlds and paths follow the nodes: a scene with other nodes has its own', () => {
  const scene = sceneOf([cubeOf()])
  const again = { ...scene, format: 'other' }
  expect(worldMatrices(again)).toBe(worldMatrices(scene))
  const apart = withNodes(scene, () => ({ name: 'crate', local: moved(1, 2, 3) }))
  expect(worldMatrices(apart)[0]!.slice(12, 15)).toEqual([1, 2, 3])
  expect(worldMatrices(scene)[0]!.slice(12, 15)).toEqual([0, 0, 0])
  expect(nodePaths(apart)).toEqual(['crate'])
})

test('edges are those of the polygons, whatever the points; other starts of faces are other polygons', () => {
  const mesh = gridOf(3, 2)
  const edges = edgesOf(mesh)
  expect(edges).toEqual(buildEdges(mesh))
  expect(edgesOf({ ...mesh, points: mesh.points.map((value) => 2 * value) } as typeof mesh)).toBe(edges)
  // the same list of vertices cut into one face less
  const joined = { ...mesh, faceOffsets: mesh.faceOffsets.filter((_start, at) => at !== 1) }
  expect(edgesOf(joined)).toEqual(buildEdges(joined))
  expect(edgesOf(mesh)).toEqual(edges)
})
