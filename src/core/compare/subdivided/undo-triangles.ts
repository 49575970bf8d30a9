/**
 * One level of a subdivision of triangles undone by how they hang together: each triangle became four, one of them
 * between the middles of its edges, and what is which in one of them says it for its neighbours. Works from any
 * numbering, whatever was moved.
 */
import { edgesOf, type Edges } from '../../mesh/relations/adjacency.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { rebuildCoarse } from './undo-level.ts'
import { createTelling } from './telling-face.ts'

/** One way to take a piece of the mesh for a refined one. */
export interface TriangleReading {
  readonly faces: readonly number[]
  /** For each of them, which of its corners is a point of the coarser mesh; 3 for the one between three middles. */
  readonly corners: Uint8Array
  /** Points and triangles that the coarser piece would have. */
  readonly points: number
  readonly polygons: number
}

const [POINT, MIDDLE] = [1, 2] as const
/** The triangle between three middles. */
const INNER = 3

const faceOf = (corner: number): number => Math.floor(corner / 3)

/** The corner on the other side of the edge that starts at a corner; -1 for none. */
function across({ edgeCorners, cornerEdges }: Edges, corner: number): number {
  const edge = cornerEdges[corner]!
  const [a, b] = [edgeCorners[2 * edge]!, edgeCorners[2 * edge + 1]!]
  return a === corner ? b : a
}

/** Triangles that hang together over edges, from one of them. */
function pieceFrom(start: number, edges: Edges, seen: Uint8Array): number[] {
  const faces = [start]
  seen[start] = 1
  for (let at = 0; at < faces.length; at++)
    for (let step = 0; step < 3; step++) {
      const other = across(edges, 3 * faces[at]! + step)
      if (other < 0 || seen[faceOf(other)]) continue
      seen[faceOf(other)] = 1
      faces.push(faceOf(other))
    }
  return faces
}

/** @returns null where the start can't be so, or the piece is no refined one. */
function readPiece(
  faces: readonly number[],
  first: number,
  mesh: Mesh,
  edges: Edges,
  labels: Uint8Array,
  roles: Int8Array,
): TriangleReading | null {
  const labelled: number[] = []
  const end = <Result>(result: Result): Result => {
    for (const point of labelled) labels[point] = 0
    for (const face of faces) roles[face] = -1
    return result
  }
  const place = (face: number, role: number): boolean => {
    roles[face] = role
    for (let step = 0; step < 3; step++) {
      const point = mesh.faceVertices[3 * face + step]!
      const label = step === role ? POINT : MIDDLE
      if (labels[point] === 0) {
        labels[point] = label
        labelled.push(point)
      } else if (labels[point] !== label) return false
      // both sides of an edge between two middles are triangles of one
      if (
        step !== role &&
        (step + 1) % 3 !== role &&
        edges.edgeSides[edges.cornerEdges[3 * face + step]!] !== 2
      )
        return false
    }
    return true
  }
  if (!place(faces[0]!, first)) return end(null)
  const front = [faces[0]!]
  for (let at = 0; at < front.length; at++) {
    const face = front[at]!
    for (let step = 0; step < 3; step++) {
      const other = across(edges, 3 * face + step)
      if (other < 0) continue
      const neighbour = faceOf(other)
      const role = roles[face]!
      const opposite = role !== INNER && (step + 2) % 3 === role
      let found: number
      if (role === INNER) found = ((other % 3) + 2) % 3
      else if (opposite) found = INNER
      else {
        // the same point of the coarser mesh on the other side
        const point = mesh.faceVertices[3 * face + role]!
        found = [0, 1, 2].findIndex((corner) => mesh.faceVertices[3 * neighbour + corner] === point)
      }
      if (roles[neighbour]! >= 0) {
        if (roles[neighbour] !== found) return end(null)
      } else {
        if (!place(neighbour, found)) return end(null)
        front.push(neighbour)
      }
    }
  }
  const corners = Uint8Array.from(faces, (face) => roles[face]!)
  const polygons = corners.filter((corner) => corner === INNER).length
  const points = labelled.filter((point) => labels[point] === POINT).length
  return end(4 * polygons === faces.length ? { faces, corners, points, polygons } : null)
}

/** For each piece of a mesh of triangles alone, the ways to take it for a refined one; null where one has none. */
export function triangleReadingsOf(mesh: Mesh): TriangleReading[][] | null {
  const faceCount = faceCountOf(mesh)
  if (mesh.faceVertices.length !== 3 * faceCount || faceCount === 0) return null
  for (let face = 0; face < faceCount; face++) if (mesh.faceOffsets[face] !== 3 * face) return null
  const edges = edgesOf(mesh)
  const seen = new Uint8Array(faceCount)
  const labels = new Uint8Array(pointCountOf(mesh))
  const roles = new Int8Array(faceCount).fill(-1)
  const pieces: TriangleReading[][] = []
  for (let start = 0; start < faceCount; start++) {
    if (seen[start]) continue
    const faces = pieceFrom(start, edges, seen)
    const readings = [0, 1, 2, INNER].flatMap(
      (first) => readPiece(faces, first, mesh, edges, labels, roles) ?? [],
    )
    if (readings.length === 0) return null
    pieces.push(readings)
  }
  return pieces
}

/** The coarser mesh, as `undoLevel` gives that of quads. */
export function undoTriangles(mesh: Mesh, pieces: readonly TriangleReading[]): Mesh {
  const edges = edgesOf(mesh)
  const kept = new Uint8Array(pointCountOf(mesh))
  const ends = new Uint32Array(2 * pointCountOf(mesh))
  const pointCorner = new Int8Array(faceCountOf(mesh)).fill(INNER)
  const inner: number[] = []
  for (const { faces, corners } of pieces)
    faces.forEach((face, at) => {
      const corner = corners[at]!
      pointCorner[face] = corner
      if (corner === INNER) return void inner.push(face)
      const point = mesh.faceVertices[3 * face + corner]!
      kept[point] = 1
      for (const step of [1, 2]) {
        const middle = 2 * mesh.faceVertices[3 * face + ((corner + step) % 3)]!
        if (ends[middle] === 0) ends[middle] = point + 1
        else if (ends[middle] !== point + 1) ends[middle + 1] = point + 1
      }
    })
  const faceOffsets = [0]
  const cornerSources: number[] = []
  const faceSources: number[] = []
  const tellingFace = createTelling(mesh)
  for (const face of inner) {
    const finer = [face]
    for (let step = 0; step < 3; step++) {
      const outer = faceOf(across(edges, 3 * face + step))
      finer.push(outer)
      cornerSources.push(3 * outer + pointCorner[outer]!)
    }
    faceSources.push(tellingFace(finer))
    faceOffsets.push(cornerSources.length)
  }
  return rebuildCoarse(mesh, {
    kept,
    ends,
    faceOffsets: Uint32Array.from(faceOffsets),
    cornerSources: Int32Array.from(cornerSources),
    faceSources: Int32Array.from(faceSources),
  })
}
