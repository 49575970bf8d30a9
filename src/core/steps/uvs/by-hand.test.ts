/** Seams and places that are chosen by hand. */
import { describe, expect, test } from 'vitest'
import { gridOf, sceneOf } from '../../../../tests/solids.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import type { Scene } from '../../scene/scene.ts'
import { findIslands } from '../../uv/find-islands.ts'
import { measureUvFields } from '../../uv/uv-fields.ts'
import { uvAreas } from '../../uv/uv-measures.ts'
import { growOverScene, type GrowKind } from '../grow-selection.ts'
import type { RecipeStep, StepElements } from '../recipe.ts'
import { runStep } from '../run-steps.ts'

const apply = (scene: Scene, step: string, params: RecipeStep['params'], only?: readonly StepElements[]) =>
  runStep(scene, { step, params, ...(only ? { only } : {}) })
const chosenBy = (scene: Scene, kind: GrowKind, clicked: object): StepElements[] =>
  growOverScene(scene, { node: 0, face: 0, ...clicked }, kind, createMeshFacts).map((one) => ({
    node: scene.nodes[one.node]!.id,
    element: one.element,
    elements: [...one.elements],
  }))
const sheet = (): Scene => sceneOf([gridOf(4, 4)])
const islandsIn = (scene: Scene): number =>
  findIslands(scene.meshes[0]!, scene.meshes[0]!.uvSets[0]!).islandCount

describe('chosen edges as seams', () => {
  test('a loop over a sheet makes two islands of it', () => {
    const scene = sheet()
    // the side between the first and the second column
    const mesh = scene.meshes[0]!
    const side = [0, 1, 2, 3].find((corner) => {
      const edge = createMeshFacts(mesh).edges()
      return edge.edgeSides[edge.cornerEdges[corner]!] === 2
    })!
    const loop = chosenBy(scene, 'loop', { side })
    expect(loop[0]!.elements).toHaveLength(2 * 4)
    const cut = apply(scene, 'unwrap', { seams: 'chosen' }, loop)
    expect(islandsIn(cut.scene)).toBe(2)
    for (const area of uvAreas(cut.scene.meshes[0]!, cut.scene.meshes[0]!.uvSets[0]!))
      expect(area).toBeGreaterThan(0)
    expect(islandsIn(apply(scene, 'cut-uvs', {}, loop).scene)).toBe(2)
    // and together again
    expect(islandsIn(apply(cut.scene, 'sew-uvs', {}, loop).scene)).toBe(1)
  })
  test('nothing chosen is told', () => {
    const done = apply(sheet(), 'unwrap', { seams: 'chosen' })
    expect([done.changedCount, done.notes]).toEqual([0, ['No edges are chosen.']])
  })
  test('the shortest way begins with its first point', () => {
    const scene = sheet()
    const first = chosenBy(scene, 'path', { corner: 0 })[0]!.elements
    expect(first[0]).toBe(first[1])
    const far = scene.meshes[0]!.faceVertices.length - 2
    const way = growOverScene(
      scene,
      { node: 0, face: 15, corner: far, from: first[0]! },
      'path',
      createMeshFacts,
    )
    expect(way[0]!.element).toBe('edges')
    expect(way[0]!.elements.length % 2).toBe(0)
    expect(way[0]!.elements.length).toBeGreaterThan(2)
  })
  test('a click beside all polygons chooses nothing', () => {
    for (const kind of ['edge', 'loop', 'path', 'group-border', 'corner'] as const)
      expect(growOverScene(sheet(), { node: 0, face: 99 }, kind, createMeshFacts)).toEqual([])
  })
})

describe('moving UVs by figures', () => {
  const boxOf = (scene: Scene): number[] => {
    const { values } = scene.meshes[0]!.uvSets[0]!
    const us = Array.from(values).filter((_, at) => at % 2 === 0)
    const vs = Array.from(values).filter((_, at) => at % 2)
    return [Math.min(...us), Math.min(...vs), Math.max(...us), Math.max(...vs)]
  }
  test('a whole island goes where one of its polygons is chosen', () => {
    const scene = sheet()
    const before = boxOf(scene)
    const done = apply(
      scene,
      'move-uvs',
      { moveU: 1, scaleU: 0.5, scaleV: 0.5 },
      chosenBy(scene, 'polygon', {}),
    )
    const after = boxOf(done.scene)
    expect(after[2]! - after[0]!).toBeCloseTo((before[2]! - before[0]!) / 2)
    expect((after[0]! + after[2]!) / 2).toBeCloseTo((before[0]! + before[2]!) / 2 + 1)
    expect(done.changedCount).toBe(scene.meshes[0]!.faceVertices.length)
    expect(done.warning).toBe(null)
    // what isn't UVs is shared with the scene before
    expect(done.scene.meshes[0]!.points).toBe(scene.meshes[0]!.points)
  })
  test('one corner takes what shares it along, and no more', () => {
    const scene = sheet()
    const corner = chosenBy(scene, 'corner', { corner: 2 })
    const done = apply(scene, 'move-uvs', { what: 'corners', moveU: 0.01 }, corner)
    const [before, after] = [scene, done.scene].map((one) => one.meshes[0]!.uvSets[0]!.values) as [
      Float64Array,
      Float64Array,
    ]
    expect(after.filter((value, at) => value !== before[at])).toHaveLength(1)
    expect(islandsIn(done.scene)).toBe(1)
  })
  test('corners with UVs of their own that lie together are one corner', () => {
    const grid = gridOf(4, 4)
    const set = grid.uvSets[0]!
    // every corner has its own value, as some files write them
    const values = Float64Array.from(set.indices, (uv) => uv).reduce(
      (all, uv, at) => {
        all.set([set.values[2 * uv]!, set.values[2 * uv + 1]!], 2 * at)
        return all
      },
      new Float64Array(2 * set.indices.length),
    )
    const scene = sceneOf([
      { ...grid, uvSets: [{ ...set, values, indices: set.indices.map((_, at) => at) }] },
    ])
    const shared = chosenBy(sheet(), 'corner', { corner: 2 })[0]!.elements
    const corner = chosenBy(scene, 'corner', { corner: 2 })
    expect(corner[0]!.elements).toEqual(shared)
    expect(shared.length).toBeGreaterThan(1)
    expect(islandsIn(apply(scene, 'move-uvs', { what: 'corners', moveU: 0.01 }, corner).scene)).toBe(
      islandsIn(scene),
    )
  })
  test('a corner that turns polygons over is warned of; mirroring is told', () => {
    const scene = sheet()
    const corner = chosenBy(scene, 'corner', { corner: 2 })
    expect(apply(scene, 'move-uvs', { what: 'corners', moveU: 5 }, corner).warning).toMatch(
      /polygons? lies? turned over/,
    )
    const mirrored = apply(scene, 'move-uvs', { mirror: 'u' })
    expect(mirrored.warning).toBe(null)
    expect(mirrored.notes.join(' ')).toContain('16 polygons lie mirrored now')
    expect(apply(scene, 'move-uvs', { what: 'corners', moveU: 1 }).notes).toEqual(['No corners are chosen.'])
    expect(apply(scene, 'move-uvs', {}).changedCount).toBe(0)
  })
  test('third coordinates stay with the corners that move', () => {
    const grid = gridOf(2, 2)
    const set = grid.uvSets[0]!
    const depths = Float64Array.from({ length: set.values.length / 2 }, (_, at) => at + 0.5)
    const scene = sceneOf([{ ...grid, uvSets: [{ ...set, depths }] }])
    const byCorner = (of: Scene): number[] => {
      const own = of.meshes[0]!.uvSets[0]!
      return Array.from(own.indices, (uv) => own.depths![uv]!)
    }
    for (const [step, params] of [
      ['move-uvs', { moveU: 0.25 }],
      ['pack-islands', {}],
    ] as const)
      expect(byCorner(apply(scene, step, params).scene)).toEqual(byCorner(scene))
  })
})

test('texel density is measured over all parts together, stretch on each', () => {
  const scene = buildCourierHeron()
  const nodes = scene.nodes.flatMap(({ mesh }, node) => (mesh >= 0 ? [node] : []))
  const { fields, even } = measureUvFields(scene, 'density', nodes, createMeshFacts)
  expect(even).toBeGreaterThan(0)
  let [flat, surface] = [0, 0]
  for (const { values, areas } of fields)
    values.forEach((value, face) => {
      if (!Number.isFinite(value)) return
      flat += (value * even!) ** 2 * areas[face]!
      surface += areas[face]!
    })
  expect(Math.sqrt(flat / surface)).toBeCloseTo(even!, 6)
  for (const { values } of measureUvFields(scene, 'stretch', nodes, createMeshFacts).fields)
    for (const value of values) if (Number.isFinite(value)) expect(value).toBeGreaterThan(1 - 1e-6)
  expect(measureUvFields(sceneOf([gridOf(2, 2, { uvSets: [] })]), 'density', [0], createMeshFacts)).toEqual({
    fields: [],
    even: null,
  })
})
