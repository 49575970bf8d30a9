/** Cuts long quads across, and the rings of quads that they stand in, so that no side ends in another's middle. */
import { polygonAspects, quadAspect } from '../relations/polygon-shapes.ts'
import { createMeshFacts, type MeshFacts } from '../relations/mesh-facts.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { numbers } from '../rebuilding/edit-faces.ts'
import { rebuildMesh } from '../rebuilding/rebuild-mesh.ts'

const MOST_PASSES = 6
/** Pieces that one quad is cut into at most; one that would need more has a corner astray, or no width. */
export const MOST_PIECES = 64

const isQuad = (mesh: Mesh, face: number): boolean =>
  mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]! === 4

/** A long quad that can be cut: not one that is too long for that. */
const isCuttable = (aspect: number, limit: number): boolean =>
  aspect > limit && Math.ceil(aspect / limit) <= MOST_PIECES

/**
 * For long quads: the number of pieces of each marked edge, and how many faces that adds. Rings don't cross, and none
 * is cut that would have no fewer long polygons afterwards.
 */
function markRings(
  facts: MeshFacts,
  limit: number,
  chosen: Uint8Array | null,
): { pieces: Map<number, number>; addedFaces: number; cut: ReadonlySet<number> } {
  const { mesh } = facts
  const aspects = polygonAspects(facts)
  const { cornerEdges, edgePoints, edgeSides, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const points = facts.points()
  /** Corners of the piece that is looked at. */
  const piece = new Float64Array(12)
  const length = (edge: number): number =>
    Math.hypot(
      ...[0, 1, 2].map(
        (axis) => points[3 * edgePoints[2 * edge]! + axis]! - points[3 * edgePoints[2 * edge + 1]! + axis]!,
      ),
    )
  /** Long pieces that a quad is cut into; in a narrowing one those at its tip, where it was narrow already all. */
  const longPieces = (quad: number, pair: number, count: number): number => {
    const at = mesh.faceOffsets[quad]!
    const corner = (k: number): number => 3 * mesh.faceVertices[at + ((pair + k) % 4)]!
    const [a, b, c, d] = [corner(0), corner(1), corner(2), corner(3)]
    let found = 0
    for (let k = 0; k < count; k++) {
      const [begin, end] = [k / count, (k + 1) / count]
      for (let axis = 0; axis < 3; axis++) {
        const [from, far] = [points[a + axis]!, points[d + axis]!]
        const along = points[b + axis]! - from
        const farAlong = points[c + axis]! - far
        piece[axis] = from + begin * along
        piece[3 + axis] = from + end * along
        piece[6 + axis] = far + end * farAlong
        piece[9 + axis] = far + begin * farAlong
      }
      if (quadAspect(piece) > limit) found++
    }
    return found
  }
  /** Whether fewer polygons of a ring are long when it is cut: no polygon is mended by making others long. */
  const lessLong = (ring: ReadonlyMap<number, number>, count: number): boolean => {
    let before = 0
    for (const quad of ring.keys()) if (aspects[quad]! > limit) before++
    let after = 0
    for (const [quad, pair] of ring) {
      after += longPieces(quad, pair, count)
      if (after >= before) return false
    }
    return true
  }
  const long = Array.from({ length: facts.faceCount }, (_value, face) => face)
    .filter((face) => isQuad(mesh, face) && isCuttable(aspects[face]!, limit) && (!chosen || chosen[face]))
    .sort((a, b) => aspects[b]! - aspects[a]! || a - b)
  const pieces = new Map<number, number>()
  let addedFaces = 0
  /** The pair of sides (0: first and third, 1: the others) that a quad is already cut across. */
  const cutAcross = new Map<number, number>()
  for (const face of long) {
    if (cutAcross.has(face)) continue
    const start = mesh.faceOffsets[face]!
    const side =
      length(cornerEdges[start]!) + length(cornerEdges[start + 2]!) >=
      length(cornerEdges[start + 1]!) + length(cornerEdges[start + 3]!)
        ? 0
        : 1
    const count = Math.ceil(aspects[face]! / limit)
    // the ring through the quad over its long sides, both ways
    const ring = new Map<number, number>([[face, side]])
    const edges = new Set<number>([cornerEdges[start + side]!, cornerEdges[start + side + 2]!])
    let crossing = false
    for (const first of [...edges]) {
      let edge = first
      let at = face
      for (;;) {
        if (edgeSides[edge] !== 2) break
        const corner =
          cornerFaces[edgeCorners[2 * edge]!] === at ? edgeCorners[2 * edge + 1]! : edgeCorners[2 * edge]!
        const next = cornerFaces[corner]!
        if (!isQuad(mesh, next)) break
        const pair = (corner - mesh.faceOffsets[next]!) % 2
        if (ring.has(next)) {
          if (ring.get(next) !== pair) crossing = true
          break
        }
        if (cutAcross.has(next)) {
          crossing = true
          break
        }
        ring.set(next, pair)
        edge = cornerEdges[mesh.faceOffsets[next]! + ((corner - mesh.faceOffsets[next]! + 2) % 4)]!
        edges.add(edge)
        at = next
      }
    }
    // it is taken in a later pass, over the cuts that this one makes
    if (crossing || !lessLong(ring, count)) continue
    for (const [quad, pair] of ring) cutAcross.set(quad, pair)
    for (const edge of edges) pieces.set(edge, count)
    addedFaces += ring.size * (count - 1)
  }
  return { pieces, addedFaces, cut: new Set(cutAcross.keys()) }
}

function splitOnce(facts: MeshFacts, pieces: ReadonlyMap<number, number>): Mesh {
  const { mesh } = facts
  const { cornerEdges, edgePoints } = facts.edges()
  const pointFirst = Array.from(numbers(facts.pointCount))
  const pointSecond = new Array<number>(facts.pointCount).fill(-1)
  const pointShare = new Array<number>(facts.pointCount).fill(0)
  /** New points of an edge from its first point on. */
  const edgeMiddles = new Map<number, number[]>()
  const splitEdges: { from: number; to: number; a: number; b: number }[] = []
  for (const [edge, count] of pieces) {
    const a = edgePoints[2 * edge]!
    const b = edgePoints[2 * edge + 1]!
    const middles: number[] = []
    for (let at = 1; at < count; at++) {
      middles.push(pointFirst.push(a) - 1)
      pointSecond.push(b)
      pointShare.push(at / count)
    }
    edgeMiddles.set(edge, middles)
    const chain = [a, ...middles, b]
    for (let at = 0; at + 1 < chain.length; at++)
      splitEdges.push({ from: chain[at]!, to: chain[at + 1]!, a, b })
  }
  const faceOffsets = [0]
  const vertices: number[] = []
  const first: number[] = []
  const second: number[] = []
  const share: number[] = []
  const faces: number[] = []
  type Spot = readonly [point: number, first: number, second: number, share: number]
  const emit = (spots: readonly Spot[], face: number): void => {
    for (const [point, a, b, t] of spots) {
      vertices.push(point)
      first.push(a)
      second.push(b)
      share.push(t)
    }
    faces.push(face)
    faceOffsets.push(vertices.length)
  }
  for (let face = 0; face < facts.faceCount; face++) {
    const start = mesh.faceOffsets[face]!
    const size = mesh.faceOffsets[face + 1]! - start
    /** Spots along a side from its corner to just before the next. */
    const along = (at: number): Spot[] => {
      const corner = start + (at % size)
      const next = start + ((at + 1) % size)
      const edge = cornerEdges[corner]!
      const spots: Spot[] = [[mesh.faceVertices[corner]!, corner, -1, 0]]
      const middles = edgeMiddles.get(edge)
      if (!middles) return spots
      const forward = edgePoints[2 * edge] === mesh.faceVertices[corner]
      const ordered = forward ? middles : [...middles].reverse()
      ordered.forEach((point, k) => spots.push([point, corner, next, (k + 1) / (middles.length + 1)]))
      return spots
    }
    const marked = [0, 1].find(
      (pair) =>
        size === 4 &&
        edgeMiddles.has(cornerEdges[start + pair]!) &&
        edgeMiddles.has(cornerEdges[start + pair + 2]!),
    )
    if (marked === undefined) {
      emit(Array.from({ length: size }, (_value, at) => along(at)).flat(), face)
      continue
    }
    const near: Spot[] = [...along(marked), along(marked + 1)[0]!]
    const far: Spot[] = [...along(marked + 2), along(marked + 3)[0]!].reverse()
    for (let at = 0; at + 1 < near.length; at++) {
      const quad = [near[at]!, near[at + 1]!, far[at + 1]!, far[at]!]
      emit(quad, face)
    }
  }
  return rebuildMesh(mesh, {
    pointSources: {
      first: Int32Array.from(pointFirst),
      second: Int32Array.from(pointSecond),
      share: Float64Array.from(pointShare),
    },
    pointOldToNew: numbers(facts.pointCount),
    faceOffsets: Uint32Array.from(faceOffsets),
    faceVertices: Uint32Array.from(vertices),
    cornerSources: {
      first: Int32Array.from(first),
      second: Int32Array.from(second),
      share: Float64Array.from(share),
    },
    faceSources: Int32Array.from(faces),
    splitEdges,
  })
}

/** Whether some long quad can be cut with its ring. */
export const canSplitLong = (facts: MeshFacts, limit: number): boolean =>
  markRings(facts, limit, null).pieces.size > 0

/** How many quads are so long that they are not cut: see `MOST_PIECES`. */
export function countTooLong(facts: MeshFacts, limit: number, chosen: Uint8Array | null): number {
  const aspects = polygonAspects(facts)
  let count = 0
  for (let face = 0; face < aspects.length; face++)
    if (
      isQuad(facts.mesh, face) &&
      aspects[face]! > limit &&
      !isCuttable(aspects[face]!, limit) &&
      (!chosen || chosen[face])
    )
      count++
  return count
}

/**
 * @param limit longest side by width beyond which a quad is cut.
 * @param mayHave is told, before each pass, how many faces there would be; it throws where these are too many.
 * @returns the mesh, and which of its faces were cut in the first pass; null where nothing was to cut.
 */
export function splitLong(
  facts: MeshFacts,
  limit: number,
  chosen: Uint8Array | null,
  mayHave: (faceCount: number) => void = () => {},
): { mesh: Mesh; cut: ReadonlySet<number> } | null {
  let current = facts
  let cutOfThese: ReadonlySet<number> | null = null
  for (let pass = 0; pass < MOST_PASSES; pass++) {
    const { pieces, addedFaces, cut } = markRings(current, limit, pass === 0 ? chosen : null)
    if (pieces.size === 0) break
    cutOfThese ??= cut
    mayHave(current.faceCount + addedFaces)
    current = createMeshFacts(splitOnce(current, pieces))
  }
  return current === facts ? null : { mesh: { ...current.mesh, cutFrom: null }, cut: cutOfThese! }
}
