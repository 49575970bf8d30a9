/** Masters whose polygons were never joined, as scanners and some tools leave them. */
import { describe, expect, test } from 'vitest'
import { ballOf, cubeOf, gridOf, loose } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { damage, type FaultName } from '../../practice/faults/mesh-faults.ts'
import { cornerCountOf, faceCountOf, type Mesh } from '../../scene/mesh.ts'
import { correspond } from './correspond.ts'
import { weldsOfLoose } from '../../mesh/welds/loose-polygons.ts'
import { correspondWelded } from './correspond-welded.ts'
import { matchConnectivity } from './match-connectivity.ts'
import { packPoints } from './rejoin-points.ts'

const bare = (mesh: Mesh): Mesh => ({ ...mesh, uvSets: [] })

const hilly = gridOf(14, 9, {}, (x, z) => Math.sin(x * 0.9) * 0.7 + Math.cos(z * 0.6 + x * 0.1) * 0.5)

const MIXES: readonly FaultName[][] = [
  ['sculpted', 'renumbered'],
  ['bumped', 'renumbered'],
  ['sculpted', 'renumbered', 'triangulated'],
  ['sculpted', 'renumbered', 'deleted'],
  ['bumped', 'rounded', 'renumbered', 'triangulated', 'deleted'],
]

describe.each([
  ['a sheet', hilly],
  ['a sheet without UVs', bare(hilly)],
  ['a ball without UVs, moved little', bare(ballOf(9, 7, 1))],
])('%s', (name, joined) => {
  const master = loose(joined)
  test.each(MIXES)('%s %s %s %s %s', (...faults) => {
    for (let seed = 1; seed <= 4; seed++) {
      const { mesh, truth } = damage(master, faults.filter(Boolean), chanceOf(seed))
      const found = correspond(master, mesh)
      // a ball of one kind of polygons may lie many ways: then it is said
      if (found.guess) continue
      const placeOf = (point: number): string =>
        [0, 1, 2].map((axis) => mesh.points[3 * point + axis]!.toFixed(9)).join()
      const became = new Map<number, Set<string>>()
      truth.points.forEach(({ from }, point) =>
        became.set(from, (became.get(from) ?? new Set()).add(placeOf(point))),
      )
      const wrong = [...found.pointToReturned].flatMap((other, point) =>
        other < 0 || became.get(point)?.has(placeOf(other)) ? [] : [point],
      )
      expect([seed, wrong]).toEqual([seed, []])
      if (name.startsWith('a sheet'))
        expect(found.matchedFaceCount).toBeGreaterThan(0.9 * faceCountOf(master) - 2)
    }
  })
})

test('polygons that share no points hold in any order: their order says nothing', () => {
  const master = loose(bare(cubeOf()))
  // the same six squares, each a step on in the file, and moved a little
  const step = (corner: number): number => (corner + 4) % 24
  const returned: Mesh = {
    ...master,
    points: master.points.map(
      (_value, at) => master.points[3 * step(Math.floor(at / 3)) + (at % 3)]! + 1e-3 * (at % 2),
    ),
  }
  const found = matchConnectivity(master, returned, false)
  expect([...found!.pairs]).toEqual(Array.from({ length: 24 }, (_point, point) => (point + 20) % 24))
})

test('which meshes are in pieces', () => {
  const looseOf = (mesh: Mesh): boolean => weldsOfLoose(mesh, 1e-9) !== null
  expect(looseOf(loose(hilly))).toBe(true)
  expect(looseOf(hilly)).toBe(false)
  // sheets that lie on each other are joined each for itself
  const twice = { ...hilly, points: Float64Array.of(...hilly.points, ...hilly.points), faceVertices: Uint32Array.of(...hilly.faceVertices, ...hilly.faceVertices.map((point) => point + hilly.points.length / 3)), faceOffsets: Uint32Array.of(...hilly.faceOffsets, ...hilly.faceOffsets.subarray(1).map((end) => end + cornerCountOf(hilly))) } // prettier-ignore
  expect(looseOf(twice)).toBe(false)
  expect(correspondWelded(twice, hilly, 1e-9, correspond)).toBeNull()
  expect(correspondWelded(loose(hilly), bare(cubeOf({}, 0.1, [50, 50, 50])), 1e-9, correspond)).toBeNull()
})

test('one that came back split more than it left: what was split counts as what it was split from', () => {
  // squares two by two, which share the points of the side between them
  const apart = loose(hilly)
  const placeOf = (point: number): string => [...apart.points.subarray(3 * point, 3 * point + 3)].join()
  const joined = Uint32Array.from({ length: cornerCountOf(apart) }, (_corner, at) => {
    const first = 8 * Math.floor(at / 8)
    return [0, 1, 2, 3].map((k) => first + k).find((other) => placeOf(other) === placeOf(at)) ?? at
  })
  const { mesh: master, pointSources } = packPoints(apart, joined)
  for (let seed = 1; seed <= 4; seed++) {
    const { mesh: returned, truth } = damage(apart, ['sculpted', 'renumbered'], chanceOf(seed))
    const found = correspondWelded(bare(master), bare(returned), 1e-6, correspond)!
    expect(found.matchedFaceCount).toBe(faceCountOf(master))
    expect(new Set(found.pointToReturned).size).toBe(pointSources.length)
    found.pointToReturned.forEach((other, point) =>
      expect(joined[truth.points[other]!.from]).toBe(pointSources[point]),
    )
    found.joinedPoints!.forEach((as, point) => {
      expect(found.joinedPoints![as]).toBe(as)
      expect(joined[truth.points[as]!.from]).toBe(joined[truth.points[point]!.from])
    })
    expect(new Set(found.joinedPoints).size).toBe(pointSources.length)
  }
})
