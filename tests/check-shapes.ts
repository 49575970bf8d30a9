/** Small models that checks are tried on. */
import {
  CUBE_FACES,
  CUBE_POINTS,
  cubeOf,
  gridOf,
  materialOf,
  meshOf,
  sceneOf,
  uvsOf,
  type Point,
} from './solids.ts'
import { writePng } from '../src/core/image/codecs/write-png.ts'
import { type Mesh, type Smoothing } from '../src/core/scene/mesh.ts'
import type { Scene } from '../src/core/scene/scene.ts'
import { turnFaces } from '../src/core/mesh/orientation/turn-faces.ts'

export const one = (mesh: Mesh): Scene => sceneOf([mesh])

export const groups = (...numbers: number[]): Smoothing => ({
  kind: 'groups',
  faceGroups: Int32Array.from(numbers),
})

export const SQUARE: readonly Point[] = [
  [0, 0, 0],
  [1, 0, 0],
  [1, 0, -1],
  [0, 0, -1],
]

export const square = (more: Partial<Mesh> = {}): Mesh => meshOf(SQUARE, [[0, 1, 2, 3]], more)

export const unit: [number, number][] = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
]

/** Two squares side by side, sharing an edge or only places. */
export const pair = (shared: boolean, gap = 0, more: Partial<Mesh> = {}): Mesh =>
  shared
    ? meshOf(
        [...SQUARE, [2, 0, 0], [2, 0, -1]],
        [
          [0, 1, 2, 3],
          [1, 4, 5, 2],
        ],
        more,
      )
    : meshOf(
        [...SQUARE, [1 + gap, 0, 0], [2, 0, 0], [2, 0, -1], [1 + gap, 0, -1]],
        [
          [0, 1, 2, 3],
          [4, 5, 6, 7],
        ],
        more,
      )

export const cellUvs = (u: number, v: number, size: number): [number, number][] => [
  [u, v],
  [u + size, v],
  [u + size, v + size],
  [u, v + size],
]

export const png = (width: number, height: number): Uint8Array =>
  writePng({ width, height, channels: 3, pixels: new Uint8Array(3 * width * height) })

export const mapped = (...files: [string, Uint8Array | null][]): Scene =>
  sceneOf([square({ faceMaterials: Int32Array.of(0) })], {
    materials: [
      materialOf('paint', {
        maps: files.map(([file], at) => ({
          property: at ? 'map_Pr' : 'map_Kd',
          slot: at ? 'roughness' : 'baseColor',
          file,
          options: [],
        })),
      }),
    ],
    images: files.map(([file, bytes]) => ({ file, entry: file, bytes })),
  })

export const cameraScene = (count: number): Scene => ({
  ...one(square()),
  cameras: Array.from({ length: count }, () => ({ name: 'view', node: -1, properties: {} })),
})

/** A closed box around a smaller one; open, without its lid. */
export const boxed = (open: boolean): Scene =>
  sceneOf([
    meshOf(
      CUBE_POINTS.map((point) => point.map((value) => value * 10 - 5) as unknown as Point),
      open ? CUBE_FACES.filter((_face, at) => at !== 4 && at !== 2) : CUBE_FACES,
    ),
    cubeOf(),
  ])

export const asymmetric = (more: Partial<Mesh> = {}): Mesh =>
  meshOf(
    [
      [0, 0, 0],
      [3, 0, 0],
      [0, 2, 0],
      [0, 0, 1],
    ],
    [
      [0, 2, 1],
      [0, 1, 3],
      [0, 3, 2],
      [1, 2, 3],
    ],
    more,
  )

export const mirroredTwin = (): Mesh => {
  const twin = turnFaces(asymmetric())
  return { ...twin, points: twin.points.map((value, at) => (at % 3 === 0 ? -value - 5 : value)) }
}

export const movedTwin = (bend: number): Mesh => {
  const twin = asymmetric()
  return {
    ...twin,
    points: twin.points.map((value, at) => (at % 3 === 0 ? value + 7 : value) + (at === 5 ? bend : 0)),
  }
}

export const moebius = (twisted: boolean): Mesh => {
  const points: Point[] = []
  const faces: number[][] = []
  const steps = 12
  for (let at = 0; at < steps; at++) {
    const angle = (2 * Math.PI * at) / steps
    const half = twisted ? angle / 2 : 0
    for (const side of [-1, 1])
      points.push([
        (4 + side * Math.cos(half)) * Math.cos(angle),
        side * Math.sin(half) + (twisted ? 0 : side * 0.5),
        (4 + side * Math.cos(half)) * Math.sin(angle),
      ])
  }
  for (let at = 0; at < steps; at++) {
    const next = (at + 1) % steps
    const swap = twisted && next === 0
    faces.push([2 * at, 2 * at + 1, 2 * next + (swap ? 0 : 1), 2 * next + (swap ? 1 : 0)])
  }
  return meshOf(points, faces)
}

export const grid3 = (more: Partial<Mesh> = {}): Mesh => gridOf(3, 3, more)

/** A 4 x 4 grid whose UVs are cut along the given inner edges (point pairs), by shifting nothing: corners get doubles. */
export function cutGrid(cuts: readonly (readonly [number, number])[], shift = 1e-3): Mesh {
  const mesh = gridOf(4, 4)
  const set = mesh.uvSets[0]!
  const values = [...set.values]
  const indices = set.indices.slice()
  // the faces on the upper side of each cut get UVs of their own at the points between the cuts' ends
  const points = cuts.flat()
  const inner = points.filter(
    (point) => points.indexOf(point) !== points.lastIndexOf(point) || cuts.length === 1,
  )
  const ends = new Set(cuts.length === 1 ? [points[0]!] : inner)
  for (const point of ends) {
    const copy = values.length / 2
    values.push(values[2 * point]! + shift, values[2 * point + 1]! + shift)
    const rowOf = Math.floor(point / 5)
    for (let corner = 0; corner < indices.length; corner++)
      if (indices[corner] === point && Math.floor(Math.floor(corner / 4) / 4) >= rowOf) indices[corner] = copy
  }
  return { ...mesh, uvSets: [{ ...set, values: Float64Array.from(values), indices }] }
}

/** A 3 x 3 grid whose middle face has UVs of its own. */
export const islandInGrid = (faces: readonly number[]): Mesh => {
  const mesh = gridOf(4, 4)
  const set = mesh.uvSets[0]!
  const values = [...set.values]
  const indices = set.indices.slice()
  const copies = new Map<number, number>()
  for (const face of faces)
    for (let corner = 4 * face; corner < 4 * face + 4; corner++) {
      const uv = indices[corner]!
      if (!copies.has(uv)) {
        copies.set(uv, values.length / 2)
        values.push(values[2 * uv]! + 2, values[2 * uv + 1]!)
      }
      indices[corner] = copies.get(uv)!
    }
  return { ...mesh, uvSets: [{ ...set, values: Float64Array.from(values), indices }] }
}

export const folded = (angle: number, more: Partial<Mesh> = {}): Mesh =>
  meshOf(
    [...SQUARE, [1 + Math.cos(angle), Math.sin(angle), 0], [1 + Math.cos(angle), Math.sin(angle), -1]],
    [
      [0, 1, 2, 3],
      [1, 4, 5, 2],
    ],
    more,
  )

export const normalsOf = (...normals: Point[]): Mesh['normals'] => ({
  values: Float64Array.from(normals.flat()),
  indices: Int32Array.from(normals, (_normal, at) => at),
})

export const tilt = (degrees: number): Point => [
  Math.sin((degrees * Math.PI) / 180),
  Math.cos((degrees * Math.PI) / 180),
  0,
]

export const longQuad = (length: number, wide = 1): Mesh =>
  meshOf(
    [
      [0, 0, 0],
      [length, 0, 0],
      [length, 0, -wide],
      [0, 0, -wide],
    ],
    [[0, 1, 2, 3]],
  )

/** Two sheets of 2 x 3 quads that meet along so many edges, each with UVs of its own. */
export function twoSheets(shared: number): Mesh {
  const left = gridOf(2, 3)
  const size = left.points.length / 3
  const points: Point[] = []
  for (const side of [0, 1])
    for (let point = 0; point < size; point++) {
      const [x, y, z] = [...left.points.subarray(3 * point, 3 * point + 3)] as [number, number, number]
      points.push([x + 2 * side, y, z - (side ? 3 - shared : 0)])
    }
  // points of the right sheet's left border that lie on the left sheet's right one are the same
  const same = new Map<number, number>()
  for (let row = 0; row <= shared; row++) same.set(size + 3 * row, 3 * (row + 3 - shared) + 2)
  const faces: number[][] = []
  for (const base of [0, size])
    for (let face = 0; face < 6; face++)
      faces.push(
        [...left.faceVertices.subarray(4 * face, 4 * face + 4)].map(
          (point) => same.get(point + base) ?? point + base,
        ),
      )
  const uvs = [0, 0.6].flatMap((u) =>
    [...left.faceVertices].map(
      (point) =>
        [u + left.points[3 * point]! * 0.15, -left.points[3 * point + 2]! * 0.15] as [number, number],
    ),
  )
  return meshOf(points, faces, { uvSets: [uvsOf(uvs)] })
}
