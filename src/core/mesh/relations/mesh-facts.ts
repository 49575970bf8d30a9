import { once } from '../../base/remembering/once.ts'
/** What checks and steps ask of a mesh again and again, computed once each when first asked for. */
import { boundsOf, diagonalOf, type Box } from '../../base/math/box.ts'
import {
  buildCornerFaces,
  edgesOf,
  buildPointCorners,
  createUnion,
  findHardEdges,
  type Edges,
} from './adjacency.ts'
import { computeFaceNormals } from './face-normals.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'

export interface FacePieces {
  readonly pieceCount: number
  /** faceCount; which connected piece each face is in. */
  readonly facePieces: Int32Array
}

export interface MeshFacts {
  readonly mesh: Mesh
  readonly faceCount: number
  readonly pointCount: number
  /**
   * 3 x pointCount. The mesh's points, with 0 in place of coordinates that are no finite numbers, so that
   * nothing that walks over space can walk for ever.
   */
  readonly points: () => Float64Array
  /** Points with a coordinate that is no finite number. */
  readonly brokenPoints: () => Uint32Array
  readonly edges: () => Edges
  readonly cornerFaces: () => Uint32Array
  readonly pointCorners: () => { readonly offsets: Uint32Array; readonly corners: Uint32Array }
  /** 3 x faceCount, twice the face's area long (Newell). */
  readonly faceNormals: () => Float64Array
  /** faceCount. */
  readonly faceAreas: () => Float64Array
  readonly hardEdges: () => Uint8Array
  /** pointCount; how many distinct edges end at each point. */
  readonly pointEdgeCounts: () => Uint32Array
  /** Faces that hang together over shared points. */
  readonly pieces: () => FacePieces
  readonly bounds: () => Box | null
  readonly diagonal: () => number
}

/** Facts of a mesh, each worked out when it is first asked for. */
export function createMeshFacts(mesh: Mesh): MeshFacts {
  const brokenPoints = once(() => {
    const broken: number[] = []
    for (let at = 0; at < mesh.points.length; at += 3)
      if (!Number.isFinite(mesh.points[at]! + mesh.points[at + 1]! + mesh.points[at + 2]!))
        broken.push(at / 3)
    return Uint32Array.from(broken)
  })
  const points = once(() => {
    if (brokenPoints().length === 0) return mesh.points
    const sound = mesh.points.slice()
    for (const point of brokenPoints())
      for (let axis = 0; axis < 3; axis++)
        if (!Number.isFinite(sound[3 * point + axis]!)) sound[3 * point + axis] = 0
    return sound
  })
  const edges = once(() => edgesOf(mesh))
  const cornerFaces = once(() => buildCornerFaces(mesh))
  const faceNormals = once(() => computeFaceNormals(mesh, points()))
  const bounds = once(() => boundsOf(points()))
  return {
    mesh,
    faceCount: faceCountOf(mesh),
    pointCount: pointCountOf(mesh),
    points,
    brokenPoints,
    edges,
    cornerFaces,
    pointCorners: once(() => buildPointCorners(mesh, pointCountOf(mesh))),
    faceNormals,
    faceAreas: once(() => {
      const normals = faceNormals()
      const areas = new Float64Array(normals.length / 3)
      for (let face = 0; face < areas.length; face++) {
        const x = normals[3 * face]!
        const y = normals[3 * face + 1]!
        const z = normals[3 * face + 2]!
        areas[face] = Math.sqrt(x * x + y * y + z * z) / 2
      }
      return areas
    }),
    hardEdges: once(() => findHardEdges(mesh, edges(), cornerFaces())),
    pointEdgeCounts: once(() => {
      const counts = new Uint32Array(pointCountOf(mesh))
      for (const point of edges().edgePoints) counts[point]!++
      return counts
    }),
    pieces: once(() => findPieces(mesh)),
    bounds,
    diagonal: once(() => diagonalOf(bounds())),
  }
}

function findPieces(mesh: Mesh): FacePieces {
  const union = createUnion(pointCountOf(mesh))
  const faceCount = faceCountOf(mesh)
  for (let face = 0; face < faceCount; face++) {
    const first = mesh.faceVertices[mesh.faceOffsets[face]!]!
    for (let corner = mesh.faceOffsets[face]! + 1; corner < mesh.faceOffsets[face + 1]!; corner++)
      union.join(first, mesh.faceVertices[corner]!)
  }
  const pieceOfRoot = new Int32Array(pointCountOf(mesh)).fill(-1)
  const facePieces = new Int32Array(faceCount)
  let pieceCount = 0
  for (let face = 0; face < faceCount; face++) {
    const root = union.rootOf(mesh.faceVertices[mesh.faceOffsets[face]!]!)
    if (pieceOfRoot[root]! < 0) pieceOfRoot[root] = pieceCount++
    facePieces[face] = pieceOfRoot[root]!
  }
  return { pieceCount, facePieces }
}

/** The corner that follows within its face. */
export const nextCorner = (mesh: Mesh, face: number, corner: number): number =>
  corner + 1 < mesh.faceOffsets[face + 1]! ? corner + 1 : mesh.faceOffsets[face]!

/** The corner before a corner of a face, round its end. */
export const previousCorner = (mesh: Mesh, face: number, corner: number): number =>
  corner > mesh.faceOffsets[face]! ? corner - 1 : mesh.faceOffsets[face + 1]! - 1

/** All corner numbers of a mesh in order. */
export const allCorners = (mesh: Mesh): Int32Array =>
  Int32Array.from({ length: cornerCountOf(mesh) }, (_value, corner) => corner)
