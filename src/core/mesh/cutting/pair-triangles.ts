/** Two triangles as one quad, where nothing runs along the edge between them. */
import { cornerFacing } from '../faults/find-bent-polygons.ts'
import { quadAspect } from '../relations/polygon-shapes.ts'
import { edgeKey } from '../relations/adjacency.ts'
import { nextCorner, previousCorner, type MeshFacts } from '../relations/mesh-facts.ts'
import { faceCorners, replaceFaces, type NewFace } from '../rebuilding/edit-faces.ts'
import type { Mesh } from '../../scene/mesh.ts'

interface Pair {
  readonly a: number
  readonly b: number
  /** The four corners in order. */
  readonly corners: readonly number[]
  /** 0 for a square, more for worse. */
  readonly badness: number
}

/** How far the four angles are from right ones, on the mean, in radians; null where the quad would be concave or flat. */
function quadBadness(facts: MeshFacts, corners: readonly number[]): number | null {
  const points = facts.points()
  const { mesh } = facts
  const at = corners.map((corner) => 3 * mesh.faceVertices[corner]!)
  const normal = [0, 0, 0]
  const turns: number[][] = []
  let off = 0
  for (let k = 0; k < 4; k++) {
    const [p, q, r] = [at[(k + 3) % 4]!, at[k]!, at[(k + 1) % 4]!]
    const u = [0, 1, 2].map((axis) => points[p + axis]! - points[q + axis]!)
    const v = [0, 1, 2].map((axis) => points[r + axis]! - points[q + axis]!)
    const turn = [v[1]! * u[2]! - v[2]! * u[1]!, v[2]! * u[0]! - v[0]! * u[2]!, v[0]! * u[1]! - v[1]! * u[0]!]
    turns.push(turn)
    for (let axis = 0; axis < 3; axis++) normal[axis]! += turn[axis]!
    const dot = u[0]! * v[0]! + u[1]! * v[1]! + u[2]! * v[2]!
    const angle = Math.atan2(Math.hypot(...turn), dot)
    off += Math.abs(angle - Math.PI / 2) / 4
  }
  const convex = turns.every(
    (turn) =>
      turn[0]! * normal[0]! + turn[1]! * normal[1]! + turn[2]! * normal[2]! >
      1e-9 * Math.hypot(...normal) ** 2,
  )
  return convex ? off : null
}

export interface PairTrianglesOptions {
  /** faceCount flags of the triangles that may be joined; null: all. */
  readonly chosen: Uint8Array | null
  /** edgeCount flags each: edges over which nothing is joined, such as the seams of a UV set. */
  readonly borders: readonly Uint8Array[]
  /** Radians by which the two triangles may bend. */
  readonly mostBend: number
  /** Radians by which the quad's angles may be off right ones, on the mean. */
  readonly mostSkew: number
}

/** Longest side by width of a quad; two long triangles make no better one. */
const MOST_ASPECT = 16

/** Degrees that corners may be off square where nothing else is said. */
export const DEFAULT_SKEW = 45

/** Why a triangle was not joined, from what came nearest to a quad to what was farthest from one. */
export const LEFT_REASONS = ['taken', 'shape', 'bend', 'marked', 'bordered', 'alone'] as const
export type LeftReason = (typeof LEFT_REASONS)[number]

export interface PairedTriangles {
  readonly mesh: Mesh
  /** The triangles that were joined, in rising order. */
  readonly joined: number[]
  /** How many of the others stay for which reason. */
  readonly left: ReadonlyMap<LeftReason, number>
}

/**
 * Joins neighbouring triangles to quads, the squarest first; never over a hard or creased edge, or where
 * material or groups change, and never to a concave quad.
 *
 * @returns `mesh` is the one that was given where no pair was found.
 */
export function pairTriangles(
  facts: MeshFacts,
  { chosen, borders: seams, mostBend, mostSkew }: PairTrianglesOptions,
): PairedTriangles {
  const { mesh } = facts
  const edges = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const normals = facts.faceNormals()
  const areas = facts.faceAreas()
  const points = facts.points()
  const hard = facts.hardEdges()
  const creased = new Set<number>()
  for (let at = 0; at < (mesh.creases?.edgeSharpness.length ?? 0); at++)
    creased.add(edgeKey(mesh.creases!.edgePoints[2 * at]!, mesh.creases!.edgePoints[2 * at + 1]!))
  const least = Math.cos(mostBend)
  const isTriangle = (face: number): boolean =>
    mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]! === 3 && (!chosen || chosen[face] === 1)
  // between polygons in no group every edge is hard, which says nothing about this one
  const { smoothing } = mesh
  const saysHard = (a: number, b: number): boolean =>
    smoothing?.kind !== 'groups' || smoothing.faceGroups[a]! > 0 || smoothing.faceGroups[b]! > 0
  const pairs: Pair[] = []
  /** The reason of each face, by its place in the list. */
  const nearest = new Uint8Array(facts.faceCount).fill(LEFT_REASONS.indexOf('alone'))
  for (let edge = 0; edge < edges.edgeCount; edge++) {
    if (edges.edgeSides[edge] !== 2) continue
    const first = edges.edgeCorners[2 * edge]!
    const second = edges.edgeCorners[2 * edge + 1]!
    const a = cornerFaces[first]!
    const b = cornerFaces[second]!
    if (a === b || !isTriangle(a) || !isTriangle(b)) continue
    const stays = (reason: LeftReason): void => {
      const rank = LEFT_REASONS.indexOf(reason)
      for (const face of [a, b]) if (rank < nearest[face]!) nearest[face] = rank
    }
    if (mesh.faceVertices[first] === mesh.faceVertices[second]) continue
    if (
      (mesh.faceMaterials && mesh.faceMaterials[a] !== mesh.faceMaterials[b]) ||
      (mesh.groups && mesh.groups.faceSets[a] !== mesh.groups.faceSets[b])
    ) {
      stays('bordered')
      continue
    }
    if (
      (hard[edge] && saysHard(a, b)) ||
      seams.some((flags) => flags[edge]) ||
      creased.has(edgeKey(edges.edgePoints[2 * edge]!, edges.edgePoints[2 * edge + 1]!))
    ) {
      stays('marked')
      continue
    }
    const dot =
      normals[3 * a]! * normals[3 * b]! +
      normals[3 * a + 1]! * normals[3 * b + 1]! +
      normals[3 * a + 2]! * normals[3 * b + 2]!
    if (!(dot >= least * 4 * areas[a]! * areas[b]!)) {
      stays('bend')
      continue
    }
    const corners = [
      first,
      previousCorner(mesh, b, second),
      nextCorner(mesh, a, first),
      previousCorner(mesh, a, first),
    ]
    // the quad is held against what the check of bent polygons asks of it
    const { hollow, least: facing } = cornerFacing(
      points,
      corners.map((corner) => 3 * mesh.faceVertices[corner]!),
      [0, 1, 2].map((axis) => normals[3 * a + axis]! + normals[3 * b + axis]!) as [number, number, number],
    )
    if (!hollow && facing < least) {
      stays('bend')
      continue
    }
    const places = corners.flatMap((corner) => {
      const at = 3 * mesh.faceVertices[corner]!
      return [points[at]!, points[at + 1]!, points[at + 2]!]
    })
    const badness = hollow || quadAspect(places) > MOST_ASPECT ? null : quadBadness(facts, corners)
    const fits = badness !== null && badness <= mostSkew
    stays(fits ? 'taken' : 'shape')
    if (fits) pairs.push({ a, b, corners, badness })
  }
  pairs.sort((x, y) => x.badness - y.badness || x.a - y.a || x.b - y.b)
  const partner = new Map<number, Pair>()
  for (const pair of pairs) {
    if (partner.has(pair.a) || partner.has(pair.b)) continue
    partner.set(pair.a, pair)
    partner.set(pair.b, pair)
  }
  const left = new Map<LeftReason, number>()
  for (let face = 0; face < facts.faceCount; face++) {
    if (!isTriangle(face) || partner.has(face)) continue
    const reason = LEFT_REASONS[nearest[face]!]!
    left.set(reason, (left.get(reason) ?? 0) + 1)
  }
  if (partner.size === 0) return { mesh, joined: [], left }
  const faces: NewFace[] = []
  for (let face = 0; face < facts.faceCount; face++) {
    const pair = partner.get(face)
    if (pair) {
      if (face === Math.min(pair.a, pair.b)) faces.push({ corners: pair.corners, from: face })
      continue
    }
    faces.push({ corners: faceCorners(mesh, face), from: face })
  }
  return {
    mesh: { ...replaceFaces(mesh, faces), cutFrom: null },
    joined: [...partner.keys()].sort((x, y) => x - y),
    left,
  }
}
