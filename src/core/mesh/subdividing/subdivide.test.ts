/**
 * Subdivision against OpenSubdiv 3.5.0 (Debian libosd-dev 3.5.0-2): tests/reference/subdivision, copied
 * into tests/reference/subdivision. Positions of the uniform-rule cases were confirmed there by a second
 * implementation written from Catmull & Clark 1978 and DeRose, Kass & Truong 1998.
 */
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { EMPTY_MESH, faceCountOf, type Mesh } from '../../scene/mesh.ts'
import { cubeOf, gridOf } from '../../../../tests/solids.ts'
import { subdivideLoop } from './subdivide-loop.ts'
import { subdividedPoints, subdivideMesh, subdividedFaceCount } from './subdivide-mesh.ts'
import type { UvMode } from './subdivide-catmull-clark.ts'

const FOLDER = join(import.meta.dirname, '../../../../tests/reference/subdivision')

interface Case {
  name: string
  boundaryInterpolation: 'edge-and-corner' | 'edge-only'
  creasingMethod: 'uniform' | 'chaikin'
  base: {
    positions: number[][]
    faces: number[][]
    creases: [number, number, number][]
    corners: [number, number][]
    uvs?: number[][]
    faceUVs?: number[][]
  }
  levels: {
    level: number
    positions: number[][]
    faces: number[][]
    creases: [number, number, number][]
    corners: [number, number][]
  }[]
  faceVarying?: Record<string, { level: number; uvs: number[][]; faceUVs: number[][] }[]>
}

const cases = readdirSync(FOLDER)
  .filter((name) => name.endsWith('.json'))
  .map((name) => JSON.parse(readFileSync(join(FOLDER, name), 'utf8')) as Case)

function meshOf({ base }: Case): Mesh {
  const faceOffsets = [0]
  for (const face of base.faces) faceOffsets.push(faceOffsets[faceOffsets.length - 1]! + face.length)
  return {
    ...EMPTY_MESH,
    points: Float64Array.from(base.positions.flat()),
    faceOffsets: Uint32Array.from(faceOffsets),
    faceVertices: Uint32Array.from(base.faces.flat()),
    creases: {
      edgePoints: Uint32Array.from(base.creases.flatMap(([a, b]) => [a, b])),
      edgeSharpness: Float64Array.from(base.creases, ([, , sharpness]) => sharpness),
      cornerPoints: Uint32Array.from(base.corners, ([point]) => point),
      cornerSharpness: Float64Array.from(base.corners, ([, sharpness]) => sharpness),
    },
    uvSets: base.uvs
      ? [
          {
            name: 'uv',
            values: Float64Array.from(base.uvs.flat()),
            indices: Int32Array.from(base.faceUVs!.flat()),
            depths: null,
          },
        ]
      : [],
  }
}

/** The corners of faces, as coordinates: what does not depend on how points are numbered. */
const cornersOf = (faces: readonly (readonly number[])[], values: readonly (readonly number[])[]): number[] =>
  faces.flatMap((face) => face.flatMap((at) => [...values[at]!]))
const meshCorners = (mesh: Mesh): number[] =>
  Array.from(mesh.faceVertices).flatMap((point) => [...mesh.points.subarray(3 * point, 3 * point + 3)])

function farthest(a: readonly number[], b: readonly number[]): number {
  expect(a.length).toBe(b.length)
  return a.reduce((most, value, at) => Math.max(most, Math.abs(value - b[at]!)), 0)
}

test('all ten cases are there', () => expect(cases).toHaveLength(10))

describe.each(
  cases.filter((entry) => entry.creasingMethod === 'uniform').map((entry) => [entry.name, entry] as const),
)('%s', (_name, entry) => {
  const sharpCorners = entry.boundaryInterpolation === 'edge-and-corner'
  test.each(entry.levels.map((level) => [level.level, level] as const))('level %i', (levels, wanted) => {
    const mesh = meshOf(entry)
    const refined = subdivideMesh(mesh, { levels, uvMode: 'corners-1', sharpCorners })
    expect(faceCountOf(refined)).toBe(subdividedFaceCount(mesh, levels))
    expect(farthest(meshCorners(refined), cornersOf(wanted.faces, wanted.positions))).toBeLessThan(1e-6)
    const creases = refined.creases
    const sharp = (list: readonly number[]): number[] => [...list].sort((x, y) => x - y)
    // the reference leaves out what is infinitely sharp by lying on a border
    expect(
      farthest(sharp([...(creases?.edgeSharpness ?? [])]), sharp(wanted.creases.map((crease) => crease[2]))),
    ).toBeLessThan(1e-6)
  })
  const modes = Object.entries(entry.faceVarying ?? {})
  if (modes.length)
    test.each(modes)('UVs, %s', (mode, levels) => {
      const uvMode = mode
        .replace('linear-', '')
        .replace('corners-only', 'corners')
        .replace('plus', '') as UvMode
      for (const wanted of levels) {
        const refined = subdivideMesh(meshOf(entry), { levels: wanted.level, uvMode, sharpCorners })
        const [set] = refined.uvSets
        const corners = Array.from(set!.indices).flatMap((uv) => [
          ...set!.values.subarray(2 * uv, 2 * uv + 2),
        ])
        expect(farthest(corners, cornersOf(wanted.faceUVs, wanted.uvs))).toBeLessThan(1e-6)
      }
    })
})

describe('triangles, by the rule of Loop (1987; the values below by hand from its masks)', () => {
  const octahedron = Float64Array.of(1, 0, 0, -1, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 1, 0, 0, -1)
  const faces = Uint32Array.of(0, 2, 4, 2, 1, 4, 1, 3, 4, 3, 0, 4, 2, 0, 5, 1, 2, 5, 3, 1, 5, 0, 3, 5)
  const smooth = { levels: 1, smooth: true, sharpCorners: false }
  test('an octahedron', () => {
    const { points, triangles } = subdivideLoop(octahedron, faces, smooth)
    expect([points.length / 3, triangles.length / 3]).toEqual([6 + 12, 32])
    // four neighbours weigh (5/8 - (3/8)^2) / 4 each, and cancel out
    expect([...points.subarray(0, 3)]).toEqual([1 - (5 / 8 - 9 / 64), 0, 0])
    // the middle of the edge between x and y: 3/8 of both, and z against -z
    const middles = Array.from({ length: 12 }, (_edge, at) => [...points.subarray(18 + 3 * at, 21 + 3 * at)])
    expect(middles).toContainEqual([3 / 8, 3 / 8, 0])
  })
  test('a border follows its own curve, and a corner of one triangle stays where that is said', () => {
    const square = Float64Array.of(0, 0, 0, 8, 0, 0, 8, 8, 0, 0, 8, 0)
    const two = Uint32Array.of(0, 1, 2, 0, 2, 3)
    const { points } = subdivideLoop(square, two, smooth)
    // 3/4 of itself and 1/8 of the two beside it on the border
    expect([...points.subarray(3, 6)]).toEqual([7, 1, 0])
    const kept = subdivideLoop(square, two, { ...smooth, sharpCorners: true }).points
    expect([...kept.subarray(3, 6)]).toEqual([8, 0, 0])
    expect([...kept.subarray(0, 3)]).toEqual([1, 1, 0])
    const flat = subdivideLoop(square, two, { ...smooth, levels: 2, smooth: false })
    expect([...flat.points.subarray(0, 12)]).toEqual([...square])
    expect(flat.triangles.length / 3).toBe(32)
  })
})

test('points alone lie where those of the whole subdivided mesh lie', () => {
  const creased = cubeOf({
    creases: {
      edgePoints: Uint32Array.of(0, 1, 1, 2),
      edgeSharpness: Float64Array.of(1.5, 10),
      cornerPoints: Uint32Array.of(3),
      cornerSharpness: Float64Array.of(2),
    },
  })
  const sheet = gridOf(3, 2, {}, (x, z) => x * x - z)
  for (const mesh of [creased, sheet])
    for (const levels of [0, 1, 2, 3])
      for (const sharpCorners of [false, true]) {
        const options = { levels, uvMode: 'boundaries', sharpCorners } as const
        expect(subdividedPoints(mesh, options)).toEqual(subdivideMesh(mesh, options).points)
      }
})
