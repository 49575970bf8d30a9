import { expect, test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import { EMPTY_MESH, type Mesh } from '../../scene/mesh.ts'
import { createMeshFacts } from '../relations/mesh-facts.ts'
import { weldBorders } from './weld-borders.ts'

/** A sheet of loose quads, each corner a little astray. */
function looseSheet(seed: number): Mesh {
  const chance = chanceOf(seed)
  const side = 2 + Math.floor(chance() * 4)
  const points: number[] = []
  const vertices: number[] = []
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++)
      for (const [dx, dy] of [[0, 0], [1, 0], [1, 1], [0, 1]] as const) {
        vertices.push(points.length / 3)
        points.push(x + dx + (chance() - 0.5) * 0.4, y + dy + (chance() - 0.5) * 0.4, (chance() - 0.5) * 0.4)
      } // prettier-ignore
  return {
    ...EMPTY_MESH,
    name: 'awning',
    points: Float64Array.from(points),
    faceOffsets: Uint32Array.from({ length: side * side + 1 }, (_value, at) => 4 * at),
    faceVertices: Uint32Array.from(vertices),
  }
}

test('welding borders again at the same distance welds nothing', () => {
  let welded = 0
  for (let seed = 1; seed <= 150; seed++) {
    const mesh = looseSheet(seed)
    for (const distance of [0.1, 0.3, 0.6]) {
      const once = weldBorders(createMeshFacts(mesh), distance, null)
      if (!once) continue
      welded++
      expect(once.mesh.points.length / 3 + once.count).toBe(mesh.points.length / 3)
      expect(once.points).toHaveLength(once.count)
      expect(weldBorders(createMeshFacts(once.mesh), distance, null)).toBeNull()
    }
  }
  expect(welded).toBeGreaterThan(280)
})

test('points that are not chosen neither move nor take others', () => {
  const mesh = looseSheet(7)
  const chosen = Uint8Array.from({ length: mesh.points.length / 3 }, (_value, point) => (point < 8 ? 1 : 0))
  const once = weldBorders(createMeshFacts(mesh), 0.6, chosen)
  expect(once).not.toBeNull()
  expect(Math.max(...once!.points)).toBeLessThan(8)
})
