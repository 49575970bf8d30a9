/**
 * Against what others say of the same surfaces: tests/reference/uv (closed forms; CGAL 5.5.1's LSCM and ARAP; Chebyshev's
 * bound on the scale of conformal maps).
 */
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { reference } from '../../../../tests/reference/reference.ts'
import { gridOf, meshOf, type Point } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { createMeshFacts, type MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { applySimilarity, fitFlat } from '../islands/fit-flat.ts'
import { edgesWithPoints } from '../seams/given-seams.ts'
import { bordersCross } from './borders-cross.ts'
import type { FlattenMethod } from './distortion.ts'
import { flattenFaces, isSound, layNet, type FlatNet } from './flatten-net.ts'
import { islandNet } from './island-net.ts'

interface Metrics {
  readonly conformal: number
  readonly isometric: number
}

interface Case {
  readonly positions: Point[]
  readonly faces: number[][]
  readonly seams: [number, number][]
  readonly expected: {
    readonly cornerUvs?: [number, number][]
    readonly lscm?: Metrics
    readonly arap?: Metrics
    readonly conformalScaleRatioAtLeast?: number
  }
}

const factsOf = ({ positions, faces }: Case): MeshFacts => createMeshFacts(meshOf(positions, faces))

function flattened(own: Case, method: FlattenMethod): { flat: FlatNet; corners: Float64Array } {
  const facts = factsOf(own)
  const flat = flattenFaces(
    facts,
    own.faces.map((_, at) => at),
    edgesWithPoints(facts, own.seams.flat()),
  )!
  flat.relax(method, 200)
  const corners = new Float64Array(2 * flat.net.vertices.length)
  flat.net.vertices.forEach((vertex, at) =>
    corners.set(flat.flat().subarray(2 * vertex, 2 * vertex + 2), 2 * at),
  )
  return { flat, corners }
}

/** As the reference defines it: over the fan of each polygon, at the size where flat and curved area are equal. */
function metricsOf({ positions, faces }: Case, corners: Float64Array) {
  const triangles: { weight: number; flat: number; m: [number, number, number, number] }[] = []
  let start = 0
  for (const face of faces) {
    for (let k = 1; k + 1 < face.length; k++) {
      const [p, q, r] = [face[0]!, face[k]!, face[k + 1]!].map((point) => positions[point]!) as [
        Point,
        Point,
        Point,
      ]
      const e = [0, 1, 2].map((axis) => q[axis]! - p[axis]!)
      const f = [0, 1, 2].map((axis) => r[axis]! - p[axis]!)
      const length = Math.hypot(...e)
      const x = e.reduce((sum, value, axis) => sum + value * f[axis]!, 0) / length
      const y = Math.sqrt(f.reduce((sum, value) => sum + value * value, 0) - x * x)
      const uv = (at: number, axis: number): number => corners[2 * (start + at) + axis]!
      const [ux, uy] = [uv(k, 0) - uv(0, 0), uv(k, 1) - uv(0, 1)]
      const [vx, vy] = [uv(k + 1, 0) - uv(0, 0), uv(k + 1, 1) - uv(0, 1)]
      triangles.push({
        weight: (length * y) / 2,
        flat: (ux * vy - uy * vx) / 2,
        m: [ux / length, (vx - (ux * x) / length) / y, uy / length, (vy - (uy * x) / length) / y],
      })
    }
    start += face.length
  }
  const sum = (of: (one: (typeof triangles)[0]) => number): number =>
    triangles.reduce((total, one) => total + of(one), 0)
  const area = sum(({ weight }) => weight)
  const scale = Math.sqrt(area / sum(({ flat }) => flat))
  const stretches = triangles.map(({ weight, m }) => {
    const [a, b, c, d] = m.map((value) => value * scale) as [number, number, number, number]
    const [squares, both] = [a * a + b * b + c * c + d * d, a * d - b * c]
    const root = Math.sqrt(Math.max(0, squares * squares - 4 * both * both))
    const large = Math.sqrt((squares + root) / 2)
    return { weight, large, small: both / large }
  })
  const mean = (of: (large: number, small: number) => number): number =>
    stretches.reduce((total, { weight, large, small }) => total + weight * of(large, small), 0) / area
  const sizes = stretches.map(({ large, small }) => Math.sqrt(large * small))
  return {
    flipped: triangles.filter(({ flat }) => !(flat > 0)).length,
    conformal: mean((large, small) => (large / small + small / large) / 2 - 1),
    isometric: mean((large, small) => (large - 1) ** 2 + (small - 1) ** 2),
    scaleRatio: Math.max(...sizes) / Math.min(...sizes),
  }
}

const METHODS: readonly FlattenMethod[] = ['leastDistortion', 'angles', 'sizes']

describe.each(['plane-strip', 'zigzag-fold', 'cone-frustum-9', 'cylinder-7-oblique-seam', 'cube-cross'])(
  '%s, which unrolls without stretch',
  (name) => {
    const own = reference<Case>(`uv/${name}.json`)
    test.each(METHODS)('does so by %s', (method) => {
      const { corners } = flattened(own, method)
      const wanted = own.expected.cornerUvs!.flat()
      const fit = fitFlat(corners, wanted)
      applySimilarity(corners, fit).forEach((value, at) => expect(value).toBeCloseTo(wanted[at]!, 6))
      expect(metricsOf(own, corners)).toMatchObject({ flipped: 0 })
      expect(metricsOf(own, corners).isometric).toBeLessThan(1e-8)
    })
  },
)

describe.each(['bumpy-sheet', 'sphere-cap-30', 'sphere-cap-90'])('%s, which is curved', (name) => {
  const own = reference<Case>(`uv/${name}.json`)
  test('is no more bent in angles than by CGAL’s LSCM', () => {
    const { flipped, conformal } = metricsOf(own, flattened(own, 'angles').corners)
    expect(flipped).toBe(0)
    expect(conformal).toBeLessThanOrEqual(1.2 * own.expected.lscm!.conformal)
  })
  test('is no more stretched than by CGAL’s ARAP', () => {
    const { flipped, isometric } = metricsOf(own, flattened(own, 'leastDistortion').corners)
    expect(flipped).toBe(0)
    expect(isometric).toBeLessThanOrEqual(1.2 * own.expected.arap!.isometric)
  })
  test('keeps sizes better than both others', () => {
    const ratios = METHODS.map((method) => metricsOf(own, flattened(own, method).corners).scaleRatio)
    expect(ratios[2]).toBeLessThan(Math.min(ratios[0]!, ratios[1]!))
  })
  const bound = own.expected.conformalScaleRatioAtLeast
  if (bound !== undefined)
    test('varies in scale about as little as a conformal map can (Chebyshev)', () => {
      const facts = factsOf(own)
      const start = flattenFaces(
        facts,
        own.faces.map((_, at) => at),
        edgesWithPoints(facts, []),
      )!
      const corners = new Float64Array(2 * start.net.vertices.length)
      start.net.vertices.forEach((vertex, at) =>
        corners.set(start.flat().subarray(2 * vertex, 2 * vertex + 2), 2 * at),
      )
      const { scaleRatio } = metricsOf(own, corners)
      // triangles blunt the very rim
      expect(scaleRatio).toBeGreaterThan(0.9 * bound)
      expect(scaleRatio).toBeLessThan(1.1 * bound)
    })
})

/** A hilly sheet with triangles, quads and larger polygons. */
function hills(seed: number, columns: number, rows: number, high: number) {
  const chance = chanceOf(seed)
  const mesh = gridOf(columns, rows, { uvSets: [] }, () => (chance() - 0.5) * high)
  const faces: number[][] = []
  for (let face = 0; face + 1 < mesh.faceOffsets.length; face++) {
    const own = Array.from(mesh.faceVertices.subarray(mesh.faceOffsets[face], mesh.faceOffsets[face + 1]))
    if (chance() < 0.3) faces.push([own[0]!, own[1]!, own[2]!], [own[0]!, own[2]!, own[3]!])
    else faces.push(own)
  }
  return meshOf(
    Array.from(
      { length: mesh.points.length / 3 },
      (_, at) => [...mesh.points.subarray(3 * at, 3 * at + 3)] as unknown as Point,
    ),
    faces,
  )
}

test('no triangle is ever turned over, however steep the hills', () => {
  fc.assert(
    fc.property(
      fc.integer(),
      fc.integer({ min: 1, max: 9 }),
      fc.integer({ min: 1, max: 9 }),
      fc.double({ min: 0, max: 12, noNaN: true }),
      fc.constantFrom(...METHODS),
      (seed, columns, rows, high, method) => {
        const mesh = hills(seed, columns, rows, high)
        const facts = createMeshFacts(mesh)
        const flat = flattenFaces(
          facts,
          Array.from({ length: facts.faceCount }, (_, face) => face),
          new Uint8Array(facts.edges().edgeCount),
        )
        // a sheet is a disc: there is always a way
        expect(flat).not.toBeNull()
        flat!.relax(method, 30)
        expect(isSound(flat!.net, flat!.flat())).toBe(true)
      },
    ),
    { numRuns: 60 },
  )
})

test('pinned corners stay, and the rest gives way', () => {
  const mesh = hills(3, 6, 6, 1.5)
  const facts = createMeshFacts(mesh)
  const faces = Array.from({ length: facts.faceCount }, (_, face) => face)
  const net = islandNet(facts, faces, new Uint8Array(facts.edges().edgeCount))
  // as it is seen from above
  const above = new Float64Array(2 * net.vertexCount)
  net.vertexPoints.forEach((point, vertex) => {
    above[2 * vertex] = mesh.points[3 * point]!
    above[2 * vertex + 1] = -mesh.points[3 * point + 2]!
  })
  const flat = layNet(facts, net, above)!
  const before = flat.stretch().mean
  const pinned = new Uint8Array(net.vertexCount)
  for (const vertex of net.loops[0]!) pinned[vertex] = 1
  flat.relax('leastDistortion', 50, pinned)
  expect(flat.stretch().mean).toBeLessThan(before)
  let moved = 0
  for (let vertex = 0; vertex < net.vertexCount; vertex++) {
    const isSame =
      flat.flat()[2 * vertex] === above[2 * vertex] && flat.flat()[2 * vertex + 1] === above[2 * vertex + 1]
    if (pinned[vertex]) expect(isSame).toBe(true)
    else if (!isSame) moved++
  }
  expect(moved).toBeGreaterThan(10)
})

test('an island that lies over itself is known by its border', () => {
  const loop = (points: [number, number][]) => ({
    flat: Float64Array.from(points.flat()),
    net: {
      loops: [Uint32Array.from(points, (_, at) => at)],
      triangles: new Uint32Array(0),
      shares: new Float64Array(0),
      vertexCount: points.length,
    },
  })
  const plain = loop([
    [0, 0],
    [2, 0],
    [2, 1],
    [0, 1],
  ])
  expect(bordersCross(plain.net, plain.flat)).toBe(false)
  const eight = loop([
    [0, 0],
    [2, 1],
    [2, 0],
    [0, 1],
  ])
  expect(bordersCross(eight.net, eight.flat)).toBe(true)
  const touching = loop([
    [0, 0],
    [2, 0],
    [1, 0],
    [1, 1],
  ])
  expect(bordersCross(touching.net, touching.flat)).toBe(false)
})

test('a slit whose sides are folded over each other is known by more than a whole turn around its end', () => {
  // a square cut from its middle to the right: two vertices there, above and below the slit
  const points: [number, number][] = [[0, 0], [2, 0], [1, 2], [-2, 2], [-2, -2], [1, -2]] // prettier-ignore
  const triangles = [0, 1, 2, 0, 2, 3, 0, 3, 4, 0, 4, 5, 0, 5, 6]
  const lies = (below: [number, number]): boolean =>
    bordersCross(
      {
        loops: [Uint32Array.of(0, 1, 2, 3, 4, 5, 6)],
        triangles: Uint32Array.from(triangles),
        shares: new Float64Array(5).fill(1),
        vertexCount: 7,
      },
      Float64Array.from([...points, below].flat()),
    )
  expect(lies([2, -0.1])).toBe(false)
  expect(lies([2, 0])).toBe(false)
  expect(lies([2, 0.1])).toBe(true)
})
