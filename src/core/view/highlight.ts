/** Places of a difference as things to draw, in the solid and in the flat view. */
import { edgeKey } from '../mesh/relations/adjacency.ts'
import { computeFaceNormals } from '../mesh/relations/face-normals.ts'
import { faceCountOf, type Mesh } from '../scene/mesh.ts'
import type { Places } from '../compare/traits/trait.ts'
import { triangulateFace } from '../mesh/triangles/triangulate-face.ts'

export interface Highlight {
  /** Pairs of points: line segments in the solid view. */
  readonly lines: Uint32Array
  /** Triples of points: triangles in the solid view. */
  readonly triangles: Uint32Array
  readonly points: Uint32Array
  /** Pairs of UVs (first set): line segments in the flat view. */
  readonly uvLines: Uint32Array
  /** Triples of UVs: triangles in the flat view. */
  readonly uvTriangles: Uint32Array
}

/** @param elements of the given kind, in this mesh's numbering; an edge is two points. */
export function placeHighlight(mesh: Mesh, element: Places['element'], elements: Uint32Array): Highlight {
  const lines: number[] = []
  const triangles: number[] = []
  const points: number[] = []
  const uvLines: number[] = []
  const uvTriangles: number[] = []
  const uvIndices = mesh.uvSets[0]?.indices ?? null

  const addFaces = (faces: Iterable<number>): void => {
    const normals = computeFaceNormals(mesh)
    const cut: number[] = []
    for (const face of faces) {
      cut.length = 0
      triangulateFace(mesh, face, normals, cut)
      const start = mesh.faceOffsets[face]!
      for (const corner of cut) triangles.push(mesh.faceVertices[start + corner]!)
      if (uvIndices && cut.every((corner) => uvIndices[start + corner]! >= 0))
        for (const corner of cut) uvTriangles.push(uvIndices[start + corner]!)
    }
  }
  if (element === 'faces') addFaces(elements)
  else if (element === 'points') for (const point of elements) points.push(point)
  else if (element === 'edges') {
    const wanted = new Set<number>()
    for (let at = 0; at + 1 < elements.length; at += 2) {
      const from = elements[at]!
      const to = elements[at + 1]!
      if (from === to) points.push(from)
      else {
        lines.push(from, to)
        wanted.add(edgeKey(from, to))
      }
    }
    if (uvIndices)
      eachSide(mesh, (a, b) => {
        if (!wanted.has(edgeKey(mesh.faceVertices[a]!, mesh.faceVertices[b]!))) return
        if (uvIndices[a]! >= 0 && uvIndices[b]! >= 0) uvLines.push(uvIndices[a]!, uvIndices[b]!)
      })
  } else {
    const corners = new Set(elements)
    const faces: number[] = []
    for (let face = 0; face < faceCountOf(mesh); face++)
      for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
        if (corners.has(corner)) {
          faces.push(face)
          break
        }
    addFaces(faces)
  }
  return {
    lines: Uint32Array.from(lines),
    triangles: Uint32Array.from(triangles),
    points: Uint32Array.from(points),
    uvLines: Uint32Array.from(uvLines),
    uvTriangles: Uint32Array.from(uvTriangles),
  }
}

function eachSide(mesh: Mesh, visit: (from: number, to: number) => void): void {
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const start = mesh.faceOffsets[face]!
    const end = mesh.faceOffsets[face + 1]!
    for (let corner = start; corner < end; corner++) visit(corner, corner + 1 < end ? corner + 1 : start)
  }
}

/** Colours from too little (blue) over even (pale) to too much (orange), by powers of two: two doublings are full. */
function heatColor(value: number): [number, number, number] {
  if (Number.isNaN(value)) return [0.45, 0.45, 0.45]
  const share = Math.max(-1, Math.min(1, Math.log2(Math.max(value, 1e-6)) / 2))
  const end = share < 0 ? [0.1, 0.3, 0.62] : [0.8, 0.27, 0.02]
  return [0, 1, 2].map((k) => 0.86 + Math.abs(share) * (end[k]! - 0.86)) as [number, number, number]
}

/** Stops of the colours for how far points moved: from the pale of paper over ochre to a dark red. */
export const FIELD_STOPS: readonly (readonly [number, number, number])[] = [
  [0.9, 0.88, 0.83],
  [0.91, 0.74, 0.4],
  [0.79, 0.38, 0.13],
  [0.4, 0.08, 0.14],
]
const UNKNOWN_COLOR = [0.45, 0.45, 0.47] as const

/** @param share 0 to 1; NaN: not known. */
export function fieldColor(share: number): readonly [number, number, number] {
  if (Number.isNaN(share)) return UNKNOWN_COLOR
  const at = Math.max(0, Math.min(1, share)) * (FIELD_STOPS.length - 1)
  const stop = Math.min(FIELD_STOPS.length - 2, Math.floor(at))
  const [from, to] = [FIELD_STOPS[stop]!, FIELD_STOPS[stop + 1]!]
  return [0, 1, 2].map((k) => from[k]! + (to[k]! - from[k]!) * (at - stop)) as [number, number, number]
}

/** pointCount colours for values from 0 to `most`. */
export function fieldColors(values: Float32Array, most: number): Float32Array {
  const colors = new Float32Array(3 * values.length)
  values.forEach((value, point) => colors.set(fieldColor(most > 0 ? value / most : 0), 3 * point))
  return colors
}

/**
 * Faces coloured by a value each, as triangles of their own.
 * @param heat faceCount values about 1. @param positions 3 x pointCount.
 */
export const faceHeat = (
  mesh: Mesh,
  heat: Float32Array,
  positions: Float32Array,
): { positions: Float32Array; colors: Float32Array } =>
  heatTriangles(mesh, heat, positions, 3, (corner) => mesh.faceVertices[corner]!)

/** The same where the faces lie in the first UV set. @param positions 2 x its values. */
export function uvHeat(
  mesh: Mesh,
  heat: Float32Array,
  positions: Float32Array,
): { positions: Float32Array; colors: Float32Array } {
  const indices = mesh.uvSets[0]?.indices
  return heatTriangles(mesh, heat, positions, 2, (corner) => indices?.[corner] ?? -1)
}

function heatTriangles(
  mesh: Mesh,
  heat: Float32Array,
  positions: Float32Array,
  dimensions: 2 | 3,
  placeOf: (corner: number) => number,
): { positions: Float32Array; colors: Float32Array } {
  const normals = computeFaceNormals(mesh)
  const cornerCount = 3 * Math.max(0, mesh.faceVertices.length - 2 * faceCountOf(mesh))
  const into = new Float32Array(dimensions * cornerCount)
  const colors = new Float32Array(3 * cornerCount)
  const cut: number[] = []
  let at = 0
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const start = mesh.faceOffsets[face]!
    cut.length = 0
    triangulateFace(mesh, face, normals, cut)
    if (cut.some((corner) => placeOf(start + corner) < 0)) continue
    const color = heatColor(heat[face]!)
    for (const corner of cut) {
      const place = placeOf(start + corner)
      for (let axis = 0; axis < dimensions; axis++)
        into[dimensions * at + axis] = positions[dimensions * place + axis]!
      colors.set(color, 3 * at)
      at++
    }
  }
  return { positions: into.subarray(0, dimensions * at), colors: colors.subarray(0, 3 * at) }
}
