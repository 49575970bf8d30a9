/** Parts of a model that were made anew, renamed, sized and turned, while others stayed away: made at random, the truth known. */
import { describe, expect, test } from 'vitest'
import { howMany } from '../../../../tests/how-many.ts'
import { ALONG_AXES } from '../../base/math/along-axes.ts'
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { invertAffine } from '../../base/math/matrix.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildSignalKite } from '../../practice/demo/signal-kite.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import { lightenMesh } from '../../practice/faults/lighten-mesh.ts'
import { flatten } from '../../practice/faults/scene-faults.ts'
import { completeIds } from '../../scene/ids.ts'
import { IDENTITY_MATRIX, plainNode, type Scene } from '../../scene/scene.ts'
import { recogniseReturn } from '../recognise/recognise-return.ts'
import { MEANT_FACTORS } from './point-pairs.ts'
import { determinant, similarityMatrix } from './similarity.ts'
import { gatherPolygons, surfacesApart } from './surfaces-apart.ts'
import { findToolWay } from './tool-ways.ts'
import { mark } from '../../../../tests/core/approved/tell.ts'
import { expectAsBefore, tellRecognised } from '../../../../tests/core/approved/tell-returns.ts'

interface Made {
  readonly returned: Scene
  /** Of each returned node the master's. */
  readonly from: readonly number[]
  readonly factor: number
  readonly way: ReturnType<typeof similarityMatrix>
}

function makeAnew(master: Scene, chance: () => number): Made {
  const factor = MEANT_FACTORS[Math.floor(chance() * MEANT_FACTORS.length)]!
  const turns = ALONG_AXES.filter((turn) => determinant(turn) > 0)
  const turn = chance() < 0.5 ? turns[0]! : turns[Math.floor(chance() * turns.length)]!
  const way = similarityMatrix({ factor, turn, move: [0, 0, 0] })
  const from = master.nodes.map((_node, at) => at).filter(() => chance() < 0.5)
  const parts = from.sort(() => chance() - 0.5)
  const meshes = parts.map((node, at) => {
    const mesh = master.meshes[master.nodes[node]!.mesh]!
    const light = lightenMesh(mesh, diagonalOf(boundsOf(mesh.points)!) * 0.04)
    return { ...transformMesh(light, way), name: `object_${at}`, id: '' }
  })
  const returned = completeIds({
    ...master,
    meshes,
    materials: [],
    nodes: meshes.map(({ name }, mesh) => plainNode(name, { mesh })),
  })
  return { returned, from: parts, factor, way }
}

const MODELS = { heron: buildCourierHeron, lantern: buildStormLantern, kite: buildSignalKite }

describe.each(Object.entries(MODELS))('parts of the %s, made anew, without their names', (_name, build) => {
  const master = flatten(build())
  const shapes = (node: number): string => {
    const { min, max } = boundsOf(master.meshes[master.nodes[node]!.mesh]!.points)!
    return min.map((value, axis) => ((max[axis]! - value) * 10).toFixed(0)).join()
  }
  test('stand where they stood once what a tool did is undone, and each is what it was', () => {
    const [runs, tally] = [howMany(2, 120), { found: 0, lost: 0, sized: 0 }]
    for (let seed = 0; seed < runs; seed++) {
      const made = makeAnew(master, chanceOf(7000 + seed))
      if (made.from.length < 2) continue
      const found = recogniseReturn(master, made.returned, { undoWhole: true })
      const { matching, undone, returned } = found
      expectAsBefore(tellRecognised(master, found))
      const paired = matching.matched.map(({ match }) => match)
      for (const { masterNode, returnedNode } of paired) {
        const truth = made.from[Number(returned.nodes[returnedNode]!.name.replace('object_', ''))]
        // a part that was put together of pieces has the master's name
        if (truth === undefined) continue
        // twins may stand for each other
        expect([seed, shapes(masterNode)]).toEqual([seed, shapes(truth)])
      }
      tally.found += paired.length
      tally.lost += made.from.length - paired.length
      if (!undone) continue
      tally.sized++
      expect([seed, undone.factor / made.factor]).toEqual([seed, 1])
    }
    // what stands alike in several ways is left as it is
    expect(tally.found).toBeGreaterThan(2 * tally.lost)
    expect(tally.sized).toBeGreaterThan(runs * 0.6)
  })
  test('a way that is found brings them on to the master’s surface; without one there is none', () => {
    let known = 0
    for (let seed = 0; seed < howMany(4, 40); seed++) {
      const made = makeAnew(master, chanceOf(900 + seed))
      if (made.from.length < 2) continue
      const back = findToolWay(master, made.returned)
      expectAsBefore([mark(back)])
      if (!back) continue
      known++
      const own = gatherPolygons(master, made.from, IDENTITY_MATRIX)
      const other = gatherPolygons(made.returned, made.from.map((_node, at) => at), IDENTITY_MATRIX) // prettier-ignore
      const truly = surfacesApart(own, other, made.way)
      expect(surfacesApart(own, other, invertAffine(back)!)).toBeLessThan(truly + 0.02)
    }
    expect(known).toBeGreaterThan(1)
    const other = flatten((build === buildCourierHeron ? buildStormLantern : buildCourierHeron)())
    expect(findToolWay(master, other)).toBeNull()
  })
})

test('what is nowhere, or nothing, has no way', () => {
  const master = flatten(buildCourierHeron())
  const [first, ...rest] = master.meshes
  const nowhere = { ...master, meshes: [{ ...first!, points: first!.points.map(() => NaN) }, ...rest] }
  expect(findToolWay(master, nowhere)).toBeNull()
  expect(findToolWay(nowhere, master)).toBeNull()
  const empty = { ...master, nodes: [], meshes: [] }
  expect([findToolWay(master, empty), findToolWay(empty, master)]).toEqual([null, null])
  // as it stands is the way that assumes least
  findToolWay(master, completeIds({ ...master }))!.forEach((value, at) =>
    expect(value).toBeCloseTo(IDENTITY_MATRIX[at]!, 15),
  )
})
