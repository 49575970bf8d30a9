import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { gridOf, sceneOf } from '../../../../tests/solids.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { runStep } from '../../steps/run-steps.ts'
import { leastTriangles } from '../flatten/relax.ts'
import { uvAreas } from '../uv-measures.ts'
import { islandsInSet } from './laid-island.ts'
import { pullIsland } from './pull-island.ts'

const wavy = (count: number): Mesh => {
  const grid = gridOf(count, count)
  return {
    ...grid,
    points: grid.points.map((value, at) =>
      at % 3 === 1 ? value + 0.2 * Math.sin(grid.points[at - 1]!) * Math.cos(grid.points[at + 1]!) : value,
    ),
  }
}
const mesh = wavy(12)
const facts = createMeshFacts(mesh)
const [island] = islandsInSet(facts, mesh.uvSets[0]!)
const placeOf = (vertex: number): [number, number] => [
  island!.flat[2 * vertex]!,
  island!.flat[2 * vertex + 1]!,
]

describe('corners drawn while others give way', () => {
  test('they come to where they are drawn, what is far stays, nothing turns over', () => {
    const vertex = Math.floor(island!.net.vertexCount / 2)
    const [u, v] = placeOf(vertex)
    const { flat, left } = pullIsland(facts, island!, [vertex], 0.2, 'leastDistortion')!.to(
      Float64Array.of(u + 0.05, v),
      20,
    )
    expect(left).toBeLessThan(1e-9)
    expect(flat[2 * vertex]).toBeCloseTo(u + 0.05, 9)
    expect(leastTriangles(island!.net, flat).slimmest).toBeGreaterThan(0)
    let moved = 0
    for (let other = 0; other < island!.net.vertexCount; other++) {
      const [ou, ov] = placeOf(other)
      const by = Math.hypot(flat[2 * other]! - ou, flat[2 * other + 1]! - ov)
      if (Math.hypot(ou - u, ov - v) > 0.2) expect(by).toBeLessThan(1e-9)
      else if (other !== vertex && by > 1e-6) moved++
    }
    expect(moved).toBeGreaterThan(4)
  })
  test('wherever they are drawn no polygon ever turns over, mirrored islands too', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: island!.net.vertexCount - 1 }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.boolean(),
        fc.constantFrom(0, 0.1, 0.5, 10),
        (vertex, du, dv, isMirrored, reach) => {
          const own = isMirrored
            ? { ...island!, flat: island!.flat.map((value, at) => (at % 2 ? value : -value)) }
            : island!
          const pull = pullIsland(facts, own, [vertex], reach, 'leastDistortion')!
          const target = Float64Array.of(own.flat[2 * vertex]! + du, own.flat[2 * vertex + 1]! + dv)
          const { flat, left } = pull.to(target, 8)
          const side = isMirrored ? flat.map((value, at) => (at % 2 ? value : -value)) : flat
          expect(leastTriangles(own.net, side).slimmest).toBeGreaterThan(0)
          const off = Math.hypot(flat[2 * vertex]! - target[0]!, flat[2 * vertex + 1]! - target[1]!)
          expect(off).toBeLessThanOrEqual(left + 1e-9)
        },
      ),
      { numRuns: 60 },
    )
  })
  test('a folded island gives no way', () => {
    const folded = { ...island!, flat: island!.flat.map((value, at) => (at === 40 ? value + 9 : value)) }
    expect(pullIsland(facts, folded, [3], 1, 'leastDistortion')).toBe(null)
  })
})

describe('as a step', () => {
  const scene = sceneOf([mesh])
  const corner = mesh.faceOffsets[70]!
  const uv = mesh.uvSets[0]!.indices[corner]!
  const only = [{ node: scene.nodes[0]!.id, element: 'corners' as const, elements: [corner] }]
  const draw = (params: object) =>
    runStep(scene, { step: 'move-uvs', params: { what: 'corners', rest: 'givesWay', ...params }, only })
  test('the chosen corner goes where it is sent, others with it', () => {
    const done = draw({ moveU: 0.02, reach: 0.3 })
    const [before, after] = [mesh.uvSets[0]!.values, done.scene.meshes[0]!.uvSets[0]!.values]
    expect(after[2 * uv]).toBeCloseTo(before[2 * uv]! + 0.02, 9)
    expect(after.filter((value, at) => value !== before[at]).length).toBeGreaterThan(10)
    for (const area of uvAreas(done.scene.meshes[0]!, done.scene.meshes[0]!.uvSets[0]!))
      expect(area).toBeGreaterThan(0)
    expect([done.notes, done.warning]).toEqual([[], null])
  })
  test('farther than it can go: as far as it can, and said', () => {
    const done = draw({ moveU: 3, reach: 0.1 })
    for (const area of uvAreas(done.scene.meshes[0]!, done.scene.meshes[0]!.uvSets[0]!))
      expect(area).toBeGreaterThan(0)
    expect(done.notes.join(' ')).toContain('as far as no polygon turns over')
    expect(done.warning).toBe(null)
  })
})
