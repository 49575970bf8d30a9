/** Smoothing: which edges are hard. */
import { comparableEdges, edgeEnds, edgeArray, followEdges, joined, invertMap } from '../edge-keys.ts'
import type { Correspondence } from '../../match/correspondence.ts'
import { buildCornerFaces, edgesOf, edgeKey, findHardEdges } from '../../../mesh/relations/adjacency.ts'
import { faceCountOf, type Mesh } from '../../../scene/mesh.ts'
import { compared, NOTHING, sameWhereMatched, type TraitComparison } from '../trait.ts'

/** Keys (see `edgeKey`) of the hard edges. */
export function hardEdgeKeys(mesh: Mesh): Set<number> {
  const keys = new Set<number>()
  if (!mesh.smoothing) return keys
  const edges = edgesOf(mesh)
  const hard = findHardEdges(mesh, edges, buildCornerFaces(mesh))
  for (let edge = 0; edge < edges.edgeCount; edge++)
    if (hard[edge]) keys.add(edgeKey(edges.edgePoints[2 * edge]!, edges.edgePoints[2 * edge + 1]!))
  return keys
}

function sameGroups(master: Mesh, returned: Mesh, match: Correspondence): boolean {
  const a = master.smoothing
  const b = returned.smoothing
  if (a?.kind !== 'groups' || b?.kind !== 'groups' || match.matchedFaceCount !== faceCountOf(master))
    return false
  for (let face = 0; face < a.faceGroups.length; face++)
    if (Math.max(0, a.faceGroups[face]!) !== Math.max(0, b.faceGroups[match.faceToReturned[face]!]!))
      return false
  return piecesAgree(
    match,
    (face, piece) => Math.max(0, a.faceGroups[face]!) === Math.max(0, b.faceGroups[piece]!),
  )
}

/** Every piece of a polygon that was cut is as the polygon is. */
const piecesAgree = (
  { pieceToMaster }: Correspondence,
  agree: (face: number, piece: number) => boolean,
): boolean => pieceToMaster === null || pieceToMaster.every((face, piece) => face < 0 || agree(face, piece))

/** With the same edges hard: flags an edge say no more than that, masks say which groups. */
function isSameForm(master: Mesh, returned: Mesh, match: Correspondence): boolean {
  const a = master.smoothing
  const b = returned.smoothing
  if (a?.kind === 'edges') return b?.kind === 'edges'
  return (
    a?.kind === 'masks' &&
    b?.kind === 'masks' &&
    match.matchedFaceCount === faceCountOf(master) &&
    a.faceMasks.every((mask, face) => mask === b.faceMasks[match.faceToReturned[face]!]) &&
    piecesAgree(match, (face, piece) => a.faceMasks[face] === b.faceMasks[piece])
  )
}

/** Which edges are hard, whatever form says so; the form itself is told where it alone differs. */
export function compareSmoothing(master: Mesh, returned: Mesh, match: Correspondence): TraitComparison {
  if (!master.smoothing) return returned.smoothing ? compared('gained', 'gained') : NOTHING
  // the same groups on the same polygons: which edges are hard need not be worked out to say so
  if (sameGroups(master, returned, match))
    return compared('same', 'same', { totalCount: faceCountOf(master) })
  const masterHard = hardEdgeKeys(master)
  const total = masterHard.size
  const masterEdges = edgeArray([...masterHard])
  if (!returned.smoothing)
    return compared('lost', total ? 'smoothing-lost' : 'lost', {
      changedCount: total,
      totalCount: total,
      parameters: { total },
      places: { element: 'edges', master: masterEdges, returned: followEdges(masterEdges, match) },
    })
  if (match.matchedFaceCount === 0) return compared('incomparable', 'not-matched', { totalCount: total })
  const returnedHard = hardEdgeKeys(returned)
  const back = invertMap(match.pointToReturned, returned.points.length / 3)
  const unfollowed: number[] = []
  const followed = new Set<number>()
  for (const key of masterHard) {
    const [from, to] = edgeEnds(key)
    const otherFrom = match.pointToReturned[from]!
    const otherTo = match.pointToReturned[to]!
    const other = otherFrom < 0 || otherTo < 0 ? NaN : edgeKey(otherFrom, otherTo)
    if (returnedHard.has(other)) followed.add(other)
    else unfollowed.push(key)
  }
  const unmet = [...returnedHard].filter((key) => !followed.has(key))
  const { own: softened, other: addedReturned } = comparableEdges(master, returned, match, back, {
    own: unfollowed,
    other: unmet,
  })
  /** Hard edges of either side that have none on the other to be held against. */
  const without = unfollowed.length + unmet.length - softened.length - addedReturned.length
  const added: number[] = []
  for (const key of addedReturned) {
    const [from, to] = edgeEnds(key)
    const masterFrom = back[from]!
    const masterTo = back[to]!
    if (masterFrom >= 0 && masterTo >= 0) added.push(edgeKey(masterFrom, masterTo))
  }
  if (softened.length === 0 && addedReturned.length === 0 && without > 0)
    return sameWhereMatched(without, followed.size + without)
  if (softened.length === 0 && addedReturned.length === 0)
    return isSameForm(master, returned, match)
      ? compared('same', 'same', { totalCount: total })
      : compared('within', 'smoothing-renumbered', { totalCount: total })
  return compared('changed', 'edges-softened', {
    changedCount: softened.length + addedReturned.length,
    totalCount: total,
    parameters: { changed: softened.length, total, added: addedReturned.length },
    places: {
      element: 'edges',
      master: edgeArray([...softened, ...added]),
      returned: joined(followEdges(edgeArray(softened), match), edgeArray(addedReturned)),
    },
  })
}
