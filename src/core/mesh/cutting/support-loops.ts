/**
 * Creases as geometry: loops of edges close to a creased edge hold the surface there when it is subdivided,
 * for tools that know no creases.
 */
import { edgeKey } from '../relations/adjacency.ts'
import { nextCorner, type MeshFacts } from '../relations/mesh-facts.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { numbers } from '../rebuilding/edit-faces.ts'
import { rebuildMesh } from '../rebuilding/rebuild-mesh.ts'

export interface SupportOptions {
  /** Least sharpness of a crease that gets loops. */
  readonly leastSharpness: number
  /** Share of the side at which a loop lies; null: from the sharpness, half for each whole number of it. */
  readonly share: number | null
}

/** Loops are not put closer than this share of a side: closer, they would fall on the edge in single precision. */
const LEAST_SHARE = 0.01

/**
 * A crease of sharpness s keeps its shape for s levels, within which a neighbouring edge moves to 2^-s of its
 * distance: a loop that lies there holds about the same roundness. Common practice puts them closer the
 * sharper the edge.
 */
export const shareOfSharpness = (sharpness: number): number =>
  Math.min(0.45, Math.max(LEAST_SHARE, 2 ** -sharpness))

/**
 * @returns the mesh with loops and without the creases they stand for; how many edges were held; null where
 * there is none. A side that leaves a creased edge gets a point close to it, shared by the faces on either
 * side of it. A face with one creased side is cut along it; where creased sides meet in a corner, the corner
 * gets an inner point; a face that only touches a crease gets the point on its side.
 */
export function addSupportLoops(
  facts: MeshFacts,
  options: SupportOptions,
): { mesh: Mesh; edgesHeld: number } | null {
  const { mesh, faceCount } = facts
  if (!mesh.creases) return null
  const held = new Map<number, number>()
  mesh.creases.edgeSharpness.forEach((sharpness, at) => {
    if (sharpness >= options.leastSharpness)
      held.set(edgeKey(mesh.creases!.edgePoints[2 * at]!, mesh.creases!.edgePoints[2 * at + 1]!), sharpness)
  })
  const edges = facts.edges()
  const creaseOf = new Float64Array(edges.edgeCount)
  const pointShare = new Map<number, number>()
  let edgesHeld = 0
  for (let edge = 0; edge < edges.edgeCount; edge++) {
    const a = edges.edgePoints[2 * edge]!
    const b = edges.edgePoints[2 * edge + 1]!
    const sharpness = held.get(edgeKey(a, b))
    if (sharpness === undefined) continue
    edgesHeld++
    creaseOf[edge] = sharpness
    const share = options.share ?? shareOfSharpness(sharpness)
    for (const end of [a, b]) pointShare.set(end, Math.min(pointShare.get(end) ?? 1, share))
  }
  if (edgesHeld === 0) return null

  const pointFirst = Array.from(numbers(facts.pointCount))
  const pointSecond = new Array<number>(facts.pointCount).fill(-1)
  const pointMix = new Array<number>(facts.pointCount).fill(0)
  /** A point on the side from `near` towards `far`; sides shared by two faces get one. */
  const onSide = new Map<string, number>()
  const besideCrease = (corner: number, face: number): { near: boolean; far: boolean } => {
    const before = corner > mesh.faceOffsets[face]! ? corner - 1 : mesh.faceOffsets[face + 1]! - 1
    const after = nextCorner(mesh, face, corner)
    return {
      near: creaseOf[edges.cornerEdges[before]!]! > 0,
      far: creaseOf[edges.cornerEdges[after]!]! > 0,
    }
  }
  const addOnSide = (near: number, far: number): number => {
    const key = `${near} ${far}`
    let point = onSide.get(key)
    if (point === undefined) {
      point = pointFirst.push(near) - 1
      pointSecond.push(far)
      pointMix.push(pointShare.get(near)!)
      onSide.set(key, point)
    }
    return point
  }
  // sides next to a creased side within some face, at the end where they meet it
  for (let face = 0; face < faceCount; face++)
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      if (creaseOf[edges.cornerEdges[corner]!]! > 0) continue
      const from = mesh.faceVertices[corner]!
      const to = mesh.faceVertices[nextCorner(mesh, face, corner)]!
      const { near, far } = besideCrease(corner, face)
      if (near) addOnSide(from, to)
      if (far) addOnSide(to, from)
    }

  const faceOffsets = [0]
  const vertices: number[] = []
  const cornerFirst: number[] = []
  const cornerSecond: number[] = []
  const cornerMix: number[] = []
  const faces: number[] = []
  type Spot = readonly [point: number, first: number, second: number, share: number]
  const emit = (spots: readonly Spot[], face: number): void => {
    if (spots.length < 3) return
    for (const [point, first, second, share] of spots) {
      vertices.push(point)
      cornerFirst.push(first)
      cornerSecond.push(second)
      cornerMix.push(share)
    }
    faces.push(face)
    faceOffsets.push(vertices.length)
  }
  for (let face = 0; face < faceCount; face++) {
    const start = mesh.faceOffsets[face]!
    const size = mesh.faceOffsets[face + 1]! - start
    const corner = (at: number): number => start + ((at + size) % size)
    const point = (at: number): number => mesh.faceVertices[corner(at)]!
    const creased = (at: number): boolean => creaseOf[edges.cornerEdges[corner(at)]!]! > 0
    // the inner ring: what is left of the face inside its loops, one spot a corner
    const inner: Spot[] = []
    for (let at = 0; at < size; at++) {
      const own: Spot = [point(at), corner(at), -1, 0]
      const before = creased(at - 1)
      const after = creased(at)
      if (before && after) inner.push(innerSpot(at))
      else if (before) inner.push(sideSpot(at, at + 1))
      else if (after) inner.push(sideSpot(at, at - 1))
      else inner.push(own)
    }
    // sides that are not creased may carry points of a neighbour's loop
    const withSides: Spot[] = []
    for (let at = 0; at < size; at++) {
      withSides.push(inner[at]!)
      if (creased(at)) continue
      const next = (at + 1) % size
      const used = new Set([inner[at]![0], inner[next]![0]])
      for (const [near, far, from, to] of [
        [point(at), point(next), at, next],
        [point(next), point(at), next, at],
      ] as const) {
        const there = onSide.get(`${near} ${far}`)
        if (there !== undefined && !used.has(there)) withSides.push(sideSpot(from, to))
      }
    }
    for (let at = 0; at < size; at++) {
      if (!creased(at)) continue
      const next = (at + 1) % size
      const strip: Spot[] = [
        [point(at), corner(at), -1, 0],
        [point(next), corner(next), -1, 0],
        inner[next]!,
        inner[at]!,
      ]
      emit(strip, face)
    }
    emit(withSides, face)

    function sideSpot(from: number, towards: number): Spot {
      const near = point(from)
      const far = point(towards)
      return [addOnSide(near, far), corner(from), corner(towards), pointShare.get(near)!]
    }
    function innerSpot(at: number): Spot {
      // towards the middle of the face, as far as both loops lie in
      const share = pointShare.get(point(at))!
      const across = size === 4 ? at + 2 : at + Math.floor(size / 2)
      const made = pointFirst.push(point(at)) - 1
      pointSecond.push(point(across))
      pointMix.push(share)
      return [made, corner(at), corner(across), share]
    }
  }
  const rebuilt = rebuildMesh(mesh, {
    pointSources: {
      first: Int32Array.from(pointFirst),
      second: Int32Array.from(pointSecond),
      share: Float64Array.from(pointMix),
    },
    pointOldToNew: numbers(facts.pointCount),
    faceOffsets: Uint32Array.from(faceOffsets),
    faceVertices: Uint32Array.from(vertices),
    cornerSources: {
      first: Int32Array.from(cornerFirst),
      second: Int32Array.from(cornerSecond),
      share: Float64Array.from(cornerMix),
    },
    faceSources: Int32Array.from(faces),
    splitEdges: splitSides(facts, onSide),
  })
  const creases = rebuilt.creases
  const left = creases
    ? [...creases.edgeSharpness.keys()].filter((at) => creases.edgeSharpness[at]! < options.leastSharpness)
    : []
  const corners = creases?.cornerPoints.length ?? 0
  return {
    mesh: {
      ...rebuilt,
      cutFrom: null,
      normals: null,
      creases:
        creases && left.length + corners > 0
          ? {
              ...creases,
              edgePoints: Uint32Array.from(
                left.flatMap((at) => [creases.edgePoints[2 * at]!, creases.edgePoints[2 * at + 1]!]),
              ),
              edgeSharpness: Float64Array.from(left, (at) => creases.edgeSharpness[at]!),
            }
          : null,
    },
    edgesHeld,
  }
}

/** Sides that got points on them, as the pieces they are in now. */
function splitSides(
  facts: MeshFacts,
  onSide: ReadonlyMap<string, number>,
): { from: number; to: number; a: number; b: number }[] {
  const pieces: { from: number; to: number; a: number; b: number }[] = []
  const { edgeCount, edgePoints } = facts.edges()
  for (let edge = 0; edge < edgeCount; edge++) {
    const a = edgePoints[2 * edge]!
    const b = edgePoints[2 * edge + 1]!
    const chain = [a, onSide.get(`${a} ${b}`), onSide.get(`${b} ${a}`), b].filter(
      (point) => point !== undefined,
    )
    if (chain.length === 2) continue
    for (let at = 0; at + 1 < chain.length; at++) pieces.push({ from: chain[at]!, to: chain[at + 1]!, a, b })
  }
  return pieces
}
