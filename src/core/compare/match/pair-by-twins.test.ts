/** Parts that are made alike and were worked on alike: where names say nothing, the one says what the other came back as. */
import { expect, test } from 'vitest'
import { anyReturn } from '../../../../tests/file-returns/make-return.ts'
import { textOf } from '../../../../tests/file-returns/file-part.ts'
import { readText } from '../../../../tests/meshes.ts'
import { cubeOf, sceneOf, tubeOf } from '../../../../tests/solids.ts'
import { subdivideMesh } from '../../mesh/subdividing/subdivide-mesh.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { recogniseReturn } from '../recognise/recognise-return.ts'
import { matchParts } from './match-parts.ts'
import { pairByTwins } from './pair-by-twins.ts'

/** Subdivided, and moved a little by itself, so that no place says which it is. */
const refined = (mesh: Mesh, name: string, by = 0): Mesh => {
  const fine = subdivideMesh(mesh, { levels: 1, uvMode: 'boundaries', sharpCorners: false })
  return { ...fine, name, id: '', points: fine.points.map((value) => value + by) }
}
const named = (mesh: Mesh, name: string, move = 0): Mesh => ({
  ...mesh,
  name,
  points: mesh.points.map((value, at) => (at % 3 === 0 ? value + move : value)),
})
const cubes = ['a', 'b', 'c'].map((name, at) => named(cubeOf(), name, 8 * at))

test('what the one came back as the others did too', () => {
  const master = sceneOf(cubes)
  const returned = sceneOf([
    refined(cubes[0]!, 'a'),
    refined(cubes[1]!, 'x1', 0.4),
    refined(cubes[2]!, 'y2', -0.3),
  ])
  const pairs = matchParts(master, returned)
  expect(pairs.map(({ masterNode, returnedNode }) => [masterNode, returnedNode])).toEqual([
    [0, 0],
    [1, -1],
    [2, -1],
    [-1, 1],
    [-1, 2],
  ])
  expect(pairByTwins(master, returned, pairs)).toEqual([
    { masterNode: 1, returnedNode: 1, by: 'shape' },
    { masterNode: 2, returnedNode: 2, by: 'shape' },
  ])
  // each stands where it stood, whatever it is called and wherever it lies in the file
  const turned = sceneOf([refined(cubes[0]!, 'a'), refined(cubes[2]!, 'x1'), refined(cubes[1]!, 'y2')])
  const partners = recogniseReturn(master, turned).matching.matched.map(({ match }) => [match.masterNode, match.returnedNode]) // prettier-ignore
  expect(partners.sort()).toEqual([
    [0, 0],
    [1, 2],
    [2, 1],
  ])
})

test('nothing is said where parts of two shapes came back as one, or none came back so', () => {
  const tube = named(tubeOf(2, 4, 1, 2), 'tube', 8)
  const came = refined(cubes[0]!, 'a')
  const master = sceneOf([cubes[0]!, tube, named(cubes[1]!, 'c', 8)])
  const asBoth = sceneOf([came, named(came, 'tube'), named(came, 'x1')])
  expect(pairByTwins(master, asBoth, matchParts(master, asBoth))).toEqual([])
  const unlike = sceneOf([came, named(tube, 'tube'), named(tubeOf(3, 5, 1, 2), 'x1')])
  expect(pairByTwins(master, unlike, matchParts(master, unlike))).toEqual([])
})

test('a part and its twin, mirrored as a whole with exchanged names, edits and triangles: each is where it was', () => {
  const { master, came, digits } = anyReturn(1193)
  const own = readText(textOf(master)).scene
  for (const undoWhole of [false, true]) {
    const { matching } = recogniseReturn(own, readText(textOf(came, digits)).scene, { undoWhole })
    expect(matching.matched.map(({ match }) => [match.masterNode, match.returnedNode])).toEqual([
      [0, 0],
      [1, 1],
    ])
  }
})
