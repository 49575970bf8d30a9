/** Measures of UVs against closed forms and against slower ways to the same answer. */
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, meshOf, sharedUvs, uvsOf, type Point } from '../../../tests/solids.ts'
import { chanceOf } from '../base/math/chance.ts'
import { meanScale } from '../base/math/matrix.ts'
import { islandDensities } from '../checks/uvs/texel-density.ts'
import { coverTile } from '../checks/uvs/tile-use.ts'
import { createMeshFacts } from '../mesh/relations/mesh-facts.ts'
import type { Mesh } from '../scene/mesh.ts'
import { findIslands } from './find-islands.ts'
import { findOverlaps } from './find-overlaps.ts'
import { closeIslands, islandBorders, segmentDistance } from './island-borders.ts'
import { findSeams, measureStretch, uvAreas } from './uv-measures.ts'
import { howMany } from '../../../tests/how-many.ts'

/** Rectangles in the tile, each a quad of its own. */
function rectangles(list: readonly (readonly [number, number, number, number])[]): Mesh {
  const points: Point[] = []
  const uvs: [number, number][] = []
  const faces: number[][] = []
  list.forEach(([u, v, width, height], at) => {
    const corners = [
      [u, v],
      [u + width, v],
      [u + width, v + height],
      [u, v + height],
    ] as const
    faces.push(corners.map((_corner, k) => 4 * at + k))
    for (const [x, y] of corners) {
      points.push([x + 3 * at, 0, -y])
      uvs.push([x, y])
    }
  })
  return meshOf(points, faces, { uvSets: [uvsOf(uvs)] })
}
const overlapsOf = (mesh: Mesh) => findOverlaps([{ mesh, set: mesh.uvSets[0]!, chosen: null }])

describe('overlaps are exact by area', () => {
  test('of hollow and round polygons with spikes of no width and corners that stand twice: what they cover of a square is their area', () => {
    for (let seed = 0; seed < 300; seed++) {
      const next = chanceOf(seed)
      const size = 4 + Math.floor(next() * 7)
      const isHollow = next() < 0.7
      // seen from its middle all of it is seen: it crosses itself nowhere
      const ring = Array.from({ length: size }, (_corner, at): [number, number] => {
        const away = isHollow ? 0.05 + 0.4 * next() : 0.4
        const angle = (2 * Math.PI * (at + 0.8 * next())) / size
        return [0.5 + away * Math.cos(angle), 0.5 + away * Math.sin(angle)]
      })
      const doubled = ring.reduce((sum, [u, v], at) => {
        const [nextU, nextV] = ring[(at + 1) % size]!
        return sum + u * nextV - v * nextU
      }, 0)
      // outward from a corner and back again, along its way from the middle
      const spiked = ring.flatMap(
        ([u, v]): [number, number][] =>
        next() < 0.4 ? [[u, v], [u + (u - 0.5) * 0.1, v + (v - 0.5) * 0.1], [u, v]] : [[u, v]], // prettier-ignore
      )
      const doubledCorners = spiked.flatMap((corner) => (next() < 0.2 ? [corner, corner] : [corner]))
      const turned = next() < 0.5 ? doubledCorners : [...doubledCorners].reverse()
      const square: [number, number][] = [[0, 0], [1, 0], [1, 1], [0, 1]] // prettier-ignore
      const uvs = [...turned, ...square]
      const mesh = meshOf(
        uvs.map(([u, v]): Point => [u, 0, -v]),
        [turned.map((_corner, at) => at), [0, 1, 2, 3].map((at) => turned.length + at)],
        { uvSets: [uvsOf(uvs)] },
      )
      expect(overlapsOf(mesh).ownArea, `seed ${seed}`).toBeCloseTo(Math.abs(doubled) / 2, 9)
    }
  })
  test('of triangles that are stored as polygons of more corners, as at a pole', () => {
    const triangle: [number, number][] = [[0.1, 0.1], [0.7, 0.2], [0.3, 0.9]] // prettier-ignore
    for (const twice of [0, 1, 2])
      for (const times of [2, 3]) {
        const uvs = triangle.flatMap((corner, at) => (at === twice ? new Array<typeof corner>(times).fill(corner) : [corner])) // prettier-ignore
        const two = [...uvs, ...[...uvs].reverse()]
        const mesh = meshOf(
          two.map(([u, v]): Point => [u, 0, -v]),
          [uvs.map((_corner, at) => at), uvs.map((_corner, at) => uvs.length + at)],
          { uvSets: [uvsOf(two)] },
        )
        expect(overlapsOf(mesh)).toMatchObject({ pairCount: 1, ownArea: expect.closeTo(0.23, 12) })
      }
  })
  test('of any rectangles, the sum over pairs', () => {
    const side = fc.integer({ min: 1, max: 40 })
    const place = fc.integer({ min: 0, max: 80 })
    fc.assert(
      fc.property(fc.array(fc.tuple(place, place, side, side), { minLength: 1, maxLength: 25 }), (list) => {
        const cells = list.map(
          (entry) => entry.map((value) => value / 100) as [number, number, number, number],
        )
        let area = 0
        const touched = new Set<number>()
        for (let a = 0; a < cells.length; a++)
          for (let b = 0; b < a; b++) {
            const [p, q] = [cells[a]!, cells[b]!]
            const width = Math.min(p[0] + p[2], q[0] + q[2]) - Math.max(p[0], q[0])
            const height = Math.min(p[1] + p[3], q[1] + q[3]) - Math.max(p[1], q[1])
            if (width < 1e-9 || height < 1e-9) continue
            area += width * height
            touched.add(a).add(b)
          }
        const found = overlapsOf(rectangles(cells))
        expect(found.ownArea).toBeCloseTo(area, 9)
        expect([...found.faces[0]!]).toEqual([...touched].sort((x, y) => x - y))
      }),
      { numRuns: howMany(100, 2000) },
    )
  })
  test('a turned square on a square: the octagon they share has the area 8 (sqrt 2 - 1) by the half side squared', () => {
    const half = 0.2
    const turned = Math.SQRT2 * half
    const mesh = meshOf(
      Array.from({ length: 8 }, (_value, at) => [at, 0, 0] as Point),
      [
        [0, 1, 2, 3],
        [4, 5, 6, 7],
      ],
      {
        uvSets: [
          uvsOf([
            [0.5 - half, 0.5 - half],
            [0.5 + half, 0.5 - half],
            [0.5 + half, 0.5 + half],
            [0.5 - half, 0.5 + half],
            [0.5, 0.5 - turned],
            [0.5 + turned, 0.5],
            [0.5, 0.5 + turned],
            [0.5 - turned, 0.5],
          ]),
        ],
      },
    )
    expect(overlapsOf(mesh).ownArea).toBeCloseTo(8 * (Math.SQRT2 - 1) * half * half, 12)
  })
  test('concave and mirrored polygons count by their own area; neighbours over a shared side not at all', () => {
    const arrow = [
      [0, 0],
      [0.4, 0],
      [0.1, 0.1],
      [0, 0.4],
    ] as [number, number][]
    const both = meshOf(
      Array.from({ length: 8 }, (_value, at) => [at, 0, 0] as Point),
      [
        [0, 1, 2, 3],
        [4, 5, 6, 7],
      ],
      { uvSets: [uvsOf([...arrow, ...[...arrow].reverse()])] },
    )
    expect(overlapsOf(both).ownArea).toBeCloseTo(0.04, 12)
    expect(overlapsOf(gridOf(20, 20)).pairCount).toBe(0)
  })
  test('between parts, and only among the chosen faces', () => {
    const one = rectangles([[0, 0, 0.5, 0.5]])
    const two = rectangles([
      [0.25, 0.25, 0.5, 0.5],
      [0, 0, 0.1, 0.1],
    ])
    const part = (mesh: Mesh, chosen: Uint8Array | null = null) => ({ mesh, set: mesh.uvSets[0]!, chosen })
    const all = findOverlaps([part(one), part(two)])
    expect([all.ownArea, all.pairCount]).toEqual([0, 2])
    expect(all.betweenArea).toBeCloseTo(0.0625 + 0.01, 12)
    expect(findOverlaps([part(one), part(two, Uint8Array.of(0, 1))]).betweenArea).toBeCloseTo(0.01, 12)
  })
})

describe('stretch', () => {
  test('evenly laid out UVs have none, however large the tile is on the model', () => {
    const grid = gridOf(5, 5)
    const { area, angle } = measureStretch(createMeshFacts(grid), grid.uvSets[0]!)
    for (const value of [...area, ...angle]) expect(value).toBeCloseTo(1, 9)
  })
  test.each([
    [2, 1],
    [1, 3],
    [5, 4],
  ])('UVs drawn out %i by %i', (x, y) => {
    const grid = gridOf(2, 2)
    const set = {
      ...grid.uvSets[0]!,
      values: grid.uvSets[0]!.values.map((value, at) => value * (at % 2 ? y : x)),
    }
    const { angle } = measureStretch(createMeshFacts(grid), set)
    for (const value of angle) expect(value).toBeCloseTo(Math.max(x, y) / Math.min(x, y), 9)
  })
  test('a sheared square: the ratio of the singular values of the shear', () => {
    const shear = 0.7
    const grid = gridOf(1, 1)
    const [set] = grid.uvSets
    const sheared = {
      ...set!,
      values: Float64Array.from(set!.values, (value, at) =>
        at % 2 ? value : value + shear * set!.values[at + 1]!,
      ),
    }
    // of the matrix [1 s; 0 1]: sigma² = (2 + s² ± s sqrt(s² + 4)) / 2
    const root = shear * Math.sqrt(shear * shear + 4)
    const expected = Math.sqrt((2 + shear * shear + root) / (2 + shear * shear - root))
    expect(measureStretch(createMeshFacts(grid), sheared).angle[0]).toBeCloseTo(expected, 9)
  })
})

test('areas have the sign of the winding, and unmapped faces none', () => {
  const mesh = rectangles([[0, 0, 0.5, 0.2]])
  expect(uvAreas(mesh, mesh.uvSets[0]!)[0]).toBeCloseTo(0.1, 12)
  const [set] = mesh.uvSets
  expect(uvAreas(mesh, { ...set!, indices: Int32Array.of(3, 2, 1, 0) })[0]).toBeCloseTo(-0.1, 12)
  expect(uvAreas(mesh, { ...set!, indices: Int32Array.of(0, 1, -1, 3) })[0]).toBeNaN()
})

test('seams of a cube with six islands are all its edges; of a folded sheet none', () => {
  const cube = cubeOf()
  expect([...findSeams(createMeshFacts(cube), cube.uvSets[0]!)]).toEqual(Array(12).fill(1))
  const grid = gridOf(3, 3)
  expect([...findSeams(createMeshFacts(grid), grid.uvSets[0]!)].every((seam) => seam === 0)).toBe(true)
  // the same coordinates under other numbers are no seam
  const own = {
    ...grid.uvSets[0]!,
    ...uvsOf(
      [...grid.faceVertices].map(
        (point) =>
          [grid.uvSets[0]!.values[2 * point]!, grid.uvSets[0]!.values[2 * point + 1]!] as [number, number],
      ),
    ),
  }
  expect([...findSeams(createMeshFacts(grid), own)].every((seam) => seam === 0)).toBe(true)
})

describe('islands and their distance', () => {
  test('against all pairs of rectangles', () => {
    const place = fc.integer({ min: 0, max: 50 })
    fc.assert(
      fc.property(
        fc.array(fc.tuple(place, place), { minLength: 2, maxLength: 12 }),
        fc.integer({ min: 1, max: 20 }),
        (list, reach) => {
          const cells = list.map(([u, v]) => [u / 50, v / 50, 0.05, 0.05] as [number, number, number, number])
          const mesh = rectangles(cells)
          const [set] = mesh.uvSets
          const islands = findIslands(mesh, set!)
          const { pairs, complete } = closeIslands(
            islandBorders(createMeshFacts(mesh), set!, islands),
            reach / 100,
          )
          const expected: [number, number][] = []
          for (let b = 0; b < cells.length; b++)
            for (let a = 0; a < b; a++) {
              const gap = (axis: 0 | 1): number =>
                Math.max(0, Math.abs(cells[a]![axis] - cells[b]![axis]) - 0.05)
              // inside one another borders may keep their distance; squares of one size can't be
              const distance = Math.hypot(gap(0), gap(1))
              if (distance < reach / 100 - 1e-9) expected.push([a, b])
              else if (distance < reach / 100 + 1e-9) return
            }
          expect(complete).toBe(true)
          expect(
            pairs.map(({ a, b }) => [a, b] as [number, number]).sort((x, y) => x[0] - y[0] || x[1] - y[1]),
          ).toEqual(expected.sort((x, y) => x[0] - y[0] || x[1] - y[1]))
        },
      ),
      { numRuns: howMany(100, 2000) },
    )
  })
  test('between segments that cross, touch, lie apart', () => {
    const distance = (...ends: number[]): number => segmentDistance(Float64Array.from(ends), 0, 1)
    expect(distance(0, 0, 1, 1, 0, 1, 1, 0)).toBe(0)
    expect(distance(0, 0, 1, 0, 1, 0, 2, 0)).toBe(0)
    expect(distance(0, 0, 1, 0, 0, 2, 1, 3)).toBe(2)
    expect(distance(0, 0, 1, 0, 4, 4, 4, 4)).toBe(5)
  })
})

test('texel density: a square metre on half a map of 2048 pixels has 1024 a metre, and scale divides it', () => {
  const mesh = meshOf(
    [
      [0, 0, 0],
      [1, 0, 0],
      [1, 0, -1],
      [0, 0, -1],
    ],
    [[0, 1, 2, 3]],
    {
      uvSets: [
        sharedUvs(
          [
            [0, 0],
            [0.5, 0],
            [0.5, 0.5],
            [0, 0.5],
          ],
          [0, 1, 2, 3],
        ),
      ],
    },
  )
  const density = (scale: number): number =>
    islandDensities(createMeshFacts(mesh), mesh.uvSets[0]!, 2048, scale).densities[0]!
  expect(density(1)).toBeCloseTo(1024, 9)
  expect(density(meanScale([2, 0, 0, 0, 0, 2, 0, 0, 0, 0, 2, 0, 9, 9, 9, 1]))).toBeCloseTo(512, 9)
})

test('the used share of a tile counts a place once and only inside the tile', () => {
  const share = (...list: [number, number, number, number][]): number => {
    const mesh = rectangles(list)
    return coverTile([{ mesh, set: mesh.uvSets[0]!, chosen: null }])
  }
  expect(share([0, 0, 0.5, 0.5])).toBeCloseTo(0.25, 3)
  expect(share([0, 0, 0.5, 0.5], [0, 0, 0.5, 0.5], [0.25, 0, 0.5, 0.5])).toBeCloseTo(0.375, 3)
  expect(share([-1, 0, 1.5, 1])).toBeCloseTo(0.5, 3)
  expect(share([2, 2, 1, 1])).toBe(0)
})

test('islands where numbers tell no steps apart: the search ends, and says that it is not complete', () => {
  const ends = Float64Array.of(1e18, 0, 1e18, 1, 1e18, 0, 1e18, 1, 0, 0, 0, 1)
  const segments = { ends, islands: Int32Array.of(0, 1, 2), corners: Uint32Array.of(0, 1, 2) }
  expect(closeIslands(segments, 0.01)).toEqual({ pairs: [], complete: false })
})
