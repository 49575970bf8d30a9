/** Small meshes and scenes for tests of checks and steps, as data. */
import { EMPTY_MESH, type Mesh, type UvSet } from '../src/core/scene/mesh.ts'
import { completeIds } from '../src/core/scene/ids.ts'
import { EMPTY_SCENE, rootNodes, type Scene, type SceneNode } from '../src/core/scene/scene.ts'
import type { Material } from '../src/core/scene/material.ts'

export type Point = readonly [number, number, number]

export function meshOf(
  points: readonly Point[],
  faces: readonly (readonly number[])[],
  more: Partial<Mesh> = {},
): Mesh {
  const faceOffsets = new Uint32Array(faces.length + 1)
  faces.forEach((face, at) => (faceOffsets[at + 1] = faceOffsets[at]! + face.length))
  return {
    ...EMPTY_MESH,
    name: 'part',
    points: Float64Array.from(points.flat()),
    faceOffsets,
    faceVertices: Uint32Array.from(faces.flat()),
    ...more,
  }
}

/** A UV set with one UV for each corner, given in face order. */
export const uvsOf = (uvs: readonly (readonly [number, number])[], name = 'uv'): UvSet => ({
  name,
  values: Float64Array.from(uvs.flat()),
  indices: Int32Array.from(uvs, (_uv, at) => at),
  depths: null,
})

/** A UV set over shared UVs: one index a corner. */
export const sharedUvs = (
  uvs: readonly (readonly [number, number])[],
  indices: readonly number[],
  name = 'uv',
): UvSet => ({
  name,
  values: Float64Array.from(uvs.flat()),
  indices: Int32Array.from(indices),
  depths: null,
})

/** A flat grid of quads in x and z (facing up), `columns` by `rows` cells of one unit, with UVs that fill the tile. */
export function gridOf(
  columns: number,
  rows: number,
  more: Partial<Mesh> = {},
  height: (x: number, z: number) => number = () => 0,
): Mesh {
  const points: Point[] = []
  const uvs: [number, number][] = []
  for (let row = 0; row <= rows; row++)
    for (let column = 0; column <= columns; column++) {
      points.push([column, height(column, row), -row])
      uvs.push([column / columns, row / rows])
    }
  const faces: number[][] = []
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const a = row * (columns + 1) + column
      faces.push([a, a + 1, a + columns + 2, a + columns + 1])
    }
  return meshOf(points, faces, { uvSets: [sharedUvs(uvs, faces.flat())], ...more })
}

export const CUBE_POINTS: readonly Point[] = [
  [0, 0, 0],
  [1, 0, 0],
  [1, 1, 0],
  [0, 1, 0],
  [0, 0, 1],
  [1, 0, 1],
  [1, 1, 1],
  [0, 1, 1],
]
export const CUBE_FACES: readonly (readonly number[])[] = [
  [4, 5, 6, 7],
  [0, 3, 2, 1],
  [0, 1, 5, 4],
  [1, 2, 6, 5],
  [2, 3, 7, 6],
  [3, 0, 4, 7],
]
/** Six quads facing out, each in a cell of its own of the UV tile, with room between. */
export function cubeOf(more: Partial<Mesh> = {}, size = 1, at: Point = [0, 0, 0]): Mesh {
  const uvs = CUBE_FACES.flatMap((_face, cell) => {
    const u = (cell % 3) / 3 + 0.01
    const v = Math.floor(cell / 3) / 3 + 0.01
    return [
      [u, v],
      [u + 0.3, v],
      [u + 0.3, v + 0.3],
      [u, v + 0.3],
    ] as [number, number][]
  })
  return meshOf(
    CUBE_POINTS.map((point) => point.map((value, axis) => value * size + at[axis]!) as unknown as Point),
    CUBE_FACES,
    { uvSets: [uvsOf(uvs)], ...more },
  )
}

export const materialOf = (name: string, more: Partial<Material> = {}): Material => ({
  id: '',
  name,
  model: 'mtl',
  properties: [],
  maps: [],
  kept: [],
  ...more,
})

/** A scene of parts, a root each, in centimetres. */
export function sceneOf(meshes: readonly Mesh[], more: Partial<Scene> = {}): Scene {
  const named = meshes.map((mesh, at) => ({
    ...mesh,
    name: mesh.name === 'part' ? `part_${at + 1}` : mesh.name,
  }))
  return completeIds({
    ...EMPTY_SCENE,
    space: { unitMeters: 0.01, upAxis: 'y', frontAxis: 'z', handedness: 'right' },
    nodes: rootNodes(named),
    meshes: named,
    ...more,
  })
}

/** The scene with something else about its nodes. */
export const withNodes = (
  scene: Scene,
  change: (node: SceneNode, index: number) => Partial<SceneNode>,
): Scene => ({
  ...scene,
  nodes: scene.nodes.map((node, index) => ({ ...node, ...change(node, index) })),
})

export const moved = (x: number, y: number, z: number): number[] => [
  1,
  0,
  0,
  0,
  0,
  1,
  0,
  0,
  0,
  0,
  1,
  0,
  x,
  y,
  z,
  1,
]
export const scaled = (x: number, y: number, z: number): number[] => [
  x,
  0,
  0,
  0,
  0,
  y,
  0,
  0,
  0,
  0,
  z,
  0,
  0,
  0,
  0,
  1,
]

/** An open tube about Y from the origin up, of quads; a column for each side. */
export function tubeOf(rows: number, columns: number, radius: number, length: number): Mesh {
  const points = Array.from({ length: (rows + 1) * columns }, (_point, at): Point => {
    const angle = (2 * Math.PI * (at % columns)) / columns
    return [radius * Math.cos(angle), (length * Math.floor(at / columns)) / rows, radius * Math.sin(angle)]
  })
  const faces = Array.from({ length: rows * columns }, (_face, face) => {
    const [row, column] = [Math.floor(face / columns), face % columns]
    const next = (column + 1) % columns
    return [
      row * columns + column,
      (row + 1) * columns + column,
      (row + 1) * columns + next,
      row * columns + next,
    ]
  })
  return meshOf(points, faces)
}

/** A ball of rings of quads, closed by triangles. */
export function ballOf(segments: number, rings: number, radius: number): Mesh {
  const points: Point[] = [[0, radius, 0]]
  for (let ring = 1; ring < rings; ring++)
    for (let at = 0; at < segments; at++) {
      const [around, down] = [(at / segments) * 2 * Math.PI, (ring / rings) * Math.PI]
      points.push([radius * Math.sin(down) * Math.cos(around), radius * Math.cos(down), -radius * Math.sin(down) * Math.sin(around)]) // prettier-ignore
    }
  points.push([0, -radius, 0])
  const last = points.length - 1
  const faces: number[][] = []
  for (let at = 0; at < segments; at++) {
    const next = (at + 1) % segments
    faces.push([0, 1 + at, 1 + next])
    for (let ring = 0; ring + 2 < rings; ring++) {
      const [a, b] = [1 + ring * segments, 1 + (ring + 1) * segments]
      faces.push([a + at, b + at, b + next, a + next])
    }
    const end = 1 + (rings - 2) * segments
    faces.push([end + at, last, end + next])
  }
  return meshOf(points, faces, { name: 'ball' })
}

/** A turn about an axis of any length, column-major. @param degrees counter-clockwise, seen against the axis. */
export function turnedAbout(axis: readonly number[], degrees: number): number[] {
  const [x, y, z] = axis.map((value) => value / Math.hypot(...axis)) as [number, number, number]
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)]
  const t = 1 - c
  return [
    t * x * x + c, t * x * y + s * z, t * x * z - s * y, 0,
    t * x * y - s * z, t * y * y + c, t * y * z + s * x, 0,
    t * x * z + s * y, t * y * z - s * x, t * z * z + c, 0,
    0, 0, 0, 1,
  ] // prettier-ignore
}

/** Every polygon with points of its own, as scanners and some tools leave it. */
export const loose = (mesh: Mesh): Mesh => ({
  ...mesh,
  points: Float64Array.from(
    [...mesh.faceVertices].flatMap((point) => [...mesh.points.subarray(3 * point, 3 * point + 3)]),
  ),
  faceVertices: Uint32Array.from({ length: mesh.faceVertices.length }, (_corner, at) => at),
})
