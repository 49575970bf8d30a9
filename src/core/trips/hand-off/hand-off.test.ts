/** Which trip landed files are of, on models that tools have changed in every way that the generator of returns knows. */
import { describe, expect, test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import { anySceneReturn, flatten } from '../../practice/faults/scene-faults.ts'
import { cubeOf, gridOf, sceneOf } from '../../../../tests/solids.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import { chooseTrip, likeness, nameLikeness, type TripCandidate } from './choose-trip.ts'
import { lookAgain, settledFiles } from './settled-files.ts'
import { signScene } from './sign-scene.ts'

const scenes = { heron: flatten(buildCourierHeron()), lantern: flatten(buildStormLantern()), bollard: flatten(buildMooringBollard()) } // prettier-ignore
const names = Object.keys(scenes) as (keyof typeof scenes)[]
const candidate = (name: keyof typeof scenes, number = 1): TripCandidate => ({
  id: `${name}-${number}`,
  number,
  assetName: name,
  destinationName: 'Sculpting tool',
  contents: [`${name}_v1.obj`, `${name}_v1.mtl`],
  isBack: false,
  signature: signScene(scenes[name]),
})
const candidates = names.map((name) => candidate(name))

describe.each(names)('%s', (name) => {
  test('changed in any way it is known again, or somebody is asked; never another trip’s', () => {
    const chance = chanceOf(name.length)
    let known = 0
    const tries = 25
    for (let round = 0; round < tries; round++) {
      const { returned } = anySceneReturn(scenes[name], chance)
      const { tripId, why } = chooseTrip(signScene(returned), ['untitled.obj'], candidates)
      expect([tripId ?? why]).toEqual([tripId ? `${name}-1` : 'landing.no-trip'])
      if (tripId) known++
    }
    expect(known).toBeGreaterThan(tries * 0.9)
  })
  test('one of its parts alone is of it', () => {
    const scene = scenes[name]
    const { tripId } = chooseTrip(signScene(scene, [scene.nodes[0]!.id]), ['part.obj'], candidates)
    expect(tripId).toBe(`${name}-1`)
  })
  test('where its own trip is not among those that are out, no other is taken for it', () => {
    const others = candidates.filter(({ id }) => !id.startsWith(name))
    expect(chooseTrip(signScene(scenes[name]), [`${others[0]!.assetName}_v1.obj`], others)).toMatchObject({
      tripId: null,
      why: 'landing.no-trip',
    })
  })
})

test('two trips of one model: the number in the name decides, and without it nothing does', () => {
  const two = [candidate('heron', 1), candidate('heron', 12)]
  const came = signScene(scenes.heron)
  expect(chooseTrip(came, ['heron_trip_012/x.obj'], two).tripId).toBe('heron-12')
  expect(chooseTrip(came, ['heron_trip_001/x.obj'], two).tripId).toBe('heron-1')
  expect(chooseTrip(came, ['heron.obj'], two)).toMatchObject({ tripId: null, why: 'landing.several-trips' })
  expect(chooseTrip(came, ['x.obj'], [{ ...two[0]!, isBack: true }]).why).toBe('landing.already-back')
  expect(chooseTrip(came, ['x.obj'], []).why).toBe('landing.no-trip')
})

test('what a name says', () => {
  const of = (name: string): number => nameLikeness([name], candidate('heron', 3))
  expect([
    of('x.obj'),
    of('heron_v1_sculpted.obj'),
    of('Heron Trip 3.obj'),
    of('heron_trip_030.obj'),
  ]).toEqual([0, 1, 3, 1])
})

test('as many triangles as another has make no likeness by themselves, nor do a few UVs', () => {
  const [cube, other] = [sceneOf([cubeOf({ name: 'crate' })]), sceneOf([cubeOf({ name: 'buoy' }, 3)])]
  const bare = (scene: typeof cube) => signScene({ ...scene, meshes: scene.meshes.map((mesh) => ({ ...mesh, uvSets: [] })) }) // prettier-ignore
  expect(likeness(bare(cube), bare(other)).fits).toBe(false)
  expect(likeness(bare(cube), bare(cube)).fits).toBe(true)
  expect(likeness(signScene(sceneOf([])), bare(cube))).toEqual({ content: 0, fits: false })
})

test('a large model’s signature stays small and is alike all the same', () => {
  const [a, b] = [signScene(sceneOf([gridOf(150, 150)])), signScene(sceneOf([gridOf(150, 150), cubeOf()]))]
  expect(a.places.hashes.length).toBeLessThanOrEqual(2048)
  expect(a.places.limit).toBeLessThan(2 ** 32)
  expect(likeness(a, b).fits).toBe(true)
})

test('files of one folder land together, once none of them changes any more', () => {
  const file = (path: string, byteLength: number, writtenAt = 1) => ({ path, byteLength, writtenAt })
  let seen = lookAgain([], [file('a.obj', 5), file('set/b.obj', 7), file('set/c.png', 0)], 1000)
  expect(settledFiles(seen, 1000, 500)).toEqual([])
  seen = lookAgain(seen, [file('a.obj', 5), file('set/b.obj', 7), file('set/c.png', 9)], 1500)
  expect(settledFiles(seen, 1500, 500).map(({ folder, entries }) => [folder, entries.length])).toEqual([
    ['', 1],
  ])
  seen = lookAgain(seen, [file('a.obj', 5, 2), file('set/b.obj', 7), file('set/c.png', 9)], 2000)
  expect(settledFiles(seen, 2000, 500).map(({ folder, entries }) => [folder, entries.length])).toEqual([
    ['set', 2],
  ])
})
