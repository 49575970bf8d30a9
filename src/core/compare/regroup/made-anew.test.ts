/** Parts that came back in other polygons and under other names, merged, or with some left out: known by their surfaces. */
import { describe, expect, test } from 'vitest'
import { someOf } from '../../../../tests/how-many.ts'
import { ballOf, cubeOf, gridOf, sceneOf } from '../../../../tests/solids.ts'
import { appendMeshes } from '../../mesh/rebuilding/append-meshes.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import { carvePoints } from '../../practice/faults/carve-points.ts'
import { lightenMesh } from '../../practice/faults/lighten-mesh.ts'
import { flatten } from '../../practice/faults/scene-faults.ts'
import { EMPTY_MESH, type Mesh } from '../../scene/mesh.ts'
import { plainNode, type Scene } from '../../scene/scene.ts'
import { compareScenes } from '../compare-scenes.ts'
import { recogniseReturn } from '../recognise/recognise-return.ts'
import { expectAsBefore, tellRecognised } from '../../../../tests/core/approved/tell-returns.ts'

/** Polygons and nothing else, carved, and most of them made anew. */
const anew = (mesh: Mesh, strength = 0.01): Mesh => {
  const { points, faceOffsets, faceVertices } = lightenMesh(
    { ...mesh, points: carvePoints(mesh, strength) },
    1.5,
  )
  return { ...EMPTY_MESH, name: mesh.name, points, faceOffsets, faceVertices }
}
const sized = (mesh: Mesh, by: number): Mesh => transformMesh(mesh, [by, 0, 0, 0, 0, by, 0, 0, 0, 0, by, 0, 0, 0, 0, 1]) // prettier-ignore
const backOf = (scene: Scene, meshes: readonly Mesh[], names: readonly string[]): Scene => ({
  ...scene,
  format: 'obj',
  materials: [],
  meshes: meshes.map((mesh) => ({ ...mesh, id: '' })),
  nodes: meshes.map((_mesh, at) => plainNode(names[at]!, { mesh: at })),
})

/** The last: which size each model comes back in on every run, under other names and all in one. */
describe.each([
  ['heron', buildCourierHeron, 10, 8, [1, 0]],
  ['lantern', buildStormLantern, 7, 5, [0, 1]],
  ['bollard', buildMooringBollard, 6, 6, [1, 0]],
] as const)('%s', (_name, build, renamed, merged, [size, sizeOfOne]) => {
  const master = flatten(build())
  const meshOf = (scene: Scene, node: number): Mesh => scene.meshes[scene.nodes[node]!.mesh]!
  const made = master.nodes.map((_node, at) => anew(meshOf(master, at)))
  /** Which part of the master each polygonal part was made of goes by where its first point lies among those that were made. */
  const originOf = (mesh: Mesh, by: number): number =>
    made.findIndex((own) => {
      const held = new Set(Array.from({ length: own.points.length / 3 }, (_p, at) => [...own.points.subarray(3 * at, 3 * at + 3)].map((value) => (value * by).toPrecision(9)).join())) // prettier-ignore
      return Array.from({ length: mesh.points.length / 3 }, (_p, at) => [...mesh.points.subarray(3 * at, 3 * at + 3)].map((value) => value.toPrecision(9)).join()).every((place) => held.has(place)) // prettier-ignore
    })
  const check = (returned: Scene, by: number, least: number): readonly string[] => {
    const found = recogniseReturn(master, returned)
    for (const { match } of found.matching.matched)
      expect([match.masterNode, originOf(meshOf(found.returned, match.returnedNode), by)]).toEqual([match.masterNode, match.masterNode]) // prettier-ignore
    expect(found.matching.matched.length).toBeGreaterThanOrEqual(least)
    const { whole } = compareScenes(master, found.returned, () => {}, found.matching)
    expectAsBefore(tellRecognised(master, found))
    expect(whole?.factor ?? 1).toBe(by)
    return found.findings.map(({ code }) => code)
  }
  test.each(someOf([1, 100], size))('under other names, in another order, %d times as large', (by) => {
    const order = made.map((_mesh, at) => (at * 5 + 2) % made.length)
    expect(new Set(order).size).toBe(made.length)
    check(backOf(master, order.map((at) => sized(made[at]!, by)), order.map((_at, place) => `object_${place}`)), by, renamed) // prettier-ignore
  })
  test.each(someOf([1, 100], sizeOfOne))('all in one, %d times as large', (by) => {
    const whole = appendMeshes('everything', made.map((mesh) => sized(mesh, by))) // prettier-ignore
    const codes = check(backOf(master, [whole], ['everything']), by, by === 1 ? merged : 5)
    expect(codes).toContain('return.parts-merged')
  })
  test('without every third, under other names: those that are there are themselves', () => {
    const there = made.filter((_mesh, at) => at % 3 !== 1)
    check(backOf(master, there, there.map((_mesh, at) => `object_${at}`)), 1, Math.floor(there.length * 0.7)) // prettier-ignore
  })
})

describe('nothing is paired', () => {
  const paired = (master: Scene, returned: Scene): number =>
    recogniseReturn(master, returned).matching.matched.length
  test('with the parts of another model', () => {
    const names = (scene: Scene): Scene => backOf(scene, scene.nodes.map(({ mesh }) => anew(scene.meshes[mesh]!)), scene.nodes.map((_node, at) => `object_${at}`)) // prettier-ignore
    const pairs = [
      [buildCourierHeron, buildStormLantern],
      [buildMooringBollard, buildCourierHeron],
    ] as const
    for (const [own, other] of someOf(pairs, 1))
      expect(paired(flatten(own()), names(flatten(other())))).toBe(0)
  })
  test('where two parts lie on each other', () => {
    const ball = ballOf(12, 16, 2)
    const far = { ...gridOf(5, 5), points: gridOf(5, 5).points.map((value) => value + 9) }
    const master = sceneOf([ball, { ...ball, points: ball.points.map((value) => value * 1.02) }, far])
    const returned = backOf(
      master,
      [ballOf(9, 14, 2.02), sized(far, 1), cubeOf({}, 2, [-9, 0, 0])],
      ['a', 'b', 'c'],
    )
    const { matching } = recogniseReturn(master, returned)
    expect(matching.matched.map(({ match }) => [match.masterNode, match.returnedNode])).toEqual([[2, 1]])
  })
  test('with what lies half as near again on another', () => {
    const inner = ballOf(12, 16, 2)
    const outer = ballOf(12, 16, 2.08)
    const master = sceneOf([inner, outer])
    // between the two
    const returned = backOf(master, [ballOf(9, 14, 2.04), cubeOf({}, 1, [9, 0, 0])], ['a', 'b'])
    expect(paired(master, returned)).toBe(0)
  })
})
