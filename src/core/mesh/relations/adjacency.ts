/** Relations between a mesh's elements, computed on demand. */
import { cornerCountOf, faceCountOf, type Mesh } from '../../scene/mesh.ts'
import { firstOfPairs } from './first-of-pairs.ts'

export interface Edges {
  readonly edgeCount: number
  /** 2 x edgeCount; the smaller point first. */
  readonly edgePoints: Uint32Array
  /** cornerCount; the edge from each corner to the next corner of its face. */
  readonly cornerEdges: Uint32Array
  /** edgeCount; how many faces' sides lie on the edge. */
  readonly edgeSides: Uint32Array
  /** 2 x edgeCount; the corners that start the first two sides on it, -1 for none. */
  readonly edgeCorners: Int32Array
}

/** For each corner the first one whose side lies on the same edge, itself where it is that one. */
function firstCornersOfEdges({ faceOffsets, faceVertices }: Polygons): Uint32Array {
  const lows = new Uint32Array(faceVertices.length)
  const highs = new Uint32Array(faceVertices.length)
  let pointCount = 0
  for (let face = 0; face + 1 < faceOffsets.length; face++) {
    const start = faceOffsets[face]!
    const end = faceOffsets[face + 1]!
    for (let corner = start; corner < end; corner++) {
      const from = faceVertices[corner]!
      const to = faceVertices[corner + 1 < end ? corner + 1 : start]!
      lows[corner] = from < to ? from : to
      highs[corner] = from < to ? to : from
      if (from >= pointCount) pointCount = from + 1
    }
  }
  return firstOfPairs(lows, highs, pointCount)
}

/**
 * The distinct edges of a mesh's faces, numbered as they are first met walking faces in order.
 * Linear in the number of corners.
 */
export function buildEdges(mesh: Polygons): Edges {
  const { faceOffsets, faceVertices } = mesh
  const cornerCount = faceVertices.length
  // holds first corners until a corner is come to, and its edge from then on
  const cornerEdges = firstCornersOfEdges(mesh)
  let edgeCount = 0
  for (let corner = 0; corner < cornerCount; corner++) if (cornerEdges[corner] === corner) edgeCount++
  const edgePoints = new Uint32Array(2 * edgeCount)
  const edgeSides = new Uint32Array(edgeCount)
  const edgeCorners = new Int32Array(2 * edgeCount).fill(-1)
  let met = 0
  for (let face = 0; face + 1 < faceOffsets.length; face++) {
    const start = faceOffsets[face]!
    const end = faceOffsets[face + 1]!
    for (let corner = start; corner < end; corner++) {
      let edge: number
      if (cornerEdges[corner] === corner) {
        edge = met++
        const from = faceVertices[corner]!
        const to = faceVertices[corner + 1 < end ? corner + 1 : start]!
        edgePoints[2 * edge] = from < to ? from : to
        edgePoints[2 * edge + 1] = from < to ? to : from
      } else edge = cornerEdges[cornerEdges[corner]!]!
      cornerEdges[corner] = edge
      const side = edgeSides[edge]!++
      if (side < 2) edgeCorners[2 * edge + side] = corner
    }
  }
  return { edgeCount, edgePoints, cornerEdges, edgeSides, edgeCorners }
}

type Polygons = Pick<Mesh, 'faceOffsets' | 'faceVertices'>
const byVertices = new WeakMap<Uint32Array, { readonly faceOffsets: Uint32Array; readonly edges: Edges }>()

/**
 * What `buildEdges` gives, once for meshes of the same polygons, whatever their points and traits: inspection,
 * comparison, matching and checks all ask for it. Nobody may change the arrays.
 */
export function edgesOf({ faceOffsets, faceVertices }: Polygons): Edges {
  const known = byVertices.get(faceVertices)
  if (known?.faceOffsets === faceOffsets) return known.edges
  const edges = buildEdges({ faceOffsets, faceVertices })
  byVertices.set(faceVertices, { faceOffsets, edges })
  return edges
}

/** cornerCount; the face of each corner. */
export function buildCornerFaces(mesh: Mesh): Uint32Array {
  const { faceOffsets } = mesh
  const cornerFaces = new Uint32Array(cornerCountOf(mesh))
  const faceCount = faceCountOf(mesh)
  for (let face = 0; face < faceCount; face++) {
    const end = faceOffsets[face + 1]!
    for (let corner = faceOffsets[face]!; corner < end; corner++) cornerFaces[corner] = face
  }
  return cornerFaces
}

/** The corners at each point: `corners[offsets[p]] ... corners[offsets[p + 1] - 1]`. */
export function buildPointCorners(
  mesh: Mesh,
  pointCount: number,
): { readonly offsets: Uint32Array; readonly corners: Uint32Array } {
  const offsets = new Uint32Array(pointCount + 1)
  for (const point of mesh.faceVertices) offsets[point + 1]!++
  for (let point = 0; point < pointCount; point++) offsets[point + 1]! += offsets[point]!
  const next = offsets.slice()
  const corners = new Uint32Array(mesh.faceVertices.length)
  for (let corner = 0; corner < corners.length; corner++)
    corners[next[mesh.faceVertices[corner]!]!++] = corner
  return { offsets, corners }
}

/** An edge's points as one number, the smaller point first; for maps keyed by edge. Exact below 2^26 points. */
export const edgeKey = (from: number, to: number): number =>
  from < to ? from * 67108864 + to : to * 67108864 + from

/**
 * Which edges are hard by the mesh's smoothing: edgeCount flags, 1 = hard. An edge between two faces is
 * hard where they share no group; borders and edges of more than two faces are not judged.
 */
export function findHardEdges(mesh: Mesh, edges: Edges, cornerFaces: Uint32Array): Uint8Array {
  const hard = new Uint8Array(edges.edgeCount)
  const smoothing = mesh.smoothing
  if (!smoothing) return hard
  if (smoothing.kind === 'edges') {
    const listed = new Set<number>()
    for (let at = 0; at < smoothing.hardEdgePoints.length; at += 2)
      listed.add(edgeKey(smoothing.hardEdgePoints[at]!, smoothing.hardEdgePoints[at + 1]!))
    for (let edge = 0; edge < edges.edgeCount; edge++)
      if (listed.has(edgeKey(edges.edgePoints[2 * edge]!, edges.edgePoints[2 * edge + 1]!))) hard[edge] = 1
    return hard
  }
  const share =
    smoothing.kind === 'groups'
      ? (a: number, b: number): boolean =>
          smoothing.faceGroups[a]! > 0 && smoothing.faceGroups[a] === smoothing.faceGroups[b]
      : (a: number, b: number): boolean => (smoothing.faceMasks[a]! & smoothing.faceMasks[b]!) !== 0
  for (let edge = 0; edge < edges.edgeCount; edge++) {
    if (edges.edgeSides[edge] !== 2) continue
    const first = cornerFaces[edges.edgeCorners[2 * edge]!]!
    const second = cornerFaces[edges.edgeCorners[2 * edge + 1]!]!
    if (!share(first, second)) hard[edge] = 1
  }
  return hard
}

/** Items 0 to count - 1 that hang together. */
export interface Union {
  join(a: number, b: number): void
  /** The same item for all that hang together. */
  rootOf(item: number): number
}

/**
 * Which pieces hang together: a representative for each of `count` items after joining.
 * `join` merges two items, `rootOf` finds the representative (path halving).
 */
export function createUnion(count: number): Union {
  const parent = new Uint32Array(count)
  for (let item = 0; item < count; item++) parent[item] = item
  const rootOf = (item: number): number => {
    while (parent[item] !== item) {
      parent[item] = parent[parent[item]!]!
      item = parent[item]!
    }
    return item
  }
  return {
    rootOf,
    join(a, b) {
      const rootA = rootOf(a)
      const rootB = rootOf(b)
      if (rootA < rootB) parent[rootB] = rootA
      else parent[rootA] = rootB
    },
  }
}
