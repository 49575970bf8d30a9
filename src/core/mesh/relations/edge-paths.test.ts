import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { EMPTY_MESH, type Mesh } from '../../scene/mesh.ts'
import { edgeBetween, edgeLoop, groupBorder, shortestEdgePath } from './edge-paths.ts'
import { createMeshFacts, type MeshFacts } from './mesh-facts.ts'

/** rows x columns quads, closed round in u where `round`; point (row, column) is row * (columns + 1 or columns) + column. */
function sheet(rows: number, columns: number, round = false): MeshFacts {
  const wide = round ? columns : columns + 1
  const points: number[] = []
  for (let row = 0; row <= rows; row++)
    for (let column = 0; column < wide; column++)
      points.push(
        ...(round
          ? [Math.cos((2 * Math.PI * column) / columns), row, Math.sin((2 * Math.PI * column) / columns)]
          : [column, row, 0]),
      )
  const faceVertices: number[] = []
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const next = (column + 1) % wide
      faceVertices.push(
        row * wide + column,
        row * wide + next,
        (row + 1) * wide + next,
        (row + 1) * wide + column,
      )
    }
  const mesh: Mesh = {
    ...EMPTY_MESH,
    points: Float64Array.from(points),
    faceVertices: Uint32Array.from(faceVertices),
    faceOffsets: Uint32Array.from({ length: rows * columns + 1 }, (_, face) => 4 * face),
  }
  return createMeshFacts(mesh)
}
const endsOf = (facts: MeshFacts, edges: readonly number[]): string[] =>
  edges
    .map((edge) => `${facts.edges().edgePoints[2 * edge]}-${facts.edges().edgePoints[2 * edge + 1]}`)
    .sort()

describe('edge loops', () => {
  test('straight over an open sheet, from border to border', () => {
    const facts = sheet(4, 3)
    // column 1, upwards
    const loop = edgeLoop(facts, edgeBetween(facts, 5, 9))
    expect(endsOf(facts, loop)).toEqual(['1-5', '13-17', '5-9', '9-13'].sort())
  })
  test('round a tube until it closes', () => {
    const facts = sheet(4, 7, true)
    expect(edgeLoop(facts, edgeBetween(facts, 14, 15))).toHaveLength(7)
  })
  test('along the border', () => {
    const facts = sheet(2, 3)
    expect(edgeLoop(facts, edgeBetween(facts, 0, 1))).toHaveLength(10)
  })
  test('any sheet: every edge has one loop, and all of a loop have the same', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 6 }),
        fc.integer({ min: 3, max: 6 }),
        fc.boolean(),
        (rows, columns, round) => {
          const facts = sheet(rows, columns, round)
          const seen = new Map<number, string>()
          for (let edge = 0; edge < facts.edges().edgeCount; edge++) {
            const key = [...edgeLoop(facts, edge)].sort((a, b) => a - b).join(' ')
            for (const one of edgeLoop(facts, edge)) {
              if (seen.has(one)) expect(seen.get(one)).toBe(key)
              seen.set(one, key)
            }
          }
          expect(seen.size).toBe(facts.edges().edgeCount)
        },
      ),
      { numRuns: 40 },
    )
  })
  test('an edge that isn’t there has none', () => {
    expect(edgeLoop(sheet(1, 1), 99)).toEqual([])
    expect(edgeLoop(sheet(1, 1), edgeBetween(sheet(1, 1), 0, 3))).toEqual([])
  })
})

describe('the shortest way', () => {
  test('is as long as rows and columns are apart, on any sheet', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 8 }),
        fc.integer({ min: 1, max: 8 }),
        fc.nat(),
        fc.nat(),
        (rows, columns, a, b) => {
          const facts = sheet(rows, columns)
          const count = (rows + 1) * (columns + 1)
          const [from, to] = [a % count, b % count]
          const path = shortestEdgePath(facts, from, to)!
          const apart =
            Math.abs((from % (columns + 1)) - (to % (columns + 1))) +
            Math.abs(Math.floor(from / (columns + 1)) - Math.floor(to / (columns + 1)))
          expect(path).toHaveLength(apart)
          // it hangs together from one end to the other
          let at = from
          for (const edge of path) {
            const [low, high] = [facts.edges().edgePoints[2 * edge]!, facts.edges().edgePoints[2 * edge + 1]!]
            expect([low, high]).toContain(at)
            at = at === low ? high : low
          }
          expect(at).toBe(to)
        },
      ),
      { numRuns: 100 },
    )
  })
  test('goes by length, not by the number of edges', () => {
    // a kite: 0-1-2 is short, 0-3-2 too, the direct edge 0-2 is the shortest of all
    const facts = createMeshFacts({
      ...EMPTY_MESH,
      points: Float64Array.from([0, 0, 0, 1, 5, 0, 2, 0, 0, 1, -0.1, 0]),
      faceVertices: Uint32Array.from([0, 2, 1, 0, 3, 2]),
      faceOffsets: Uint32Array.from([0, 3, 6]),
    })
    expect(endsOf(facts, shortestEdgePath(facts, 0, 2)!)).toEqual(['0-2'])
    expect(endsOf(facts, shortestEdgePath(facts, 1, 3)!)).toHaveLength(2)
  })
  test('there is none between pieces', () => {
    const facts = createMeshFacts({
      ...EMPTY_MESH,
      points: new Float64Array(18),
      faceVertices: Uint32Array.from([0, 1, 2, 3, 4, 5]),
      faceOffsets: Uint32Array.from([0, 3, 6]),
    })
    expect(shortestEdgePath(facts, 0, 4)).toBe(null)
  })
})

test('the border of a face group', () => {
  const facts = sheet(3, 3)
  const grouped = createMeshFacts({
    ...facts.mesh,
    groups: {
      names: ['middle', 'rest'],
      sets: [[0], [1]],
      faceSets: Int32Array.from([1, 1, 1, 1, 0, 1, 1, 1, 1]),
    },
  })
  expect(endsOf(grouped, groupBorder(grouped, 4))).toEqual(['5-6', '9-10', '5-9', '6-10'].sort())
  // seen from the other side the border of the sheet belongs to it too
  expect(groupBorder(grouped, 0)).toHaveLength(4 + 12)
  expect(groupBorder(facts, 0)).toHaveLength(12)
})
