/** Names, places and the order of a file that say different things of parts made alike, and of a model that is symmetrical. */
import { expect, test } from 'vitest'
import { ballOf, gridOf, sceneOf, tubeOf } from '../../../../tests/solids.ts'
import { renumbered, withMesh } from '../../../../tests/arranged.ts'
import { flatten } from '../../practice/faults/scene-faults.ts'
import { nodeWithId } from '../../scene/ids.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { keepMatching, restoreMatching } from '../match-scenes.ts'
import { recogniseReturn, type RecognisedReturn } from './recognise-return.ts'

const moved = (mesh: Mesh, by: readonly number[]): Mesh => ({
  ...mesh,
  points: mesh.points.map((value, at) => value + by[at % 3]!),
})
const mirrored = (scene: Scene): Scene =>
  withMesh(scene, (mesh) => ({ ...mesh, points: mesh.points.map((value, at) => (at % 3 === 0 ? -value : value)) })) // prettier-ignore
const tube = tubeOf(5, 9, 0.6, 2)
const cloth = gridOf(7, 5, { uvSets: [] }, (x, z) => Math.sin(x) * 0.4 + 0.1 * z * z)
const named = (scene: Scene, names: readonly string[]): Scene => ({
  ...scene,
  nodes: scene.nodes.map((node, at) => ({ ...node, name: names[at]! })),
})
const LEFT = { ...moved(tube, [-3, 0, 0]), name: 'left' }
const RIGHT = { ...moved(tube, [4, 1, 0]), name: 'right' }
const master = flatten(sceneOf([LEFT, RIGHT, { ...cloth, name: 'cloth' }]))

/** Names of the partners of left and right, by the master's names. */
const partnersOf = ({ matching, returned }: RecognisedReturn): Record<string, string> =>
  Object.fromEntries(
    matching.matched.map(({ match }) => [
      master.nodes[match.masterNode]!.name,
      returned.nodes[match.returnedNode]!.name,
    ]),
  )
const guesses = ({ matching }: RecognisedReturn): string[] =>
  matching.matched.flatMap(({ match, correspondence }) =>
    correspondence.guess ? [master.nodes[match.masterNode]!.name] : [],
  )

test('twins under each other’s names, in their places and order: they are what stands there', () => {
  const found = recogniseReturn(master, named(master, ['right', 'left', 'cloth']), { undoWhole: true })
  expect(partnersOf(found)).toEqual({ left: 'right', right: 'left', cloth: 'cloth' })
  expect(guesses(found)).toEqual([])
})

test('twins that stand in each other’s places, by name and order what they were: that is a guess', () => {
  const meshes = [
    { ...moved(tube, [4, 1, 0]), name: 'left' },
    { ...moved(tube, [-3, 0, 0]), name: 'right' },
  ]
  const found = recogniseReturn(master, flatten(sceneOf([...meshes, { ...cloth, name: 'cloth' }])))
  expect(partnersOf(found)).toEqual({ left: 'left', right: 'right', cloth: 'cloth' })
  expect(guesses(found)).toEqual(['left', 'right'])
  // nobody numbered them anew, and what is kept of it says so as well
  expect(found.matching.matched.map(({ correspondence }) => correspondence.kind)).toEqual(['index', 'index', 'index']) // prettier-ignore
  const kept = restoreMatching(master, found.returned, keepMatching(found.matching))!
  expect(kept.matched.map(({ correspondence }) => correspondence.guess ?? false)).toEqual([true, true, false])
})

test('UVs of their own say which is which, wherever names and order stand', () => {
  const laid = (mesh: Mesh, from: number): Mesh => {
    const values = Float64Array.from({ length: 2 * mesh.faceVertices.length }, (_value, at) => from + 0.37 * Math.sin(at * at)) // prettier-ignore
    const indices = Int32Array.from(mesh.faceVertices, (_point, corner) => corner)
    return { ...mesh, uvSets: [{ name: 'uv', values, indices, depths: null }] }
  }
  const own = flatten(sceneOf([laid(LEFT, 0.3), laid(RIGHT, 0.7), { ...cloth, name: 'cloth' }]))
  const [left, right, last] = own.nodes
  const swapped = { ...own, nodes: [{ ...right!, name: 'left' }, { ...left!, name: 'right' }, last!] }
  const found = recogniseReturn(own, swapped)
  expect(partnersOf(found)).toEqual({ left: 'right', right: 'left', cloth: 'cloth' })
  expect(guesses(found)).toEqual([])
})

test('what somebody paired stays, whatever stands where', () => {
  const came = named(master, ['right', 'left', 'cloth'])
  const at = (name: string) => came.nodes.findIndex((node) => node.name === name)
  const idOf = (name: string) => master.nodes.find((node) => node.name === name)!.id
  expect(nodeWithId(master, idOf('left'))).toBeGreaterThanOrEqual(0)
  const pairs = ['left', 'right'].map((name) => ({ part: idOf(name), returnedNode: at(name), name }))
  const found = recogniseReturn(master, came, { pairs })
  expect(partnersOf(found)).toEqual({ left: 'left', right: 'right', cloth: 'cloth' })
})

test('two twins alone, renamed and mirrored with their order kept: mirrored, and each is itself', () => {
  const twins = flatten(sceneOf([LEFT, RIGHT]))
  const found = recogniseReturn(twins, named(mirrored(twins), ['one', 'two']), { undoWhole: true })
  expect(found.undone?.mirror).toBe('X')
  expect(found.matching.matched.map(({ match }) => [match.masterNode, match.returnedNode])).toEqual([
    [0, 0],
    [1, 1],
  ])
})

/** Its own mirror image across Z alone. */
const egg = (() => {
  const { points, ...ball } = ballOf(14, 9, 1)
  const placed = points.slice()
  for (let at = 0; at < points.length; at += 3) {
    const [x, y, z] = [points[at]!, points[at + 1]!, points[at + 2]!]
    placed.set([x * (1 + 0.3 * y), 1.6 * y, 0.8 * z * (1 + 0.2 * x)], at)
  }
  return flatten(sceneOf([{ ...ball, uvSets: [], points: placed, name: 'egg' }]))
})()

test('mirrored, with its order: that is told', () => {
  const found = recogniseReturn(egg, mirrored(egg), { undoWhole: true })
  expect(found.undone).toMatchObject({ mirror: 'X', turn: null })
  expect(found.matching.matched[0]!.correspondence.guess ?? false).toBe(false)
})

test('mirrored and numbered anew, it may as well have been turned: that is a guess', () => {
  const came = withMesh(mirrored(egg), (mesh) => renumbered(mesh, 5))
  const found = recogniseReturn(egg, came, { undoWhole: true })
  expect(found.undone).not.toBeNull()
  expect(found.matching.matched[0]!.correspondence.guess).toBe(true)
})

test('numbered anew and sized, nothing else is as little: no guess', () => {
  const came = withMesh(egg, (mesh) => ({ ...renumbered(mesh, 5), points: renumbered(mesh, 5).points.map((value) => value * 100) })) // prettier-ignore
  const found = recogniseReturn(egg, came, { undoWhole: true })
  expect(found.undone).toMatchObject({ factor: 100, mirror: null, turn: null })
  expect(found.matching.matched[0]!.correspondence.guess ?? false).toBe(false)
})

test('numbered anew and bent, it is not taken to be turned: no guess', () => {
  const bend = ({ points }: Mesh): Float64Array => points.map((value, at) => (at % 3 === 0 ? value + 0.045 * points[at + 1]! : value)) // prettier-ignore
  const post = flatten(sceneOf([{ ...tubeOf(6, 8, 0.5, 3), name: 'post' }]))
  const came = withMesh(post, (mesh) => ({ ...renumbered(mesh, 5), points: bend(renumbered(mesh, 5)) }))
  const found = recogniseReturn(post, came)
  expect(found.matching.matched[0]!.correspondence.guess ?? false).toBe(false)
})
