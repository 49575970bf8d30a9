/** Buffers for drawing a mesh: single precision about an origin, in pieces small enough to upload one a frame. */
import { transformNormals, transformPoints, isIdentity, type Matrix } from '../base/math/matrix.ts'
import { computeNormals } from '../mesh/normals/compute-normals.ts'
import { buildEdges } from '../mesh/relations/adjacency.ts'
import { once } from '../base/remembering/once.ts'
import { computeFaceNormals } from '../mesh/relations/face-normals.ts'
import { triangulateFace } from '../mesh/triangles/triangulate-face.ts'
import { faceCountOf, type Mesh, type UvSet } from '../scene/mesh.ts'

/** Faces of one piece. */
export const FACES_PER_PIECE = 60000

/** Radians; edges that bend more look hard where a mesh says nothing of its shading. */
const PLAIN_BEND = Math.PI / 4

export interface DrawPiece {
  /** 3 x vertexCount. */
  readonly positions: Float32Array
  readonly normals: Float32Array
  /** 2 x vertexCount, V up; zero where there is none. */
  readonly uvs: Float32Array
  /** Those of the other UV sets that were asked for, in their order. */
  readonly moreUvs: readonly Float32Array[]
  /** 3 x triangleCount, sorted by material. */
  readonly indices: Uint32Array
  /** triangleCount; the face of each triangle. */
  readonly triangleFaces: Uint32Array
  /** Runs of triangles of one material: first index, index count, material (-1 for none). */
  readonly runs: readonly { readonly start: number; readonly size: number; readonly material: number }[]
}

export interface DrawMesh {
  readonly pieces: readonly DrawPiece[]
  /** 3 x pointCount, relative to the origin. */
  readonly pointPositions: Float32Array
  /** 2 x edgeCount; the polygons' own edges. Worked out when they are first asked for. */
  readonly edges: () => Uint32Array
  /** 2 x uvCount of the first UV set; empty without one. */
  readonly uvPositions: Float32Array
  /** 2 x line count; pairs of UVs along the polygons' edges. Worked out when they are first asked for. */
  readonly uvLines: () => Uint32Array
}

/**
 * @param world the mesh's world matrix; positions are in world space minus `origin`.
 * @param setNames names of the UV sets that are drawn with; empty: the first, which also stands for one that the mesh
 * doesn't have.
 */
export function prepareMesh(
  mesh: Mesh,
  world: Matrix,
  origin: readonly [number, number, number],
  setNames: readonly string[] = [''],
): DrawMesh {
  const placed: Mesh = isIdentity(world)
    ? mesh
    : {
        ...mesh,
        points: transformPoints(mesh.points, world),
        normals: mesh.normals && { ...mesh.normals, values: transformNormals(mesh.normals.values, world) },
      }
  const faceNormals = computeFaceNormals(placed)
  const normals = placed.normals ?? computeNormals(placed, placed.smoothing ? null : PLAIN_BEND)
  const pointPositions = new Float32Array(placed.points.length)
  for (let at = 0; at < placed.points.length; at++) pointPositions[at] = placed.points[at]! - origin[at % 3]!
  const uvSet = placed.uvSets[0] ?? null
  const uvSets = setNames.map(
    (wanted) => placed.uvSets.find(({ name }) => wanted !== '' && name === wanted) ?? uvSet,
  )
  const faceCount = faceCountOf(placed)
  const pieces: DrawPiece[] = []
  for (let from = 0; from < faceCount; from += FACES_PER_PIECE)
    pieces.push(
      preparePiece(
        placed,
        faceNormals,
        normals,
        pointPositions,
        uvSets.flatMap((set) => set ?? []),
        uvSets.length,
        from,
        Math.min(from + FACES_PER_PIECE, faceCount),
      ),
    )
  return {
    pieces,
    pointPositions,
    // half of all the time for a million quads, and of those they are drawn only where one is selected
    edges: once(() => buildEdges(placed).edgePoints),
    uvPositions: uvSet ? Float32Array.from(uvSet.values) : new Float32Array(0),
    uvLines: once(() => (uvSet ? uvEdges(placed, uvSet.indices) : new Uint32Array(0))),
  }
}

function preparePiece(
  mesh: Mesh,
  faceNormals: Float64Array,
  normals: { values: Float64Array; indices: Int32Array },
  pointPositions: Float32Array,
  uvSets: readonly UvSet[],
  setCount: number,
  firstFace: number,
  endFace: number,
): DrawPiece {
  const firstCorner = mesh.faceOffsets[firstFace]!
  const cornerCount = mesh.faceOffsets[endFace]! - firstCorner
  // corners that share point, normal and UV share a vertex
  let tableSize = 16
  while (tableSize < cornerCount * 2) tableSize *= 2
  const mask = tableSize - 1
  const table = new Int32Array(tableSize).fill(-1)
  const vertexCorner = new Uint32Array(cornerCount)
  const cornerVertex = new Uint32Array(cornerCount)
  let vertexCount = 0
  for (let corner = 0; corner < cornerCount; corner++) {
    const global = firstCorner + corner
    const point = mesh.faceVertices[global]!
    const normal = normals.indices[global]!
    const uv = uvSets.length ? uvSets[0]!.indices[global]! : -1
    let slot =
      (Math.imul(point, 0x9e3779b1) ^ Math.imul(normal, 0x85ebca6b) ^ Math.imul(uv, 0xc2b2ae35)) & mask
    for (;;) {
      const vertex = table[slot]!
      if (vertex < 0) {
        table[slot] = vertexCount
        vertexCorner[vertexCount] = global
        cornerVertex[corner] = vertexCount++
        break
      }
      const other = vertexCorner[vertex]!
      if (
        mesh.faceVertices[other] === point &&
        normals.indices[other] === normal &&
        uvSets.every(({ indices }) => indices[other] === indices[global])
      ) {
        cornerVertex[corner] = vertex
        break
      }
      slot = (slot + 1) & mask
    }
  }
  const positions = new Float32Array(3 * vertexCount)
  const vertexNormals = new Float32Array(3 * vertexCount)
  const allUvs = Array.from({ length: setCount }, () => new Float32Array(2 * vertexCount))
  const cornerFace = (corner: number): number => {
    let low = firstFace
    let high = endFace - 1
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (mesh.faceOffsets[middle]! <= corner) low = middle
      else high = middle - 1
    }
    return low
  }
  for (let vertex = 0; vertex < vertexCount; vertex++) {
    const corner = vertexCorner[vertex]!
    const point = 3 * mesh.faceVertices[corner]!
    const normal = normals.indices[corner]!
    const from = normal >= 0 ? normals.values : faceNormals
    const at = 3 * (normal >= 0 ? normal : cornerFace(corner))
    for (let axis = 0; axis < 3; axis++) {
      positions[3 * vertex + axis] = pointPositions[point + axis]!
      vertexNormals[3 * vertex + axis] = from[at + axis]!
    }
    for (const [at, { indices, values }] of uvSets.entries()) {
      const uv = indices[corner]!
      if (uv < 0) continue
      allUvs[at]![2 * vertex] = values[2 * uv]!
      allUvs[at]![2 * vertex + 1] = values[2 * uv + 1]!
    }
  }
  // triangles are counted by material first, then put in their places
  const triangleCounts = new Map<number, number>()
  for (let face = firstFace; face < endFace; face++) {
    const material = mesh.faceMaterials ? mesh.faceMaterials[face]! : -1
    // a polygon of n corners is n - 2 triangles; one that can't be cut cleanly may give fewer
    const triangles = mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]! - 2
    triangleCounts.set(material, (triangleCounts.get(material) ?? 0) + triangles)
  }
  let total = 0
  const places = new Map<number, number>()
  for (const [material, triangles] of triangleCounts) {
    places.set(material, total)
    total += triangles
  }
  const indices = new Uint32Array(3 * total)
  const triangleFaces = new Uint32Array(total)
  const cut: number[] = []
  for (let face = firstFace; face < endFace; face++) {
    const material = mesh.faceMaterials ? mesh.faceMaterials[face]! : -1
    cut.length = 0
    triangulateFace(mesh, face, faceNormals, cut)
    const start = mesh.faceOffsets[face]! - firstCorner
    let triangle = places.get(material)!
    for (let at = 0; at < cut.length; at += 3, triangle++) {
      indices[3 * triangle] = cornerVertex[start + cut[at]!]!
      indices[3 * triangle + 1] = cornerVertex[start + cut[at + 1]!]!
      indices[3 * triangle + 2] = cornerVertex[start + cut[at + 2]!]!
      triangleFaces[triangle] = face
    }
    places.set(material, triangle)
  }
  const runs: { start: number; size: number; material: number }[] = []
  let runStart = 0
  for (const [material, triangles] of triangleCounts) {
    runs.push({ start: 3 * runStart, size: 3 * (places.get(material)! - runStart), material })
    runStart += triangles
  }
  const [uvs, ...moreUvs] = allUvs
  return { positions, normals: vertexNormals, uvs: uvs!, moreUvs, indices, triangleFaces, runs }
}

/** Pairs of UVs along edges, each once. */
function uvEdges(mesh: Mesh, indices: Int32Array): Uint32Array {
  // an edge of the mesh of UVs: faces over UV indices instead of points
  if (indices.every((uv) => uv >= 0))
    return buildEdges({ faceOffsets: mesh.faceOffsets, faceVertices: Uint32Array.from(indices) }).edgePoints
  const faceOffsets: number[] = [0]
  const vertices: number[] = []
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const start = mesh.faceOffsets[face]!
    const end = mesh.faceOffsets[face + 1]!
    let whole = true
    for (let corner = start; corner < end; corner++) if (indices[corner]! < 0) whole = false
    if (!whole) continue
    for (let corner = start; corner < end; corner++) vertices.push(indices[corner]!)
    faceOffsets.push(vertices.length)
  }
  return buildEdges({ faceOffsets: Uint32Array.from(faceOffsets), faceVertices: Uint32Array.from(vertices) })
    .edgePoints
}
