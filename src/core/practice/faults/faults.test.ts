/** The rough hand, and random trips with their score: what is said to be done is done, and what is found is counted. */
import { describe, expect, test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import { recogniseReturn } from '../../compare/recognise/recognise-return.ts'
import { findLayout } from '../../compare/layout/find-layout.ts'
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { readPackage } from '../../formats/package/read-package.ts'
import { writeFbx } from '../../formats/fbx/write-fbx.ts'
import { faceCountOf, pointCountOf } from '../../scene/mesh.ts'
import { buildStormLantern } from '../demo/storm-lantern.ts'
import { handleRoughly, roughHand } from '../standins/rough-hand.ts'
import { runStandIn } from '../standins/registry.ts'
import { FAULT_WORDS, type AnyFault } from './fault-words.ts'
import { gridOf, meshOf, sceneOf } from '../../../../tests/solids.ts'
import { anyFaults, MOST_FAULTS, runRandomTrip, runRandomTrips } from './random-trips.ts'
import { flatten, SCENE_FAULTS, scoreScene, damageScene } from './scene-faults.ts'

const scene = buildStormLantern()
const flat = flatten(scene)
const polygons = (made: typeof scene): number => made.meshes.reduce((sum, mesh) => sum + faceCountOf(mesh), 0)
const points = (made: typeof scene): number => made.meshes.reduce((sum, mesh) => sum + pointCountOf(mesh), 0)
const size = (made: typeof scene): number =>
  diagonalOf(boundsOf(Float64Array.from(made.meshes.flatMap((mesh) => [...mesh.points])))!)
const handled = (...faults: AnyFault[]) => handleRoughly(scene, faults, chanceOf(3))

describe('each fault changes what its words say', () => {
  const before = {
    polygons: polygons(flat),
    points: points(flat),
    size: size(flat),
    parts: flat.nodes.length,
  }
  test.each([
    ['subdivided', (made: typeof scene) => polygons(made) > 3.5 * before.polygons],
    [
      'triangulated',
      (made) => made.meshes.every((mesh) => mesh.faceVertices.length === 3 * faceCountOf(mesh)),
    ],
    ['unwelded', (made) => points(made) > before.points && polygons(made) === before.polygons],
    ['deleted', (made) => polygons(made) === before.polygons - before.parts],
    ['withoutUvs', (made) => made.meshes.every(({ uvSets }) => uvSets.length === 0)],
    ['merged', (made) => made.nodes.length < before.parts && polygons(made) === before.polygons],
    ['cutUp', (made) => made.nodes.length === before.parts + 1 && polygons(made) === before.polygons],
    ['added', (made) => made.nodes.some(({ name }) => name === 'brand_new')],
    ['dropped', (made) => made.nodes.length === before.parts - 1],
    ['sized', (made) => Math.abs(Math.log(size(made) / before.size)) > 0.5],
    ['otherPieces', (made) => made.meshes.every((mesh, at) => mesh.faceMaterials![1] !== flat.meshes[at]!.faceMaterials![1])], // prettier-ignore
    ['newUvs', (made) => made.meshes.every((mesh, at) => mesh.uvSets[0]!.values.length !== flat.meshes[at]!.uvSets[0]!.values.length)], // prettier-ignore
    ['layoutTurned', (made) => findLayout(flat, made)?.[0]?.turn.text === 'upside down'],
  ] as [AnyFault, (made: typeof scene) => boolean][])('%s', (fault, holds) => {
    expect(holds(handled(fault))).toBe(true)
    expect(holds(handled())).toBe(false)
  })
})

test('the rough hand does what is ticked or a mix by its seed, the same each time, and says it', () => {
  const { files } = writeFbx(scene, 'lantern.fbx', {})
  const run = (options: object) => runStandIn(roughHand, files, options as Record<string, unknown>)
  const chosen = run({ mix: 'chosen', seed: 2, triangulated: true, dropped: true })
  expect(chosen.log).toEqual([
    FAULT_WORDS.triangulated[1],
    FAULT_WORDS.dropped[1],
    'Smoothing, creases, groups and colours were forgotten.',
  ])
  const back = readPackage(chosen.files).scene
  expect(back.nodes).toHaveLength(scene.nodes.filter(({ mesh }) => mesh >= 0).length - 1)
  const [one, same, other] = [run({ seed: 5 }), run({ seed: 5 }), run({ seed: 6 })]
  expect(same.files[0]!.bytes).toEqual(one.files[0]!.bytes)
  expect([same.log.length > 1, same.log]).toEqual([true, one.log])
  expect(other.log).not.toEqual(one.log)
  // ticks don't count where the seed decides
  expect(run({ seed: 5, merged: true }).log).toEqual(one.log)
})

test('one to six faults, every one of them in turn', () => {
  const seen = new Set<string>()
  for (let seed = 0; seed < 300; seed++) {
    const { ofScene, ofMeshes } = anyFaults(chanceOf(seed))
    const all = [...ofScene, ...ofMeshes]
    expect(all.length).toBeGreaterThan(0)
    expect(all.length).toBeLessThanOrEqual(MOST_FAULTS)
    for (const fault of all) seen.add(fault)
  }
  for (const fault of SCENE_FAULTS) expect(seen).toContain(fault)
})

test('a score that can be wrong: points paired with others are counted as such', () => {
  const made = damageScene(flat, [], ['renumbered'], chanceOf(1))
  const { matching } = recogniseReturn(flat, made.returned)
  expect(scoreScene(flat, made, matching.matched).wrong).toEqual([])
  const shifted = matching.matched.map((part, at) => {
    if (at > 0) return part
    const { pointToReturned } = part.correspondence
    const turned = pointToReturned.map(
      (_other, point) => pointToReturned[(point + 1) % pointToReturned.length]!,
    )
    return { ...part, correspondence: { ...part.correspondence, pointToReturned: turned } }
  })
  const { wrong } = scoreScene(flat, made, shifted)
  expect(wrong.length).toBeGreaterThan(0.9 * pointCountOf(flat.meshes[0]!))
})

test('random trips follow from their seeds, and none takes a point for another', () => {
  const told: number[] = []
  const trips = runRandomTrips(scene, { count: 4, seed: 40 }, (share) => told.push(share))
  expect(trips.map(({ seed }) => seed)).toEqual([40, 41, 42, 43])
  expect(told).toEqual([0, 1, 2, 3].map((at) => at / 4))
  expect(runRandomTrip(flat, 42)).toEqual(trips[2])
  for (const trip of trips) {
    expect([trip.seed, trip.wrong]).toEqual([trip.seed, 0])
    expect(trip.right).toBeGreaterThan(0)
    expect(trip.done.length).toBeGreaterThan(0)
    expect(trip.found.length).toBeGreaterThan(0)
  }
})

test.each([
  ['one polygon', () => gridOf(1, 1)],
  ['one triangle', () => meshOf([[0, 0, 0], [1, 0, 0], [0, 1, 0]], [[0, 1, 2]])],
  ['a polygon and points that none has', () => ({ ...gridOf(1, 1), points: Float64Array.from([...gridOf(1, 1).points, 5, 5, 5]) })],
])('a model of %s goes on every trip', (_what, make) => {
  const trips = runRandomTrips(sceneOf([make()]), { count: 60, seed: 1 })
  expect(trips).toHaveLength(60)
}) // prettier-ignore
