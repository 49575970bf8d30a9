/** A part of a surface by itself, cut at its seams: what flattening works on. */
import { remember } from '../../base/remembering/remember.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { nextCorner } from '../../mesh/relations/mesh-facts.ts'
import { createUnion } from '../../mesh/relations/adjacency.ts'
import { triangulateFace } from '../../mesh/triangles/triangulate-face.ts'

export interface IslandNet {
  readonly faces: ArrayLike<number>
  /** Where each face's corners begin among `vertices`; faces.length + 1. */
  readonly faceStarts: Uint32Array
  /** One for each corner of the faces in order: its vertex in the net. Cut sides have vertices of their own. */
  readonly vertices: Uint32Array
  readonly vertexCount: number
  /** vertexCount; the point of the mesh. */
  readonly vertexPoints: Uint32Array
  /** 3 x triangle count vertices. A quad that bulges outwards everywhere is two pairs of triangles, half each. */
  readonly triangles: Uint32Array
  /** triangle count; 1, or a half for those of a quad that is cut both ways. */
  readonly shares: Float64Array
  /** Borders as loops of vertices in the faces' direction, the longest first. */
  readonly loops: readonly Uint32Array[]
  /** Vertices - edges + faces: 1 for a disc, 0 for a ring, 2 for what is closed. */
  readonly euler: number
}

/** Faces that hang together over sides that are no seams. @returns faceCount piece numbers. */
export function piecesBetween(
  facts: MeshFacts,
  isSeam: Uint8Array,
): { pieceCount: number; facePieces: Int32Array } {
  const union = createUnion(facts.faceCount)
  const cornerFaces = facts.cornerFaces()
  const { edgeCount, edgeSides, edgeCorners } = facts.edges()
  const { faceVertices } = facts.mesh
  for (let edge = 0; edge < edgeCount; edge++) {
    if (edgeSides[edge] !== 2 || isSeam[edge]) continue
    const [a, b] = [edgeCorners[2 * edge]!, edgeCorners[2 * edge + 1]!]
    if (faceVertices[a] !== faceVertices[b]) union.join(cornerFaces[a]!, cornerFaces[b]!)
  }
  const numbers = new Map<number, number>()
  const facePieces = Int32Array.from({ length: facts.faceCount }, (_, face) => {
    const root = union.rootOf(face)
    let number = numbers.get(root)
    if (number === undefined) numbers.set(root, (number = numbers.size))
    return number
  })
  return { pieceCount: numbers.size, facePieces }
}

/** faceCount; where each face stands in a net, -1 for those of none. Whoever fills it empties it again. */
const emptyPlaces = remember(({ faceCount }: MeshFacts) => new Int32Array(faceCount).fill(-1))

/** How a quad turns at each of its corners. */
const TURNS = new Float64Array(12)

/** A quad each of whose corners turns the same way, seen along its normal. */
function isConvexQuad(points: Float64Array, corners: ArrayLike<number>, start: number): boolean {
  let [x, y, z] = [0, 0, 0]
  for (let k = 0; k < 4; k++) {
    const p = 3 * corners[start + ((k + 3) & 3)]!
    const q = 3 * corners[start + k]!
    const r = 3 * corners[start + ((k + 1) & 3)]!
    const ax = points[q]! - points[p]!
    const ay = points[q + 1]! - points[p + 1]!
    const az = points[q + 2]! - points[p + 2]!
    const bx = points[r]! - points[q]!
    const by = points[r + 1]! - points[q + 1]!
    const bz = points[r + 2]! - points[q + 2]!
    x += TURNS[3 * k] = ay * bz - az * by
    y += TURNS[3 * k + 1] = az * bx - ax * bz
    z += TURNS[3 * k + 2] = ax * by - ay * bx
  }
  // a corner of nearly 180 degrees makes a triangle of hardly any size
  const least = 0.002 * (x * x + y * y + z * z)
  for (let k = 0; k < 12; k += 3)
    if (!(TURNS[k]! * x + TURNS[k + 1]! * y + TURNS[k + 2]! * z > least)) return false
  return true
}

/**
 * @param isSeam edgeCount flags. @param bothWays false: a quad is two triangles, as any other polygon is as many as it
 * takes.
 */
export function islandNet(
  facts: MeshFacts,
  faces: ArrayLike<number>,
  isSeam: Uint8Array,
  bothWays = true,
): IslandNet {
  const { mesh } = facts
  const { faceOffsets, faceVertices } = mesh
  const points = facts.points()
  const faceStarts = new Uint32Array(faces.length + 1)
  for (let at = 0; at < faces.length; at++) {
    const face = faces[at]!
    faceStarts[at + 1] = faceStarts[at]! + faceOffsets[face + 1]! - faceOffsets[face]!
  }
  const cornerCount = faceStarts[faces.length]!
  const places = emptyPlaces(facts)
  for (let at = 0; at < faces.length; at++) places[faces[at]!] = at
  const cornerFaces = facts.cornerFaces()
  const localOf = (corner: number): number => {
    const face = cornerFaces[corner]!
    return faceStarts[places[face]!]! + corner - faceOffsets[face]!
  }
  const union = createUnion(cornerCount)
  const { cornerEdges, edgeSides, edgeCorners } = facts.edges()
  const isJoined = new Uint8Array(cornerCount)
  let joints = 0
  for (let at = 0; at < faces.length; at++) {
    const face = faces[at]!
    for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++) {
      const edge = cornerEdges[corner]!
      if (edgeSides[edge]! < 2 || isSeam[edge]) continue
      const [a, b] = [edgeCorners[2 * edge]!, edgeCorners[2 * edge + 1]!]
      // what more than two faces share, or two pass in the same direction, is cut open
      if (edgeSides[edge]! > 2 || a !== corner) continue
      const [faceA, faceB] = [cornerFaces[a]!, cornerFaces[b]!]
      if (places[faceB]! < 0) continue
      if (faceVertices[a] === faceVertices[b] || faceA === faceB) continue
      const [localA, localB] = [localOf(a), localOf(b)]
      union.join(localA, localOf(nextCorner(mesh, faceB, b)))
      union.join(localOf(nextCorner(mesh, faceA, a)), localB)
      isJoined[localA] = 1
      isJoined[localB] = 1
      joints++
    }
  }
  for (let at = 0; at < faces.length; at++) places[faces[at]!] = -1
  const numberOf = new Int32Array(cornerCount).fill(-1)
  const vertices = new Uint32Array(cornerCount)
  const vertexPoints: number[] = []
  for (let at = 0; at < faces.length; at++)
    for (let k = 0; k < faceStarts[at + 1]! - faceStarts[at]!; k++) {
      const local = faceStarts[at]! + k
      const root = union.rootOf(local)
      if (numberOf[root]! < 0)
        numberOf[root] = vertexPoints.push(faceVertices[faceOffsets[faces[at]!]! + k]!) - 1
      vertices[local] = numberOf[root]!
    }
  const normals = facts.faceNormals()
  const cut: number[] = []
  const triangles: number[] = []
  const shares: number[] = []
  const add = (share: number, ...three: [number, number, number]): void => {
    triangles.push(...three)
    shares.push(share)
  }
  for (let at = 0; at < faces.length; at++) {
    const [start, end] = [faceStarts[at]!, faceStarts[at + 1]!]
    const [a, b, c, d] = [vertices[start]!, vertices[start + 1]!, vertices[start + 2]!, vertices[start + 3]!]
    if (end - start < 3) continue
    if (end - start === 3) add(1, a, b, c)
    else if (bothWays && end - start === 4 && isConvexQuad(points, faceVertices, faceOffsets[faces[at]!]!)) {
      add(0.5, a, b, c)
      add(0.5, a, c, d)
      add(0.5, b, c, d)
      add(0.5, b, d, a)
    } else {
      cut.length = 0
      triangulateFace(mesh, faces[at]!, normals, cut)
      for (let k = 0; k + 2 < cut.length; k += 3)
        add(1, vertices[start + cut[k]!]!, vertices[start + cut[k + 1]!]!, vertices[start + cut[k + 2]!]!)
    }
  }
  const loops = bordersOf(faceStarts, vertices, isJoined)
  return {
    faces,
    faceStarts,
    vertices,
    vertexCount: vertexPoints.length,
    vertexPoints: Uint32Array.from(vertexPoints),
    triangles: Uint32Array.from(triangles),
    shares: Float64Array.from(shares),
    loops,
    euler: vertexPoints.length - (cornerCount - joints) + faces.length,
  }
}

/** Sides with a face on one hand only, one after another. */
function bordersOf(faceStarts: Uint32Array, vertices: Uint32Array, isJoined: Uint8Array): Uint32Array[] {
  // a vertex of a fan has one border side out of it at most
  const next = new Map<number, number>()
  for (let face = 0; face + 1 < faceStarts.length; face++)
    for (let corner = faceStarts[face]!; corner < faceStarts[face + 1]!; corner++)
      if (!isJoined[corner])
        next.set(
          vertices[corner]!,
          vertices[corner + 1 < faceStarts[face + 1]! ? corner + 1 : faceStarts[face]!]!,
        )
  const loops: Uint32Array[] = []
  while (next.size > 0) {
    const [first] = next.keys()
    const loop: number[] = []
    for (let at = first!; next.has(at);) {
      loop.push(at)
      const to = next.get(at)!
      next.delete(at)
      at = to
    }
    loops.push(Uint32Array.from(loop))
  }
  return loops.sort((a, b) => b.length - a.length)
}
