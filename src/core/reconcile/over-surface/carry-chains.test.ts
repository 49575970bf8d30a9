/** Chains of edges led over other polygons: flat grids, on which it is plain by hand which edges a chain has to run along. */
import { describe, expect, test } from 'vitest'
import { gridOf, meshOf, type Point } from '../../../../tests/solids.ts'
import { edgeKey } from '../../mesh/relations/adjacency.ts'
import { pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { leadEdges, type LedEdges } from './carry-chains.ts'

const CELLS = 8
const target = gridOf(CELLS, CELLS)
/** The grid's point at a column and a row. */
const at = (column: number, row: number): number => row * (CELLS + 1) + column
/** A row of the grid as pairs of points, from column to column. */
const along = (row: number, from: number, to: number): [number, number][] =>
  Array.from({ length: to - from }, (_edge, step) => [at(from + step, row), at(from + step + 1, row)])

/** A mesh of nothing but points in a row: what is led has no need of polygons. */
const places = (points: readonly Point[]): Mesh => meshOf(points, [])
const inRow = (count: number): [number, number][] =>
  Array.from({ length: count - 1 }, (_edge, first) => [first, first + 1])
const none = (mesh: Mesh): Int32Array => new Int32Array(pointCountOf(mesh)).fill(-1)
const lead = (
  moved: Mesh,
  edges: readonly (readonly [number, number])[],
  sourcePoints: Int32Array = none(moved),
  values: ArrayLike<number> = new Float64Array(edges.length).fill(1),
  onto: Mesh = target,
): LedEdges => leadEdges(moved, onto, sourcePoints, { points: edges.flat(), values })

const keysOf = (edges: readonly (readonly [number, number])[]): number[] =>
  edges.map(([a, b]) => edgeKey(a, b)).sort((a, b) => a - b)
/** The edges that were laid, by their points; what stands under a key is that very edge. */
function laid({ edges }: LedEdges): number[] {
  for (const [key, { a, b }] of edges) expect(edgeKey(a, b)).toBe(key)
  return [...edges.keys()].sort((a, b) => a - b)
}
const valuesOf = ({ edges }: LedEdges, of: readonly (readonly [number, number])[]): number[] =>
  of.map(([a, b]) => edges.get(edgeKey(a, b))!.value)

describe('edges whose points are both known', () => {
  test('the edge that is there is laid, with the greater value of two that came together', () => {
    const moved = places([[0, 0, 0], [1, 0, 0], [2, 0, 0], [0, 0, 0], [1, 0, 0]]) // prettier-ignore
    const found = lead(
      moved,
      [[0, 1], [1, 2], [3, 4]], // prettier-ignore
      Int32Array.of(at(0, 0), at(1, 0), at(2, 0), at(1, 0), at(0, 0)),
      [2, 3, 5],
    )
    expect([found.found, found.total, laid(found)]).toEqual([3, 3, keysOf(along(0, 0, 2))])
    expect(valuesOf(found, along(0, 0, 2))).toEqual([5, 3])
    const other = lead(
      moved,
      [[3, 4], [0, 1]], // prettier-ignore
      Int32Array.of(at(0, 0), at(1, 0), -1, at(1, 0), at(0, 0)),
      [5, 2],
    )
    expect(valuesOf(other, along(0, 0, 1))).toEqual([5])
  })
  test('an edge that fell together into one point is found, and nothing is laid', () => {
    const moved = places([[0, 0, 0], [0, 0, 0]]) // prettier-ignore
    const found = lead(moved, [[0, 1]], Int32Array.of(at(3, 3), at(3, 3)))
    expect([found.found, found.total, found.edges.size]).toEqual([1, 1, 0])
    // the first point of all counts as one
    const first = lead(moved, [[0, 1]], Int32Array.of(0, 0))
    expect([first.found, first.edges.size]).toEqual([1, 0])
  })
  test('where other edges run between them, the way along these is laid', () => {
    const moved = places([[1, 0, -2], [4, 0, -2]]) // prettier-ignore
    const found = lead(moved, [[0, 1]], Int32Array.of(at(1, 2), at(4, 2)), [7])
    expect([found.found, laid(found)]).toEqual([1, keysOf(along(2, 1, 4))])
    expect(valuesOf(found, along(2, 1, 4))).toEqual([7, 7, 7])
  })
})

test('an edge that is there is taken as it is, wherever its points were thought to lie', () => {
  const moved = places([[NaN, 0, 0], [900, 0, 0], [900, 0, 0]]) // prettier-ignore
  const found = lead(moved, [[0, 1], [1, 2]], Int32Array.of(at(2, 2), at(3, 2), at(3, 3))) // prettier-ignore
  expect([found.found, laid(found)]).toEqual([2, keysOf([[at(2, 2), at(3, 2)], [at(3, 2), at(3, 3)]])]) // prettier-ignore
})

test('the first point of all is one as any other, at either end', () => {
  const moved = places([[900, 0, 0], [NaN, 0, 0]]) // prettier-ignore
  for (const ends of [
    [0, 1],
    [1, 0],
  ] as const) {
    const found = lead(moved, [ends], Int32Array.of(at(0, 0), at(1, 0)))
    expect([found.found, laid(found)]).toEqual([1, keysOf(along(0, 0, 1))])
  }
})

test('a way that winds along its chain is none where it is far longer', () => {
  // edges from side to side of the chain, never farther off than they are long
  const zigzag = (aside: number): Mesh => {
    const points = Array.from({ length: 9 }, (_p, n): Point => [n / 4, 0, n % 2 ? aside : 0])
    return meshOf([...points, [2, 0, -1.9], [0, 0, -1.9]], [[...points.keys(), 9, 10]])
  }
  const chain = places([[0, 0, 0], [1, 0, 0], [2, 0, 0]]) // prettier-ignore
  const led = (aside: number): number[] => {
    const { found, edges } = lead(chain, inRow(3), Int32Array.of(0, -1, 8), [1, 1], zigzag(aside))
    return [found, edges.size]
  }
  expect(led(0.2)).toEqual([2, 8])
  expect(led(0.9)).toEqual([0, 0])
})

describe('chains whose points have no counterpart', () => {
  test.each([
    ['as long edges', 1],
    ['edges twice as long', 2],
    ['edges half as long', 0.5],
    ['edges of two thirds', 2 / 3],
  ])('lie along the row of the grid: %s', (_name, step) => {
    const points = Array.from({ length: Math.round(6 / step) + 1 }, (_p, n): Point => [1 + n * step, 0, -4])
    const found = lead(places(points), inRow(points.length))
    expect([found.found, found.total]).toEqual([points.length - 1, points.length - 1])
    expect(laid(found)).toEqual(keysOf(along(4, 1, 7)))
  })
  test('beside the row by less than half an edge: the nearest row', () => {
    for (const off of [-0.45, 0.3, 0.45]) {
      const points = Array.from({ length: 7 }, (_p, n): Point => [1 + n, off / 3, -4 + off])
      expect(laid(lead(places(points), inRow(7)))).toEqual(keysOf(along(4, 1, 7)))
    }
  })
  test('a corner is turned where the chain turns', () => {
    const points: Point[] = [[1, 0, -1], [3, 0, -1], [5, 0, -1], [5, 0, -3], [5, 0, -6]] // prettier-ignore
    const up = Array.from({ length: 5 }, (_e, n): [number, number] => [at(5, 1 + n), at(5, 2 + n)])
    expect(laid(lead(places(points), inRow(5)))).toEqual(keysOf([...along(1, 1, 5), ...up]))
  })
  test('askew to the edges: a way of steps that stays beside it', () => {
    const points: Point[] = [[1, 0, -1], [3, 0, -3], [6, 0, -6]] // prettier-ignore
    const found = lead(places(points), inRow(3))
    expect(found.found).toBe(2)
    expect(found.edges.size).toBe(10)
    for (const { a, b } of found.edges.values())
      for (const point of [a, b])
        expect(Math.abs(target.points[3 * point]! + target.points[3 * point + 2]!)).toBeLessThanOrEqual(1)
  })
  test('farther off than an edge is long: nothing is laid', () => {
    for (const off of [1.2, 3]) {
      const points = Array.from({ length: 5 }, (_p, n): Point => [2 + n, off, -4])
      const found = lead(places(points), inRow(5))
      expect([found.found, found.total, found.edges.size]).toEqual([0, 4, 0])
      expect(found.pointOf(2)).toBe(-1)
    }
    const near = lead(places([[2, 0.9, -4], [3, 0.9, -4]]), inRow(2)) // prettier-ignore
    expect([near.found, near.pointOf(1)]).toEqual([1, at(3, 4)])
  })
  test('half of a chain off: the whole chain is not laid, and no other chain minds', () => {
    const points: Point[] = [[1, 0, -1], [2, 0, -1], [2, 2, -1], [1, 0, -6], [2, 0, -6]] // prettier-ignore
    const found = lead(places(points), [[0, 1], [1, 2], [3, 4]]) // prettier-ignore
    expect([found.found, laid(found)]).toEqual([1, keysOf(along(6, 1, 2))])
  })
  test('a chain shorter than any edge there is not found', () => {
    const found = lead(places([[2.1, 0, -2], [1.9, 0, -2]]), inRow(2)) // prettier-ignore
    expect([found.found, found.total, found.edges.size]).toEqual([0, 1, 0])
  })
  test('numbers that are none are nowhere', () => {
    const found = lead(places([[1, 0, -1], [NaN, 0, -1], [3, 0, -1]]), inRow(3)) // prettier-ignore
    expect(found.pointOf(1)).toBe(-1)
    expect(found.pointOf(2)).toBe(at(3, 1))
    const ends = lead(places([[NaN, 0, 0], [1, Infinity, 0]]), inRow(2)) // prettier-ignore
    expect([ends.found, ends.edges.size]).toEqual([0, 0])
  })
  test('values of their own are chains of their own', () => {
    const points = Array.from({ length: 5 }, (_p, n): Point => [1 + n, 0.1, -2])
    const found = lead(places(points), inRow(5), undefined, [1, 1, 4, 4])
    expect(found.found).toBe(4)
    expect(valuesOf(found, along(2, 1, 5))).toEqual([1, 1, 4, 4])
  })
  test('three arms from one point: each is led', () => {
    const points: Point[] = [[4, 0, -4], [6, 0, -4], [2, 0, -4], [4, 0, -7]] // prettier-ignore
    const found = lead(places(points), [[0, 1], [2, 0], [0, 3]]) // prettier-ignore
    const up = Array.from({ length: 3 }, (_e, n): [number, number] => [at(4, 4 + n), at(4, 5 + n)])
    expect([found.found, laid(found)]).toEqual([3, keysOf([...along(4, 2, 6), ...up])])
  })
})

describe('rings', () => {
  const square = (from: number, to: number): [number, number][] => [
    ...along(from, from, to),
    ...along(to, from, to),
    ...Array.from({ length: to - from }, (_e, n): [number, number] => [at(from, from + n), at(from, from + n + 1)]), // prettier-ignore
    ...Array.from({ length: to - from }, (_e, n): [number, number] => [
      at(to, from + n),
      at(to, from + n + 1),
    ]),
  ]
  /** Places round a square of the grid, `each` a side. */
  const round = (from: number, to: number, each: number): Point[] => {
    const corners = [[from, from], [to, from], [to, to], [from, to]] as const // prettier-ignore
    return corners.flatMap(([x, z], side) =>
      Array.from({ length: each }, (_p, n): Point => {
        const [nextX, nextZ] = corners[(side + 1) % 4]!
        return [x + ((nextX - x) * n) / each, 0, -(z + ((nextZ - z) * n) / each)]
      }),
    )
  }
  const closed = (count: number): [number, number][] => Array.from({ length: count }, (_e, n) => [n, (n + 1) % count]) // prettier-ignore
  test.each([1, 2, 4, 5, 40])('of %i edges a side lie round the square, wherever they begin', (each) => {
    const points = round(2, 6, each)
    for (const turn of [0, 1, each]) {
      const edges = closed(4 * each)
      const found = lead(places(points), [...edges.slice(turn), ...edges.slice(0, turn)])
      expect([found.found, found.total]).toEqual([4 * each, 4 * each])
      expect(laid(found)).toEqual(keysOf(square(2, 6)))
    }
  })
  test('two rings beside each other and one round both do not mix', () => {
    const [a, b] = [round(1, 3, 2), round(5, 7, 2)]
    const edges = [...closed(8), ...closed(8).map(([x, y]): [number, number] => [x + 8, y + 8])]
    const found = lead(places([...a, ...b]), edges)
    expect([found.found, laid(found)]).toEqual([16, keysOf([...square(1, 3), ...square(5, 7)])])
  })
  test('a ring with one known point begins there', () => {
    const points = round(2, 6, 2)
    const sources = new Int32Array(8).fill(-1)
    // the point came back one step farther on
    sources[1] = at(4, 2)
    const found = lead(places(points), closed(8), sources)
    expect([found.found, laid(found)]).toEqual([8, keysOf(square(2, 6))])
  })
})

test('long chains are led in pieces, and come to the same edges', () => {
  const long = gridOf(300, 2)
  const points = Array.from({ length: 297 }, (_p, n): Point => [2 + n, 0.2, -1])
  const found = lead(places(points), inRow(297), undefined, undefined, long)
  expect([found.found, found.edges.size]).toEqual([296, 296])
  const row = Array.from({ length: 296 }, (_e, n): [number, number] => [301 + 2 + n, 301 + 3 + n])
  expect(laid(found)).toEqual(keysOf(row))
})

test('a way far longer than its chain is none: round a gap that the chain crosses', () => {
  // a comb: two rows that hang together only at their far ends
  const arm = (column: number): number[][] => [[column, column + 1, column + 12, column + 11]]
  const points: Point[] = []
  for (let row = 0; row < 4; row++) for (let column = 0; column < 11; column++) points.push([column, 0, row < 2 ? -row : -row + 0.4]) // prettier-ignore
  const faces = Array.from({ length: 10 }, (_f, column) => arm(column)[0]!)
  const over = faces.map((face) => face.map((point) => point + 22))
  const comb = meshOf(points, [...faces, ...over, [21, 10 + 22, 10 + 22, 21]])
  // across the gap, near the closed end and at the open one
  const chain = places([[1, 0, -1], [1, 0, -1.6]]) // prettier-ignore
  const found = lead(chain, inRow(2), Int32Array.of(11 + 1, 22 + 1), [1], comb)
  expect([found.found, found.edges.size]).toEqual([0, 0])
})

test('of more edges than can be led none is', () => {
  const count = 200_002
  const moved = places(Array.from({ length: count }, (_p, n): Point => [(CELLS * n) / count, 0, 0]))
  const found = leadEdges(moved, target, none(moved), {
    points: Uint32Array.from({ length: 2 * (count - 1) }, (_p, end) => (end + 1) >> 1),
    values: new Uint8Array(count - 1).fill(1),
  })
  expect([found.found, found.total, found.edges.size]).toEqual([0, count - 1, 0])
})
