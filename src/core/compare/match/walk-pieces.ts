/** Carries a pair of corners over whole pieces of two meshes, piece by piece; see `match-connectivity.ts`. */
import { createUnion, buildCornerFaces, edgesOf, type Edges } from '../../mesh/relations/adjacency.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { stepsOf, uvKey } from './evidence/uv-keys.ts'
import { nearCorners } from './near-corners.ts'
import { pairLoosePoints } from './pair-loose-points.ts'
import { refineLabels } from './refine-labels.ts'

const REFINEMENT_ROUNDS = 12
/** Walks that may succeed or fail for one piece before the best so far is taken, for all pieces, and for one in any case. */
const MOST_WALKS = 96
const MOST_IN_ALL = 400_000
const LEAST_WALKS = 8
/** Pieces beyond which nothing is said: each is held against others. */
const MOST_PIECES = 50_000
/** Polygons of a piece of which all ways are looked at before any is taken. */
const SMALL_PIECE = 64
/** Another answer that moves points less than so many times as far as the best one might be the right one. */
export const FAR_BEHIND = 4
/** Share of the UVs from which on they say which of several answers is the right one. */
export const UVS_TELL = 0.9
/** By how much more of the UVs one answer has to keep than another for them to say which is right. */
export const BY_SO_MUCH = 0.2

interface Side {
  readonly mesh: Mesh
  readonly cornerFaces: Uint32Array
  readonly edges: Edges
  readonly labels: Uint32Array
  /** Piece (by faces joined at points or edges) of each face, as a representative face. */
  readonly pieceOf: (face: number) => number
}

export interface Connected {
  /** One a master point: the returned point. */
  readonly pairs: Int32Array
  /** Another answer fits as well, of a symmetrical shape, and would move points hardly farther. */
  readonly guess: boolean
  /** The share of the corners looked at that have the UV that they had; null where one side has none. */
  readonly uvShare: number | null
}

function prepareSide(mesh: Mesh): Side {
  const edges = edgesOf(mesh)
  const cornerFaces = buildCornerFaces(mesh)
  const faces = createUnion(faceCountOf(mesh))
  for (let edge = 0; edge < edges.edgeCount; edge++)
    if (edges.edgeSides[edge] === 2)
      faces.join(cornerFaces[edges.edgeCorners[2 * edge]!]!, cornerFaces[edges.edgeCorners[2 * edge + 1]!]!)
  return {
    mesh,
    cornerFaces,
    edges,
    labels: refineLabels(mesh, REFINEMENT_ROUNDS, 'one'),
    pieceOf: faces.rootOf,
  }
}

/** @returns null where the meshes are not the same polygons, seen in one winding. */
export function matchByWalking(master: Mesh, returned: Mesh): Connected | null {
  const a = prepareSide(master)
  const b = prepareSide(returned)
  const sortedA = a.labels.slice().sort()
  const sortedB = b.labels.slice().sort()
  for (let index = 0; index < sortedA.length; index++) if (sortedA[index] !== sortedB[index]) return null

  const frequency = new Map<number, number>()
  for (const label of a.labels) frequency.set(label, (frequency.get(label) ?? 0) + 1)
  // each piece's seed: the corner whose point has the rarest label
  const seeds = new Map<number, number>()
  const sizes = new Map<number, number>()
  for (let face = 0; face < faceCountOf(master); face++) {
    const piece = a.pieceOf(face)
    sizes.set(piece, (sizes.get(piece) ?? 0) + 1)
  }
  for (let corner = 0; corner < cornerCountOf(master); corner++) {
    const piece = a.pieceOf(a.cornerFaces[corner]!)
    const best = seeds.get(piece)
    if (
      best === undefined ||
      frequency.get(a.labels[master.faceVertices[corner]!]!)! <
        frequency.get(a.labels[master.faceVertices[best]!]!)!
    )
      seeds.set(piece, corner)
  }
  if (seeds.size > MOST_PIECES) return null
  const cornersByLabel = new Map<number, number[]>()
  const wanted = new Set([...seeds.values()].map((corner) => a.labels[master.faceVertices[corner]!]!))
  for (let corner = 0; corner < cornerCountOf(returned); corner++) {
    const label = b.labels[returned.faceVertices[corner]!]!
    if (!wanted.has(label)) continue
    const list = cornersByLabel.get(label)
    if (list) list.push(corner)
    else cornersByLabel.set(label, [corner])
  }

  const forward = new Int32Array(pointCountOf(master)).fill(-1)
  const backward = new Int32Array(forward.length).fill(-1)
  const faceTaken = new Uint8Array(faceCountOf(returned))
  const faceDone = new Uint8Array(faceCountOf(master))
  const listOf = (seed: number): readonly number[] =>
    cornersByLabel.get(a.labels[master.faceVertices[seed]!]!) ?? []
  const finders = new Map<readonly number[], ReturnType<typeof nearCorners>>()
  /** Corners of the other side that may be a seed, those that lie nearest first. */
  const near = (seed: number, most: number, isFree: (corner: number) => boolean): readonly number[] => {
    const list = listOf(seed)
    let find = finders.get(list)
    if (!find) finders.set(list, (find = nearCorners(returned, list)))
    const at = 3 * master.faceVertices[seed]!
    return find(master.points.subarray(at, at + 3), most, isFree)
  }
  const walks = Math.max(LEAST_WALKS, Math.min(MOST_WALKS, Math.floor(MOST_IN_ALL / seeds.size)))
  // pieces with the fewest candidates first: what they fix narrows the rest; of many small ones alike those that lie nearest
  // to what they may be, so that they don't take what is another's
  const moves = new Map<number, number>()
  if (seeds.size > 1)
    for (const [piece, seed] of seeds) {
      if (sizes.get(piece)! > SMALL_PIECE || listOf(seed).length < 2) continue
      const deviations = near(seed, walks, () => true).map(
        (corner) => walkPiece(a, b, seed, corner, forward, backward, faceTaken)?.deviation ?? Infinity,
      )
      moves.set(seed, Math.min(...deviations))
    }
  const ordered = [...seeds.values()].sort(
    (x, y) => listOf(x).length - listOf(y).length || (moves.get(x) ?? 0) - (moves.get(y) ?? 0),
  )
  let guess = false
  let [agreed, looked] = [0, 0]
  for (const seed of ordered) {
    if (faceDone[a.cornerFaces[seed]!]) continue
    const candidates = near(seed, walks, (corner) => !faceTaken[b.cornerFaces[corner]!])
    let best: (Walk & { readonly uvs: UvShare | null }) | null = null
    const others: { readonly deviation: number; readonly share: number }[] = []
    for (const candidate of candidates) {
      const walk = walkPiece(a, b, seed, candidate, forward, backward, faceTaken)
      if (!walk) continue
      const uvs = uvShareOf(walk, master, returned)
      others.push({ deviation: walk.deviation, share: shareOf(uvs) })
      // UVs that nobody touched tell the answers of a symmetrical piece apart
      const [told, toldBest] = [doUvsTell(uvs), doUvsTell(best?.uvs ?? null)]
      if (!best || (told === toldBest ? walk.deviation < best.deviation : told)) best = { ...walk, uvs }
    }
    if (!best) return null
    const { deviation } = best
    const least = shareOf(best.uvs) - BY_SO_MUCH
    const rivals = others.filter(
      (other) => other.share > least && other.deviation < deviation * FAR_BEHIND ** 2,
    )
    // where nothing moved none of them lies so
    if (rivals.length > (deviation > 0 ? 1 : 0)) guess = true
    agreed += best.uvs?.agree ?? 0
    looked += best.uvs?.looked ?? 0
    for (let index = 0; index < best.points.length; index += 2) {
      forward[best.points[index]!] = best.points[index + 1]!
      backward[best.points[index + 1]!] = best.points[index]!
    }
    for (let index = 0; index < best.faces.length; index += 2) {
      faceDone[best.faces[index]!] = 1
      faceTaken[best.faces[index + 1]!] = 1
    }
  }
  return {
    pairs: pairLoosePoints(master, returned, forward, backward),
    guess,
    uvShare: looked > 0 ? agreed / looked : null,
  }
}

interface Walk {
  /** Pairs: master point, returned point. */
  readonly points: number[]
  /** Pairs: master face, returned face. */
  readonly faces: number[]
  /** Pairs: a corner of the master's face, the same of the returned one. */
  readonly corners: number[]
  /** Mean squared distance of paired points. */
  readonly deviation: number
}

/** Polygons of a walk whose UVs are looked at. */
const MOST_LOOKED_AT = 1000

/** Corners of which so many were looked at, and so many have the UV that they had. */
interface UvShare {
  readonly agree: number
  readonly looked: number
}

const shareOf = (uvs: UvShare | null): number => (uvs ? uvs.agree / uvs.looked : 0)

const doUvsTell = (uvs: UvShare | null): boolean => uvs !== null && uvs.agree >= uvs.looked * UVS_TELL

/** @returns null where no corner has a UV on both sides. */
function uvShareOf({ corners, faces }: Walk, master: Mesh, returned: Mesh): UvShare | null {
  const [own] = master.uvSets
  const [other] = returned.uvSets
  if (!own || !other) return null
  const step = 2 * Math.max(1, Math.floor(faces.length / 2 / MOST_LOOKED_AT))
  const steps = stepsOf(own, other)
  let [agree, looked] = [0, 0]
  for (let at = 0; at < faces.length; at += step) {
    const startA = master.faceOffsets[faces[at]!]!
    const startB = returned.faceOffsets[faces[at + 1]!]!
    const size = master.faceOffsets[faces[at]! + 1]! - startA
    for (let k = 0; k < size; k++) {
      const uv = own.indices[startA + ((corners[at]! - startA + k) % size)]!
      const uvThere = other.indices[startB + ((corners[at + 1]! - startB + k) % size)]!
      if (uv < 0 || uvThere < 0) continue
      looked++
      if (uvKey(own, uv, steps) === uvKey(other, uvThere, steps)) agree++
    }
  }
  return looked > 0 ? { agree, looked } : null
}

/** Carries one pair of corners over the whole piece; null as soon as something does not fit. */
function walkPiece(
  a: Side,
  b: Side,
  seedA: number,
  seedB: number,
  forward: Int32Array,
  backward: Int32Array,
  faceTaken: Uint8Array,
): Walk | null {
  const pointPairs = new Map<number, number>()
  const pointPairsBack = new Map<number, number>()
  const facePairs = new Map<number, number>()
  const usedFaces = new Set<number>()
  const points: number[] = []
  const faces: number[] = []
  const corners: number[] = []
  let squares = 0
  const pair = (from: number, to: number): boolean => {
    const known = forward[from]! >= 0 ? forward[from]! : (pointPairs.get(from) ?? -1)
    const knownBack = backward[to]! >= 0 ? backward[to]! : (pointPairsBack.get(to) ?? -1)
    if (known >= 0 || knownBack >= 0) return known === to && knownBack === from
    if (a.labels[from] !== b.labels[to]) return false
    pointPairs.set(from, to)
    pointPairsBack.set(to, from)
    points.push(from, to)
    for (let axis = 0; axis < 3; axis++) {
      const difference = a.mesh.points[3 * from + axis]! - b.mesh.points[3 * to + axis]!
      squares += difference * difference
    }
    return true
  }
  const queue = [seedA, seedB]
  while (queue.length) {
    const cornerB = queue.pop()!
    const cornerA = queue.pop()!
    const faceA = a.cornerFaces[cornerA]!
    const faceB = b.cornerFaces[cornerB]!
    const known = facePairs.get(faceA)
    if (known !== undefined) {
      if (known !== faceB) return null
      continue
    }
    if (faceTaken[faceB] || usedFaces.has(faceB)) return null
    const startA = a.mesh.faceOffsets[faceA]!
    const startB = b.mesh.faceOffsets[faceB]!
    const size = a.mesh.faceOffsets[faceA + 1]! - startA
    if (b.mesh.faceOffsets[faceB + 1]! - startB !== size) return null
    facePairs.set(faceA, faceB)
    usedFaces.add(faceB)
    faces.push(faceA, faceB)
    corners.push(cornerA, cornerB)
    for (let step = 0; step < size; step++) {
      const atA = startA + ((cornerA - startA + step) % size)
      const atB = startB + ((cornerB - startB + step) % size)
      if (!pair(a.mesh.faceVertices[atA]!, b.mesh.faceVertices[atB]!)) return null
      const edgeA = a.edges.cornerEdges[atA]!
      const edgeB = b.edges.cornerEdges[atB]!
      if (a.edges.edgeSides[edgeA] !== b.edges.edgeSides[edgeB]) return null
      if (a.edges.edgeSides[edgeA] !== 2) continue
      const otherA = a.edges.edgeCorners[2 * edgeA + (a.edges.edgeCorners[2 * edgeA] === atA ? 1 : 0)]!
      const otherB = b.edges.edgeCorners[2 * edgeB + (b.edges.edgeCorners[2 * edgeB] === atB ? 1 : 0)]!
      queue.push(otherA, otherB)
    }
  }
  return { points, faces, corners, deviation: squares / Math.max(1, points.length / 2) }
}
