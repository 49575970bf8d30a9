/**
 * Catmull-Clark subdivision with semi-sharp creases and corners.
 *
 * Sources: Catmull & Clark 1978 (the smooth rules); DeRose, Kass & Truong 1998 (semi-sharp creases); the
 * uniform rule for creases, boundary interpolation and the modes of face-varying data are those documented for
 * OpenSubdiv 3.5, whose output is the reference in tests. Sharpness 10 and more never fades.
 *
 * Points are numbered as that library does: those from points, then from faces, then from edges. The children
 * of a face stand together in corner order; the child of a quad keeps its parent's corner j at place j, that
 * of any other polygon begins with its corner.
 */
import { edgesOf, edgeKey } from '../relations/adjacency.ts'

export const INFINITE_SHARPNESS = 10

const faded = (sharpness: number): number =>
  sharpness >= INFINITE_SHARPNESS ? sharpness : sharpness > 1 ? sharpness - 1 : 0

/** A polygon mesh by its relations; edges are numbered, values (points or UVs) lie apart. */
export interface RefineTopology {
  readonly pointCount: number
  readonly faceCount: number
  /** faceCount + 1. */
  readonly faceOffsets: Uint32Array
  readonly faceVertices: Uint32Array
  readonly edgeCount: number
  /** 2 x edgeCount. */
  readonly edgePoints: Uint32Array
  /** edgeCount; how many faces are on it. */
  readonly edgeSides: Uint8Array
  /** 2 x edgeCount; the first two faces. */
  readonly edgeFaces: Uint32Array
  /** cornerCount; the edge from each corner to the next of its face. */
  readonly cornerEdges: Uint32Array
  /** edgeCount; borders and edges of more than two faces are infinitely sharp. */
  readonly edgeSharpness: Float64Array
  readonly pointSharpness: Float64Array
}

/** The relations of a mesh; borders are sharp, all else is smooth until it is said to be sharp. */
export function describeTopology(
  pointCount: number,
  faceOffsets: Uint32Array,
  faceVertices: Uint32Array,
): RefineTopology {
  const { edgeCount, edgePoints, cornerEdges, edgeSides } = edgesOf({ faceOffsets, faceVertices })
  const faceCount = faceOffsets.length - 1
  const edgeFaces = new Uint32Array(2 * edgeCount)
  const met = new Uint8Array(edgeCount)
  for (let face = 0; face < faceCount; face++)
    for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++) {
      const edge = cornerEdges[corner]!
      if (met[edge]! < 2) edgeFaces[2 * edge + met[edge]!++] = face
    }
  const edgeSharpness = new Float64Array(edgeCount)
  const pointSharpness = new Float64Array(pointCount)
  for (let edge = 0; edge < edgeCount; edge++) {
    if (edgeSides[edge] === 2) continue
    edgeSharpness[edge] = INFINITE_SHARPNESS
    // where more than two faces share an edge, its ends stay where they are
    if (edgeSides[edge]! > 2)
      pointSharpness[edgePoints[2 * edge]!] = pointSharpness[edgePoints[2 * edge + 1]!] = INFINITE_SHARPNESS
  }
  return {
    pointCount,
    faceCount,
    faceOffsets,
    faceVertices,
    edgeCount,
    edgePoints,
    edgeSides: Uint8Array.from(edgeSides, (sides) => Math.min(sides, 255)),
    edgeFaces,
    cornerEdges,
    edgeSharpness,
    pointSharpness,
  }
}

/** Makes border points with one face corners ("edge and corner" interpolation). Changes `topology.pointSharpness`. */
export function sharpenSingleFacePoints(topology: RefineTopology): void {
  const { edgeCount, edgeSides, edgePoints, faceVertices, pointSharpness, pointCount } = topology
  const faces = new Uint32Array(pointCount)
  for (const point of faceVertices) faces[point]!++
  for (let edge = 0; edge < edgeCount; edge++) {
    if (edgeSides[edge] !== 1) continue
    for (let end = 0; end < 2; end++) {
      const point = edgePoints[2 * edge + end]!
      if (faces[point] === 1) pointSharpness[point] = INFINITE_SHARPNESS
    }
  }
}

/** The topology of the next level. Linear; nothing is hashed. */
export function refineTopology(topology: RefineTopology): RefineTopology {
  const { pointCount, faceCount, faceOffsets, faceVertices, edgeCount, edgePoints, edgeSides, cornerEdges } =
    topology
  const cornerCount = faceVertices.length
  const childPoints = pointCount + faceCount + edgeCount
  const childEdges = 2 * edgeCount + cornerCount
  const faceBase = pointCount
  const edgeBase = pointCount + faceCount
  const childOffsets = new Uint32Array(cornerCount + 1)
  for (let face = 0; face <= cornerCount; face++) childOffsets[face] = 4 * face
  const childVertices = new Uint32Array(4 * cornerCount)
  const childCornerEdges = new Uint32Array(4 * cornerCount)
  const childEdgePoints = new Uint32Array(2 * childEdges)
  const childSides = new Uint8Array(childEdges)
  const childEdgeFaces = new Uint32Array(2 * childEdges)
  const childSharpness = new Float64Array(childEdges)
  const met = new Uint8Array(childEdges)
  // an edge becomes two, 2e at its first point and 2e + 1 at its second; 2E + c joins a side's middle with its face
  for (let edge = 0; edge < edgeCount; edge++) {
    childEdgePoints[4 * edge] = edgePoints[2 * edge]!
    childEdgePoints[4 * edge + 1] = childEdgePoints[4 * edge + 2] = edgeBase + edge
    childEdgePoints[4 * edge + 3] = edgePoints[2 * edge + 1]!
    childSides[2 * edge] = childSides[2 * edge + 1] = edgeSides[edge]!
    childSharpness[2 * edge] = childSharpness[2 * edge + 1] = faded(topology.edgeSharpness[edge]!)
  }
  for (let face = 0; face < faceCount; face++) {
    const start = faceOffsets[face]!
    const end = faceOffsets[face + 1]!
    const isQuad = end - start === 4
    for (let corner = start; corner < end; corner++) {
      const before = corner > start ? corner - 1 : end - 1
      const point = faceVertices[corner]!
      const edge = cornerEdges[corner]!
      const edgeBefore = cornerEdges[before]!
      const inner = 2 * edgeCount + corner
      childEdgePoints[2 * inner] = faceBase + face
      childEdgePoints[2 * inner + 1] = edgeBase + edge
      childSides[inner] = 2
      // v, middle of the side that starts at it, face, middle of the side that ends at it; then turned into place
      const turn = isQuad ? corner - start : 0
      const into = 4 * corner
      const at0 = into + (turn & 3)
      const at1 = into + ((turn + 1) & 3)
      const at2 = into + ((turn + 2) & 3)
      const at3 = into + ((turn + 3) & 3)
      childVertices[at0] = point
      childVertices[at1] = edgeBase + edge
      childVertices[at2] = faceBase + face
      childVertices[at3] = edgeBase + edgeBefore
      childCornerEdges[at0] = 2 * edge + (edgePoints[2 * edge] === point ? 0 : 1)
      childCornerEdges[at1] = inner
      childCornerEdges[at2] = 2 * edgeCount + before
      childCornerEdges[at3] = 2 * edgeBefore + (edgePoints[2 * edgeBefore] === point ? 0 : 1)
      for (let side = into; side < into + 4; side++) {
        const child = childCornerEdges[side]!
        if (met[child]! < 2) childEdgeFaces[2 * child + met[child]!++] = corner
      }
    }
  }
  const childPointSharpness = new Float64Array(childPoints)
  for (let point = 0; point < pointCount; point++)
    childPointSharpness[point] = faded(topology.pointSharpness[point]!)
  return {
    pointCount: childPoints,
    faceCount: cornerCount,
    faceOffsets: childOffsets,
    faceVertices: childVertices,
    edgeCount: childEdges,
    edgePoints: childEdgePoints,
    edgeSides: childSides,
    edgeFaces: childEdgeFaces,
    cornerEdges: childCornerEdges,
    edgeSharpness: childSharpness,
    pointSharpness: childPointSharpness,
  }
}

/** Rules of a point: smooth (a dart is smooth as well), crease, corner. */
const SMOOTH = 0
const CREASE = 2
const CORNER = 3

const ruleOf = (pointSharpness: number, sharpEdges: number): number =>
  pointSharpness > 0 || sharpEdges > 2 ? CORNER : sharpEdges === 2 ? CREASE : SMOOTH

/** Values of the next level: those from points, then from faces, then from edges. @param width numbers a point. */
export function refineValues(values: Float64Array, width: number, topology: RefineTopology): Float64Array {
  const {
    pointCount,
    faceCount,
    faceOffsets,
    faceVertices,
    edgeCount,
    edgePoints,
    edgeSides,
    edgeFaces,
    edgeSharpness,
    pointSharpness,
  } = topology
  const refined = new Float64Array((pointCount + faceCount + edgeCount) * width)
  const facesAt = pointCount * width
  const edgesAt = (pointCount + faceCount) * width
  // sums over the faces and edges round each point, for the smooth rule
  const faceSums = new Float64Array(pointCount * width)
  const edgeSums = new Float64Array(pointCount * width)
  const valence = new Uint32Array(pointCount)
  const faceValence = new Uint32Array(pointCount)
  for (let face = 0; face < faceCount; face++) {
    const start = faceOffsets[face]!
    const end = faceOffsets[face + 1]!
    const into = facesAt + face * width
    const share = 1 / (end - start)
    for (let k = 0; k < width; k++) {
      let sum = 0
      for (let corner = start; corner < end; corner++) sum += values[faceVertices[corner]! * width + k]!
      refined[into + k] = sum * share
    }
    for (let corner = start; corner < end; corner++) {
      const point = faceVertices[corner]!
      faceValence[point]!++
      for (let k = 0; k < width; k++) faceSums[point * width + k]! += refined[into + k]!
    }
  }
  // sharp edges at each point, at this level and at the next: how many, and the far ends of the first two
  const sharpCounts = new Uint8Array(pointCount)
  const laterCounts = new Uint8Array(pointCount)
  const sharpEnds = new Int32Array(2 * pointCount)
  const laterEnds = new Int32Array(2 * pointCount)
  // what fades away between the two
  const fadingSums = new Float64Array(pointCount)
  const fadingCounts = new Uint8Array(pointCount)
  for (let edge = 0; edge < edgeCount; edge++) {
    const a = edgePoints[2 * edge]!
    const b = edgePoints[2 * edge + 1]!
    const sharpness = edgeSharpness[edge]!
    valence[a]!++
    valence[b]!++
    const into = edgesAt + edge * width
    if (sharpness > 0) {
      noteSharp(a, b, sharpness)
      noteSharp(b, a, sharpness)
    }
    const f = facesAt + edgeFaces[2 * edge]! * width
    const g = facesAt + edgeFaces[2 * edge + 1]! * width
    const plain = sharpness >= 1 || edgeSides[edge] !== 2
    for (let k = 0; k < width; k++) {
      const from = values[a * width + k]!
      const to = values[b * width + k]!
      edgeSums[a * width + k]! += to
      edgeSums[b * width + k]! += from
      const middle = (from + to) / 2
      if (plain) refined[into + k] = middle
      else {
        const smooth = (from + to + refined[f + k]! + refined[g + k]!) / 4
        refined[into + k] = sharpness > 0 ? smooth + sharpness * (middle - smooth) : smooth
      }
    }
  }
  for (let point = 0; point < pointCount; point++) {
    const from = point * width
    const n = valence[point]!
    const own = pointSharpness[point]!
    const now = n === 0 ? CORNER : ruleOf(own, sharpCounts[point]!)
    const later = n === 0 ? CORNER : ruleOf(faded(own), laterCounts[point]!)
    let weight = 1
    if (now !== later) {
      // how much of this level's rule is left where the next level's is another: the mean of what fades
      const ownFades = own > 0 && faded(own) === 0
      const count = fadingCounts[point]! + (ownFades ? 1 : 0)
      weight = count > 0 ? Math.min(1, (fadingSums[point]! + (ownFades ? own : 0)) / count) : 1
    }
    for (let k = 0; k < width; k++) {
      let value = byRule(now, point, k, sharpEnds)
      if (weight < 1) value = value * weight + byRule(later, point, k, laterEnds) * (1 - weight)
      refined[from + k] = value
    }
  }
  return refined

  function noteSharp(point: number, end: number, sharpness: number): void {
    if (sharpCounts[point]! < 2) sharpEnds[2 * point + sharpCounts[point]!] = end
    if (sharpCounts[point]! < 255) sharpCounts[point]!++
    if (faded(sharpness) > 0) {
      if (laterCounts[point]! < 2) laterEnds[2 * point + laterCounts[point]!] = end
      if (laterCounts[point]! < 255) laterCounts[point]!++
    } else {
      fadingSums[point]! += sharpness
      fadingCounts[point]!++
    }
  }
  function byRule(rule: number, point: number, k: number, ends: Int32Array): number {
    const value = values[point * width + k]!
    if (rule === CORNER) return value
    if (rule === CREASE)
      return (
        (6 * value + values[ends[2 * point]! * width + k]! + values[ends[2 * point + 1]! * width + k]!) / 8
      )
    const n = valence[point]!
    return (
      (faceSums[point * width + k]! / faceValence[point]! +
        edgeSums[point * width + k]! / n +
        (n - 2) * value) /
      n
    )
  }
}

/**
 * How UVs follow: `all` linear everywhere; `boundaries` with every seam fixed; the rest smooth with corners
 * fixed (a UV with one face), in `corners-1` also where three and more islands meet, in `corners-2` also darts
 * and both sides of a corner's seam; `none` fixes nothing.
 */
export const UV_MODES = ['none', 'corners', 'corners-1', 'corners-2', 'boundaries', 'all'] as const
export type UvMode = (typeof UV_MODES)[number]

/**
 * The topology of a UV set as a mesh of its own, parted at seams, with the creases of the surface.
 * @param indices one UV a corner, none absent.
 */
export function describeChannel(
  surface: RefineTopology,
  indices: Uint32Array,
  valueCount: number,
  mode: UvMode,
): RefineTopology {
  const channel = describeTopology(valueCount, surface.faceOffsets, indices)
  const { edgeSharpness, pointSharpness, edgePoints, edgeSides, edgeCount } = channel
  if (mode === 'all') {
    edgeSharpness.fill(INFINITE_SHARPNESS)
    pointSharpness.fill(INFINITE_SHARPNESS)
    return channel
  }
  for (let corner = 0; corner < indices.length; corner++) {
    const edge = channel.cornerEdges[corner]!
    if (edgeSides[edge] === 2)
      edgeSharpness[edge] = Math.max(
        edgeSharpness[edge]!,
        surface.edgeSharpness[surface.cornerEdges[corner]!]!,
      )
  }
  const faces = new Uint32Array(valueCount)
  const pointOf = new Int32Array(valueCount).fill(-1)
  const valuesAt = new Map<number, Set<number>>()
  for (let corner = 0; corner < indices.length; corner++) {
    const value = indices[corner]!
    const point = surface.faceVertices[corner]!
    faces[value]!++
    pointOf[value] = point
    const held = valuesAt.get(point)
    if (held) held.add(value)
    else valuesAt.set(point, new Set([value]))
  }
  const onBorder = new Uint8Array(valueCount)
  for (let edge = 0; edge < edgeCount; edge++)
    if (edgeSides[edge] !== 2) onBorder[edgePoints[2 * edge]!] = onBorder[edgePoints[2 * edge + 1]!] = 1
  const surfaceBorder = new Uint8Array(surface.pointCount)
  for (let edge = 0; edge < surface.edgeCount; edge++)
    if (surface.edgeSides[edge] !== 2)
      surfaceBorder[surface.edgePoints[2 * edge]!] = surfaceBorder[surface.edgePoints[2 * edge + 1]!] = 1
  for (let value = 0; value < valueCount; value++) {
    if (faces[value] === 0) continue
    const point = pointOf[value]!
    // a corner of the surface is one of its UVs as well
    if (surface.pointSharpness[point]! > 0) pointSharpness[value] = surface.pointSharpness[point]!
    if (!onBorder[value] || mode === 'none') continue
    const at = valuesAt.get(point)!
    let fixed = mode === 'boundaries' || faces[value] === 1
    if (mode === 'corners-1' || mode === 'corners-2') fixed ||= at.size > 2
    if (mode === 'corners-2') {
      fixed ||= at.size === 2 && [...at].some((other) => faces[other] === 1)
      // a dart: the seam ends here, inside the surface
      fixed ||= at.size === 1 && !surfaceBorder[point]
    }
    if (fixed) pointSharpness[value] = INFINITE_SHARPNESS
  }
  return channel
}

/** The point that the next level puts on the edge between two points; -1 where there is no such edge. */
export function edgePointFinder(topology: RefineTopology): (a: number, b: number) => number {
  const edgeOf = new Map<number, number>()
  for (let edge = 0; edge < topology.edgeCount; edge++)
    edgeOf.set(edgeKey(topology.edgePoints[2 * edge]!, topology.edgePoints[2 * edge + 1]!), edge)
  return (a, b) => {
    const edge = edgeOf.get(edgeKey(a, b))
    return edge === undefined ? -1 : topology.pointCount + topology.faceCount + edge
  }
}
