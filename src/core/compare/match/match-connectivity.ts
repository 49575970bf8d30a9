/**
 * Finds the renumbering under which two meshes are the same polygons, though their points moved.
 *
 * On a manifold piece one pair of corners decides all others: walking round faces and across edges carries it
 * to the whole piece. What remains is to find that pair. Points are given labels by repeated refinement
 * (Weisfeiler & Leman 1968: a label gathers its neighbours' labels), the rarest label gives the fewest
 * candidates, and of the walks that succeed the one that moves points least is taken, so that a symmetrical
 * piece (a lathe) comes back unturned.
 */
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { computeFaceNormals } from '../../mesh/relations/face-normals.ts'
import { turnFaces } from '../../mesh/orientation/turn-faces.ts'
import { buildCornerFaces, edgesOf, createUnion, type Edges } from '../../mesh/relations/adjacency.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { uvKey } from './evidence/by-uvs.ts'
import { pairLoosePoints } from './pair-loose-points.ts'
import { pointsApart } from './points-apart.ts'
import { refineLabels } from './refine-labels.ts'

const REFINEMENT_ROUNDS = 12
/** Mean agreement of the normals of polygons from which on they look the same way. */
const SAME_WAY = 0.5
/** Walks that may succeed or fail for one piece before the best so far is taken. */
const MOST_WALKS = 96
/** Another answer that moves points less than so many times as far as the best one might be the right one. */
const FAR_BEHIND = 4

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

/**
 * @param numbersCount the one came of the other, so that numbers which fit in either winding say which is which; of two
 * parts made alike they say nothing.
 * @returns null where the meshes are not the same polygons.
 */
export function matchConnectivity(master: Mesh, returned: Mesh, numbersCount = true): Connected | null {
  if (
    pointCountOf(master) !== pointCountOf(returned) ||
    faceCountOf(master) !== faceCountOf(returned) ||
    cornerCountOf(master) !== cornerCountOf(returned)
  )
    return null
  const inOrder = matchCornerOrder(master, returned)
  if (inOrder) return { pairs: inOrder, guess: false, uvShare: null }
  if (numbersCount && hasSameNumbers(master, returned)) return { pairs: Int32Array.from({ length: pointCountOf(master) }, (_point, at) => at), guess: false, uvShare: null } // prettier-ignore
  const straight = matchByWalking(master, returned)
  const isContradicted = straight?.uvShare != null && straight.uvShare < UVS_TELL
  if (straight && !isContradicted && facesAgree(master, returned, straight.pairs)) return straight
  // a symmetrical piece that was turned inside out is its own mirror image to a walk the same way round
  const turned = matchByWalking(master, turnFaces(returned))
  if (!straight || !turned) return straight ?? turned
  if (tellsMore(turned, straight)) return turned
  if (tellsMore(straight, turned) || (isContradicted && facesAgree(master, returned, straight.pairs)))
    return straight
  const [move, turnedMove] = [straight, turned].map(({ pairs }) => moveOf(master, returned, pairs)) as [
    number,
    number,
  ]
  const [best, least, most] = turnedMove < move ? [turned, turnedMove, move] : [straight, move, turnedMove]
  return { ...best, guess: best.guess || most < least * FAR_BEHIND }
}

/** Share of the UVs from which on they say which of several answers is the right one, and by how much more of them. */
const UVS_TELL = 0.9
const BY_SO_MUCH = 0.2

const tellsMore = (
  { uvShare: one }: { uvShare: number | null },
  { uvShare: other }: { uvShare: number | null },
): boolean => one !== null && other !== null && one >= UVS_TELL && one >= other + BY_SO_MUCH

/** Polygons over paired points look the same way as at home, by the mean of their normals' cosines. */
function facesAgree(master: Mesh, returned: Mesh, pairs: Int32Array): boolean {
  const points = new Float64Array(master.points.length)
  pairs.forEach((other, point) => {
    if (other >= 0) points.set(returned.points.subarray(3 * other, 3 * other + 3), 3 * point)
  })
  const before = computeFaceNormals(master)
  const after = computeFaceNormals({ ...master, points })
  let sum = 0
  let count = 0
  for (let face = 0; face < faceCountOf(master); face++) {
    const at = 3 * face
    const lengths =
      Math.hypot(before[at]!, before[at + 1]!, before[at + 2]!) *
      Math.hypot(after[at]!, after[at + 1]!, after[at + 2]!)
    if (!(lengths > 0)) continue
    sum +=
      (before[at]! * after[at]! + before[at + 1]! * after[at + 1]! + before[at + 2]! * after[at + 2]!) /
      lengths
    count++
  }
  return count === 0 || sum / count > SAME_WAY
}

/** Mean move of paired points, as a share of the part's diagonal. */
function moveOf(master: Mesh, returned: Mesh, pairs: Int32Array): number {
  let sum = 0
  pairs.forEach((other, point) => {
    if (other < 0) return
    sum += pointsApart(master, point, returned, other)
  })
  return sum / Math.max(1, pairs.length) / (diagonalOf(boundsOf(master.points)) || 1)
}

/** The points were renumbered but the polygons stand in the same order. */
function matchCornerOrder(master: Mesh, returned: Mesh): Int32Array | null {
  for (let face = 0; face < master.faceOffsets.length; face++)
    if (master.faceOffsets[face] !== returned.faceOffsets[face]) return null
  const forward = new Int32Array(pointCountOf(master)).fill(-1)
  const backward = new Int32Array(forward.length).fill(-1)
  for (let corner = 0; corner < master.faceVertices.length; corner++) {
    const from = master.faceVertices[corner]!
    const to = returned.faceVertices[corner]!
    if (forward[from] === -1 && backward[to] === -1) {
      forward[from] = to
      backward[to] = from
    } else if (forward[from] !== to || backward[to] !== from) return null
  }
  return pairLoosePoints(master, returned, forward, backward)
}

/**
 * Every polygon stands between points of the same numbers as one at home, in either winding: nobody renumbered them, and
 * whatever else was done, a mirror among it, the numbers say which is which.
 */
function hasSameNumbers(master: Mesh, returned: Mesh): boolean {
  /** A polygon's points from its smallest on, towards the smaller of that one's two neighbours. */
  const keyOf = ({ faceOffsets, faceVertices }: Mesh, face: number): string => {
    const corners = faceVertices.subarray(faceOffsets[face]!, faceOffsets[face + 1]!)
    const size = corners.length
    let first = 0
    for (let step = 1; step < size; step++) if (corners[step]! < corners[first]!) first = step
    const on = corners[(first + 1) % size]! <= corners[(first + size - 1) % size]! ? 1 : size - 1
    let key = ''
    for (let step = 0; step < size; step++) key += `${corners[(first + on * step) % size]!} `
    return key
  }
  const own = new Map<string, number>()
  for (let face = 0; face < faceCountOf(master); face++) {
    const key = keyOf(master, face)
    own.set(key, (own.get(key) ?? 0) + 1)
  }
  for (let face = 0; face < faceCountOf(returned); face++) {
    const key = keyOf(returned, face)
    const left = own.get(key) ?? 0
    // most renumbered meshes are told apart by their first polygon
    if (left === 0) return false
    own.set(key, left - 1)
  }
  return true
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

function matchByWalking(master: Mesh, returned: Mesh): Connected | null {
  const a = prepareSide(master)
  const b = prepareSide(returned)
  const sortedA = a.labels.slice().sort()
  const sortedB = b.labels.slice().sort()
  for (let index = 0; index < sortedA.length; index++) if (sortedA[index] !== sortedB[index]) return null

  const frequency = new Map<number, number>()
  for (const label of a.labels) frequency.set(label, (frequency.get(label) ?? 0) + 1)
  // each piece's seed: the corner whose point has the rarest label
  const seeds = new Map<number, number>()
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
  // pieces with the fewest candidates first: what they fix narrows the rest
  const ordered = [...seeds.values()].sort(
    (x, y) =>
      (cornersByLabel.get(a.labels[master.faceVertices[x]!]!)?.length ?? 0) -
      (cornersByLabel.get(a.labels[master.faceVertices[y]!]!)?.length ?? 0),
  )
  let guess = false
  let [agreed, looked] = [0, 0]
  for (const seed of ordered) {
    if (faceDone[a.cornerFaces[seed]!]) continue
    const candidates = (cornersByLabel.get(a.labels[master.faceVertices[seed]!]!) ?? [])
      .filter((corner) => !faceTaken[b.cornerFaces[corner]!])
      .map((corner) => ({ corner, distance: pointDistance(master, seed, returned, corner) }))
      .sort((x, y) => x.distance - y.distance)
      .slice(0, MOST_WALKS)
    let best: (Walk & { readonly uvs: UvShare | null }) | null = null
    let next = Infinity
    for (const candidate of candidates) {
      const walk = walkPiece(a, b, seed, candidate.corner, forward, backward, faceTaken)
      if (!walk) continue
      const uvs = uvShareOf(walk, master, returned)
      // UVs that nobody touched tell the answers of a symmetrical piece apart
      const [told, toldBest] = [doUvsTell(uvs), doUvsTell(best?.uvs ?? null)]
      if (!best || (told === toldBest ? walk.deviation < best.deviation : told)) {
        next = best && told === toldBest ? best.deviation : Infinity
        best = { ...walk, uvs }
      } else if (told === toldBest) next = Math.min(next, walk.deviation)
    }
    if (!best) return null
    if (next < best.deviation * FAR_BEHIND ** 2) guess = true
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

const pointDistance = (a: Mesh, cornerA: number, b: Mesh, cornerB: number): number =>
  pointsApart(a, a.faceVertices[cornerA]!, b, b.faceVertices[cornerB]!)

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

const doUvsTell = (uvs: UvShare | null): boolean => uvs !== null && uvs.agree >= uvs.looked * UVS_TELL

/** @returns null where no corner has a UV on both sides. */
function uvShareOf({ corners, faces }: Walk, master: Mesh, returned: Mesh): UvShare | null {
  const [own] = master.uvSets
  const [other] = returned.uvSets
  if (!own || !other) return null
  const step = 2 * Math.max(1, Math.floor(faces.length / 2 / MOST_LOOKED_AT))
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
      if (uvKey(own, uv) === uvKey(other, uvThere)) agree++
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
