/**
 * What is symmetrical lies where it lay also where it was turned or mirrored: materials, groups and smoothing that nobody
 * touched say which of the answers is the one.
 */
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { findWelds } from '../../mesh/welds/find-welds.ts'
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import type { Correspondence } from '../match/correspondence.ts'
import { matchFaces } from '../match/match-faces.ts'
import { matchPieces } from '../match/match-pieces.ts'
import { turnedFaces } from '../match/turned-faces.ts'
import { symmetriesOf } from '../match/symmetries.ts'
import { keepsUvs } from '../match/correspond.ts'
import { isInOrder } from '../match/settled-by-order.ts'
import type { SceneMatching } from '../match-scenes.ts'
import type { MatchedPart } from '../traits/trait.ts'
import { mayLieOtherwise } from './lies-otherwise.ts'
import { untouchedLabels, wrongIn, type LabelPair } from './untouched-labels.ts'

/** Polygons that have to be labelled otherwise before another answer is looked for, and their share of all. */
const [LEAST_WRONG, LEAST_SHARE] = [4, 0.04]
/** Polygons of a part up to which fewer say something all the same: of a crate one is many. */
const MOST_SMALL = 200
/** What another answer may leave of them. */
const LEFT = 0.25

/** Points this near, by the diagonal, lie on each other. */
const ON_IT = 1e-6

/** The same part, each element being what its image was said to be. */
function through({ master, returned, correspondence }: MatchedPart, image: Int32Array): Correspondence {
  const pointToReturned = image.map((point) => correspondence.pointToReturned[point]!)
  const matched = matchPieces(
    master,
    returned,
    pointToReturned,
    matchFaces(master, returned, pointToReturned),
  )
  return { ...correspondence, ...matched, pointToReturned, kind: correspondence.kind === 'partial' ? 'partial' : 'connectivity' } // prettier-ignore
}

/** A number as one of which sums say which numbers they are of (the last steps of MurmurHash3, which is in the public domain). */
function scattered(value: number): number {
  let mixed = Math.imul(value + 1, 0x85ebca6b)
  mixed = Math.imul(mixed ^ (mixed >>> 13), 0xc2b2ae35)
  return mixed ^ (mixed >>> 16)
}

interface Sides {
  readonly points: Int32Array
  readonly faces: Int32Array
}

/**
 * Sheets with both sides: the polygon that lies on each the other way round, -1 for none, and the point that lies on each
 * where these have their own; null where there are none.
 */
function otherSides(mesh: Mesh): Sides | null {
  if (!mesh.points.every(Number.isFinite)) return null
  const at = findWelds(mesh.points, diagonalOf(boundsOf(mesh.points)) * ON_IT)
  const points = Int32Array.from(at, (_kept, point) => point)
  const first = new Map<number, number>()
  at.forEach((kept, point) => {
    const other = first.get(kept)
    if (other === undefined) first.set(kept, point)
    // of more than two none is the other of the rest
    else if (points[other] === other) [points[other], points[point]] = [point, other]
  })
  const faces = new Int32Array(faceCountOf(mesh)).fill(-1)
  /** By a number that the places of its corners come to in any order. */
  const open = new Map<number, number>()
  let found = 0
  for (let face = 0; face + 1 < mesh.faceOffsets.length; face++) {
    let key = 0
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
      key = (key + scattered(at[mesh.faceVertices[corner]!]!)) | 0
    const other = open.get(key)
    if (other === undefined) open.set(key, face)
    else {
      open.delete(key)
      // on the very points of the other, which a corner may stand on twice
      const its = mesh.faceVertices.subarray(mesh.faceOffsets[other]!, mesh.faceOffsets[other + 1]!)
      const there = mesh.faceVertices.subarray(mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!)
      const sameCorners = its.length === there.length && there.every((point) => its.includes(points[point]!))
      if (!sameCorners || !its.every((point) => there.includes(points[point]!))) continue
      ;[faces[face], faces[other]] = [other, face]
      found += 2
    }
  }
  return found > faces.length / 2 ? { points, faces } : null
}

/** The same part, each polygon being what the other side of it was said to be. */
function exchanged(
  { master, returned, correspondence }: MatchedPart,
  { points, faces }: Sides,
): Correspondence {
  const { faceVertices, faceOffsets } = master
  /** The corner on the other side, of each. */
  const corners = Int32Array.from(faceVertices, (_point, corner) => corner)
  faces.forEach((other, face) => {
    if (other < 0) return
    const its = faceVertices.subarray(faceOffsets[other]!, faceOffsets[other + 1]!)
    for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++)
      corners[corner] = faceOffsets[other]! + its.indexOf(points[faceVertices[corner]!]!)
  })
  const faceOf = (face: number): number => (faces[face]! < 0 ? face : faces[face]!)
  const { pieceToMaster, pieceCorners } = correspondence
  const faceToReturned = faces.map((_other, face) => correspondence.faceToReturned[faceOf(face)]!)
  const cornerToReturned = corners.map((corner) => correspondence.cornerToReturned[corner]!)
  const pieces = pieceToMaster && pieceToMaster.map((face) => (face < 0 ? -1 : faceOf(face)))
  const ownCorners = pieceCorners && pieceCorners.map((corner) => (corner < 0 ? -1 : corners[corner]!))
  const moved = { faceToReturned, cornerToReturned, pieceToMaster: pieces, pieceCorners: ownCorners }
  return {
    ...correspondence,
    kind: correspondence.kind === 'partial' ? 'partial' : 'connectivity',
    pointToReturned: points.map((point) => correspondence.pointToReturned[point]!),
    ...moved,
    turnedFaceCount: turnedFaces(master, returned, moved).reduce((sum, turned) => sum + turned, 0),
  }
}

/**
 * Where every polygon is said to have been turned over and some to be called otherwise: the answer in which none is either,
 * a guess where the order of the elements says another, as of what was numbered anew after its first polygon was deleted.
 */
function uprightAnswer(part: MatchedPart, pairs: readonly LabelPair[]): Correspondence | null {
  const { master, returned, correspondence } = part
  if (correspondence.turnedFaceCount < correspondence.matchedFaceCount) return null
  const answers = symmetriesOf(master)
    .map(({ points }) => through(part, points))
    .filter(
      ({ matchedFaceCount, turnedFaceCount }) =>
        turnedFaceCount === 0 && matchedFaceCount >= correspondence.matchedFaceCount,
    )
    .filter((answer) => wrongIn(pairs, answer) === 0)
  const [best] = answers
  if (!best) return null
  const { guess: _before, ...answer } = best
  return answers.length === 1 && !isInOrder(master, returned, correspondence) ? answer : { ...answer, guess: true } // prettier-ignore
}

/** Parts that were looked at: what was settled stays. */
const looked = new WeakSet<MatchedPart>()

function settled(masterScene: Scene, returnedScene: Scene, part: MatchedPart): MatchedPart {
  if (looked.has(part)) return part
  const found = settledByLabels(masterScene, returnedScene, part)
  const result = mayLieOtherwise(masterScene, returnedScene, found)
    ? { ...found, correspondence: { ...found.correspondence, guess: true } }
    : found
  looked.add(result)
  return result
}

function settledByLabels(masterScene: Scene, returnedScene: Scene, part: MatchedPart): MatchedPart {
  const { master, returned, correspondence } = part
  const count = faceCountOf(master)
  if (correspondence.kind === 'index' || correspondence.matchedFaceCount === 0) return part
  const pairs = untouchedLabels(masterScene, returnedScene, part)
  if (pairs.length === 0) return part
  const wrong = wrongIn(pairs, correspondence)
  if (wrong > 0 && !keepsUvs(master, returned, correspondence)) {
    const upright = uprightAnswer(part, pairs)
    if (upright) return { ...part, correspondence: upright }
  }
  if (wrong === 0) return part
  // a few may have been given another label; where nobody need have been, that is as likely
  const areFew = wrong < Math.max(LEAST_WRONG, LEAST_SHARE * count)
  if (areFew && count > MOST_SMALL) return part
  if (keepsUvs(master, returned, correspondence)) return part
  const isTold = isInOrder(master, returned, correspondence)
  const sides = otherSides(master)
  const other = sides && exchanged(part, sides)
  const answers: { readonly answer: Correspondence; readonly left: number }[] = [
    ...(isTold ? [] : symmetriesOf(master).map(({ points }) => through(part, points))),
    // each side of a sheet may be in order for itself
    ...(other && (!isTold || isInOrder(master, returned, other)) ? [other] : []),
  ]
    .filter((answer) => answer.matchedFaceCount >= correspondence.matchedFaceCount)
    .map((answer) => ({ answer, left: wrongIn(pairs, answer) }))
    .sort((a, b) => a.left - b.left || a.answer.turnedFaceCount - b.answer.turnedFaceCount)
  const [best, next] = answers
  if (!best || best.left > wrong * (areFew ? 0 : LEFT)) return part
  const { guess: _before, ...answer } = best.answer
  // two that say as much for themselves are no proof of either
  const isAlone = !next || best.left < next.left || best.answer.turnedFaceCount < next.answer.turnedFaceCount
  return { ...part, correspondence: isAlone && !areFew ? answer : { ...answer, guess: true } }
}

/** Parts that are symmetrical laid so that what nobody touched is where it was; others stay. */
export const settleByLabels = (
  master: Scene,
  returned: Scene,
  { matched, unmatched }: SceneMatching,
): SceneMatching => ({ matched: matched.map((part) => settled(master, returned, part)), unmatched })
