import { describe, expect, test } from 'vitest'
import { readText } from '../../../tests/meshes.ts'
import { buildCourierHeron } from '../practice/demo/courier-heron.ts'
import { computeFaceNormals } from '../mesh/relations/face-normals.ts'
import { IDENTITY_MATRIX } from '../scene/scene.ts'
import { buildEdges } from '../mesh/relations/adjacency.ts'
import { faceCountOf } from '../scene/mesh.ts'
import { placeHighlight } from './highlight.ts'
import { triangulateFace } from '../mesh/triangles/triangulate-face.ts'
import { prepareMesh } from './prepare-mesh.ts'

const ORIGIN = [0, 0, 0] as const
const polygon = (...points: [number, number][]) =>
  readText(
    `${points.map(([x, y]) => `v ${x} ${y} 0`).join('\n')}\nf ${points.map((_p, index) => index + 1).join(' ')}\n`,
  ).scene.meshes[0]!

/** Signed areas of the triangles that a polygon is cut into. */
function areas(mesh: ReturnType<typeof polygon>): number[] {
  const cut: number[] = []
  triangulateFace(mesh, 0, computeFaceNormals(mesh), cut)
  const at = (corner: number): [number, number] => [mesh.points[3 * corner]!, mesh.points[3 * corner + 1]!]
  return Array.from({ length: cut.length / 3 }, (_value, triangle) => {
    const [a, b, c] = [0, 1, 2].map((corner) => at(cut[3 * triangle + corner]!)) as [
      [number, number],
      [number, number],
      [number, number],
    ]
    return ((b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1])) / 2
  })
}

describe('polygons are cut so that every triangle faces as the polygon does', () => {
  test.each([
    [
      'a square',
      [
        [0, 0],
        [1, 0],
        [1, 1],
        [0, 1],
      ],
      1,
    ],
    [
      'a quad with a notch at its third corner',
      [
        [0, 0],
        [4, 0],
        [1, 1],
        [0, 4],
      ],
      4,
    ],
    [
      'a quad with a notch at its second corner',
      [
        [0, 4],
        [0, 0],
        [4, 0],
        [1, 1],
      ],
      4,
    ],
    [
      'an L',
      [
        [0, 0],
        [2, 0],
        [2, 1],
        [1, 1],
        [1, 2],
        [0, 2],
      ],
      3,
    ],
    [
      'an L wound the other way',
      [
        [0, 2],
        [1, 2],
        [1, 1],
        [2, 1],
        [2, 0],
        [0, 0],
      ],
      -3,
    ],
  ] as [string, [number, number][], number][])('%s', (_name, points, area) => {
    const pieces = areas(polygon(...points))
    expect(pieces).toHaveLength(points.length - 2)
    expect(pieces.reduce((sum, piece) => sum + piece, 0)).toBeCloseTo(area, 12)
    for (const piece of pieces) expect(Math.sign(piece)).toBe(Math.sign(area))
  })
})

test('buffers hold every polygon once, in runs of one material', () => {
  const scene = buildCourierHeron()
  for (const mesh of scene.meshes) {
    const drawn = prepareMesh(mesh, IDENTITY_MATRIX, ORIGIN)
    const triangles = drawn.pieces.flatMap((piece) => [...piece.triangleFaces])
    expect(triangles).toHaveLength(2 * faceCountOf(mesh))
    expect(new Set(triangles).size).toBe(faceCountOf(mesh))
    expect(drawn.edges().length / 2).toBe(buildEdges(mesh).edgeCount)
    for (const piece of drawn.pieces)
      for (const run of piece.runs)
        for (let at = run.start; at < run.start + run.size; at += 3)
          expect(mesh.faceMaterials![piece.triangleFaces[at / 3]!]).toBe(run.material)
  }
})

test('corners with another normal or UV get a vertex of their own, others share', () => {
  const text = 'v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 2 0 0\nv 2 1 0\n'
  const vertices = (faces: string): number =>
    prepareMesh(readText(text + faces).scene.meshes[0]!, IDENTITY_MATRIX, ORIGIN).pieces[0]!.positions
      .length / 3
  expect(vertices('s 1\nf 1 2 3 4\nf 2 5 6 3\n')).toBe(6)
  expect(vertices('s off\nf 1 2 3 4\nf 2 5 6 3\n')).toBe(8)
  expect(vertices('vt 0 0\nvt 1 1\ns 1\nf 1/1 2/1 3/1 4/1\nf 2/2 5/2 6/2 3/2\n')).toBe(8)
})

test('positions are drawn about the origin, far from it as well', () => {
  const mesh = readText('v 1000000.001 0 0\nv 1000000.002 0 0\nv 1000000.001 1 0\nf 1 2 3\n').scene.meshes[0]!
  const { positions } = prepareMesh(mesh, IDENTITY_MATRIX, [1000000, 0, 0]).pieces[0]!
  expect(positions[3]! - positions[0]!).toBeCloseTo(0.001, 6)
})

test('places become lines, triangles and points in both views', () => {
  const mesh = readText(
    'v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nf 1/1 2/2 3/3 4/4\n',
  ).scene.meshes[0]!
  expect([...placeHighlight(mesh, 'edges', Uint32Array.of(1, 2)).uvLines]).toEqual([1, 2])
  expect([...placeHighlight(mesh, 'edges', Uint32Array.of(3, 3)).points]).toEqual([3])
  expect(placeHighlight(mesh, 'faces', Uint32Array.of(0)).triangles).toHaveLength(6)
  expect(placeHighlight(mesh, 'corners', Uint32Array.of(2)).uvTriangles).toHaveLength(6)
  expect([...placeHighlight(mesh, 'points', Uint32Array.of(1, 3)).points]).toEqual([1, 3])
})

describe('several UV sets', () => {
  const base = polygon([0, 0], [1, 0], [1, 1], [0, 1])
  const set = (name: string, values: readonly number[], indices: readonly number[]) => ({
    name,
    values: Float64Array.from(values),
    indices: Int32Array.from(indices),
    depths: null,
  })
  const mesh = {
    ...base,
    // two triangles that share two points; their second set is cut there
    faceOffsets: Uint32Array.of(0, 3, 6),
    faceVertices: Uint32Array.of(0, 1, 2, 0, 2, 3),
    faceMaterials: null,
    uvSets: [
      set('first', [0, 0, 1, 0, 1, 1, 0, 1], [0, 1, 2, 0, 2, 3]),
      set('second', [0, 0, 0.5, 0, 0.5, 1, 0.6, 0, 1, 1, 1, 0], [0, 1, 2, 3, 4, 5]),
    ],
  }
  test('a corner is a vertex of its own wherever one of the sets is cut', () => {
    const [plain] = prepareMesh(mesh, IDENTITY_MATRIX, ORIGIN).pieces
    const [both] = prepareMesh(mesh, IDENTITY_MATRIX, ORIGIN, ['', 'second']).pieces
    expect(plain!.positions.length / 3).toBe(4)
    expect(plain!.moreUvs).toEqual([])
    expect(both!.positions.length / 3).toBe(6)
    const uvs = (own: Float32Array) =>
      [...both!.indices].map((vertex) => [own[2 * vertex], own[2 * vertex + 1]])
    expect(uvs(both!.uvs)).toEqual([
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 0],
      [1, 1],
      [0, 1],
    ])
    expect(uvs(both!.moreUvs[0]!)).toEqual([
      [0, 0],
      [0.5, 0],
      [0.5, 1],
      [Math.fround(0.6), 0],
      [1, 1],
      [1, 0],
    ])
  })
  test('a set that the mesh doesn’t have is its first', () => {
    const [piece] = prepareMesh(mesh, IDENTITY_MATRIX, ORIGIN, ['', 'missing']).pieces
    expect(piece!.moreUvs[0]).toEqual(piece!.uvs)
  })
})
