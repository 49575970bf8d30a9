/** A part of a surface by itself, cut at its seams: what flattening works on. */
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

/** A quad each of whose corners turns the same way, seen along its normal. */
function isConvexQuad(points: Float64Array, corners: ArrayLike<number>, start: number): boolean {
  const at = (k: number): number => 3 * corners[start + (k & 3)]!
  const cross = (k: number): [number, number, number] => {
    const [p, q, r] = [at(k + 3), at(k), at(k + 1)]
    const [ax, ay, az] = [
      points[q]! - points[p]!,
      points[q + 1]! - points[p + 1]!,
      points[q + 2]! - points[p + 2]!,
    ]
    const [bx, by, bz] = [
      points[r]! - points[q]!,
      points[r + 1]! - points[q + 1]!,
      points[r + 2]! - points[q + 2]!,
    ]
    return [ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx]
  }
  const turns = [cross(0), cross(1), cross(2), cross(3)]
  const normal = [0, 1, 2].map((axis) => turns.reduce((sum, turn) => sum + turn[axis]!, 0))
  const squared = normal.reduce((sum, one) => sum + one * one, 0)
  // a corner of nearly 180 degrees makes a triangle of hardly any size
  return turns.every(
    (turn) => turn[0]! * normal[0]! + turn[1]! * normal[1]! + turn[2]! * normal[2]! > 0.002 * squared,
  )
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
  // where a corner of the mesh stands here
  const own = new Map<number, number>()
  for (let at = 0; at < faces.length; at++) own.set(faces[at]!, at)
  const cornerFaces = facts.cornerFaces()
  const localOf = (corner: number): number => {
    const face = cornerFaces[corner]!
    return faceStarts[own.get(face)!]! + corner - faceOffsets[face]!
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
      if (!own.has(faceB)) continue
      if (faceVertices[a] === faceVertices[b] || faceA === faceB) continue
      const [localA, localB] = [localOf(a), localOf(b)]
      union.join(localA, localOf(nextCorner(mesh, faceB, b)))
      union.join(localOf(nextCorner(mesh, faceA, a)), localB)
      isJoined[localA] = 1
      isJoined[localB] = 1
      joints++
    }
  }
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
