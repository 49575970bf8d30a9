/** The common edits: points that become one, faces that go, faces that are cut or joined. */
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { allCorners } from '../relations/mesh-facts.ts'
import { invert, plainSources, rebuildMesh } from './rebuild-mesh.ts'

/** Numbers 0 to n - 1. */
export const numbers = (count: number): Int32Array =>
  Int32Array.from({ length: count }, (_value, index) => index)

/** Polygons over other points: corners that come to lie on the one before go, and with fewer than three the polygon. */
export interface CollapsedFaces {
  readonly faceOffsets: number[]
  readonly vertices: number[]
  /** The corner and the face that each was. */
  readonly corners: number[]
  readonly faces: number[]
}

/** @param pointOf the point that one has become. */
export function collapseFaces(mesh: Mesh, pointOf: (point: number) => number): CollapsedFaces {
  const faceOffsets: number[] = [0]
  const vertices: number[] = []
  const corners: number[] = []
  const faces: number[] = []
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const first = vertices.length
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      const point = pointOf(mesh.faceVertices[corner]!)
      if (vertices.length > first && vertices[vertices.length - 1] === point) continue
      vertices.push(point)
      corners.push(corner)
    }
    if (vertices.length - first > 1 && vertices[first] === vertices[vertices.length - 1]) {
      vertices.pop()
      corners.pop()
    }
    if (vertices.length - first < 3) {
      vertices.length = corners.length = first
      continue
    }
    faces.push(face)
    faceOffsets.push(vertices.length)
  }
  return { faceOffsets, vertices, corners, faces }
}

/**
 * The mesh with each point gone to another one (see `findWelds`). Corners of a face that fall together become
 * one; faces left with fewer than three corners go.
 */
export function mergePoints(mesh: Mesh, target: Uint32Array): Mesh {
  const pointCount = pointCountOf(mesh)
  const kept: number[] = []
  const newOf = new Int32Array(pointCount)
  for (let point = 0; point < pointCount; point++)
    if (target[point] === point) {
      newOf[point] = kept.length
      kept.push(point)
    }
  for (let point = 0; point < pointCount; point++)
    if (target[point] !== point) newOf[point] = newOf[target[point]!]!
  const { faceOffsets, vertices, corners, faces } = collapseFaces(mesh, (point) => newOf[point]!)
  return rebuildMesh(mesh, {
    pointSources: plainSources(Int32Array.from(kept)),
    pointOldToNew: newOf,
    faceOffsets: Uint32Array.from(faceOffsets),
    faceVertices: Uint32Array.from(vertices),
    cornerSources: plainSources(Int32Array.from(corners)),
    faceSources: Int32Array.from(faces),
  })
}

/** Points to keep beside those of faces: of lines, of point elements, or all. */
export interface RemoveFacesOptions {
  /** Points that no face, line or point element uses go too. */
  readonly dropLoose: boolean
}

/** The mesh without the flagged faces. Points that only these used go as well. */
export function removeFaces(
  mesh: Mesh,
  gone: Uint8Array,
  { dropLoose }: RemoveFacesOptions = { dropLoose: false },
): Mesh {
  const pointCount = pointCountOf(mesh)
  const wasUsed = new Uint8Array(pointCount)
  const used = new Uint8Array(pointCount)
  const faceOffsets: number[] = [0]
  const corners: number[] = []
  const faces: number[] = []
  for (let face = 0; face < faceCountOf(mesh); face++) {
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      const point = mesh.faceVertices[corner]!
      wasUsed[point] = 1
      if (gone[face]) continue
      used[point] = 1
      corners.push(corner)
    }
    if (gone[face]) continue
    faces.push(face)
    faceOffsets.push(corners.length)
  }
  for (const point of mesh.lines?.points ?? []) used[point] = 1
  for (const point of mesh.pointElements ?? []) used[point] = 1
  const kept: number[] = []
  for (let point = 0; point < pointCount; point++)
    if (used[point] || (!wasUsed[point] && !dropLoose)) kept.push(point)
  const pointSources = Int32Array.from(kept)
  const newOf = invert(pointSources, pointCount)
  return rebuildMesh(mesh, {
    pointSources: plainSources(pointSources),
    faceOffsets: Uint32Array.from(faceOffsets),
    faceVertices: Uint32Array.from(corners, (corner) => newOf[mesh.faceVertices[corner]!]!),
    cornerSources: plainSources(Int32Array.from(corners)),
    faceSources: Int32Array.from(faces),
  })
}

/** The corners of a face in order. */
export function faceCorners(mesh: Mesh, face: number): number[] {
  const corners: number[] = []
  for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
    corners.push(corner)
  return corners
}

/** A new face over corners of the old mesh. */
export interface NewFace {
  /** Old corners in order; its points are theirs. */
  readonly corners: readonly number[]
  /** The old face whose material, groups and smoothing it takes. */
  readonly from: number
}

/** The mesh with its faces replaced, over the same points. */
export function replaceFaces(mesh: Mesh, faces: readonly NewFace[]): Mesh {
  const faceOffsets = new Uint32Array(faces.length + 1)
  faces.forEach((face, index) => (faceOffsets[index + 1] = faceOffsets[index]! + face.corners.length))
  const cornerSources = new Int32Array(faceOffsets[faces.length]!)
  let at = 0
  for (const face of faces) for (const corner of face.corners) cornerSources[at++] = corner
  return rebuildMesh(mesh, {
    pointSources: plainSources(numbers(pointCountOf(mesh))),
    faceOffsets,
    faceVertices: Uint32Array.from(cornerSources, (corner) => mesh.faceVertices[corner]!),
    cornerSources: plainSources(cornerSources),
    faceSources: Int32Array.from(faces, (face) => face.from),
  })
}

/** The mesh over more points: `faceVertices` names new points, each a copy of the old one in `pointSources`. */
export function splitPoints(mesh: Mesh, faceVertices: Uint32Array, pointSources: Int32Array): Mesh {
  return rebuildMesh(mesh, {
    pointSources: plainSources(pointSources),
    faceOffsets: mesh.faceOffsets,
    faceVertices,
    cornerSources: plainSources(allCorners(mesh)),
    faceSources: numbers(faceCountOf(mesh)),
  })
}
