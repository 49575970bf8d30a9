/** Smoothing and creases: what lies on edges. */
import type { Correspondence } from '../match/correspondence.ts'
import { buildCornerFaces, buildEdges, edgeKey, findHardEdges } from '../../mesh/relations/adjacency.ts'
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import { compared, NOTHING, type TraitComparison } from './trait.ts'

/** Keys (see `edgeKey`) of the hard edges. */
export function hardEdgeKeys(mesh: Mesh): Set<number> {
  const keys = new Set<number>()
  if (!mesh.smoothing) return keys
  const edges = buildEdges(mesh)
  const hard = findHardEdges(mesh, edges, buildCornerFaces(mesh))
  for (let edge = 0; edge < edges.edgeCount; edge++)
    if (hard[edge]) keys.add(edgeKey(edges.edgePoints[2 * edge]!, edges.edgePoints[2 * edge + 1]!))
  return keys
}

const edgeEnds = (key: number): [number, number] => {
  const from = Math.floor(key / 67108864)
  return [from, key - from * 67108864]
}

const edgeArray = (keys: readonly number[]): Uint32Array => Uint32Array.from(keys.flatMap(edgeEnds))

/** Edges and corners in the returned part's numbering, so that both sides show the same places. */
function followEdges(edges: Uint32Array, match: Correspondence): Uint32Array {
  const followed: number[] = []
  for (let at = 0; at < edges.length; at += 2) {
    const from = match.pointToReturned[edges[at]!]!
    const to = match.pointToReturned[edges[at + 1]!]!
    if (from >= 0 && to >= 0) followed.push(from, to)
  }
  return Uint32Array.from(followed)
}

const joined = (a: Uint32Array, b: Uint32Array): Uint32Array => Uint32Array.from([...a, ...b])

/** Master point of each returned point, -1 for none. */
function invertMap(map: Int32Array, length: number): Int32Array {
  const inverse = new Int32Array(length).fill(-1)
  for (let index = 0; index < map.length; index++) if (map[index]! >= 0) inverse[map[index]!] = index
  return inverse
}

function sameGroups(master: Mesh, returned: Mesh, match: Correspondence): boolean {
  const a = master.smoothing
  const b = returned.smoothing
  if (a?.kind !== 'groups' || b?.kind !== 'groups' || match.matchedFaceCount !== faceCountOf(master))
    return false
  for (let face = 0; face < a.faceGroups.length; face++)
    if (Math.max(0, a.faceGroups[face]!) !== Math.max(0, b.faceGroups[match.faceToReturned[face]!]!))
      return false
  return true
}

/** With the same edges hard: flags an edge say no more than that, masks say which groups. */
function isSameForm(master: Mesh, returned: Mesh, match: Correspondence): boolean {
  const a = master.smoothing
  const b = returned.smoothing
  if (a?.kind === 'edges') return b?.kind === 'edges'
  return (
    a?.kind === 'masks' &&
    b?.kind === 'masks' &&
    match.matchedFaceCount === faceCountOf(master) &&
    a.faceMasks.every((mask, face) => mask === b.faceMasks[match.faceToReturned[face]!])
  )
}

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
  const softened: number[] = []
  const followed = new Set<number>()
  for (const key of masterHard) {
    const [from, to] = edgeEnds(key)
    const otherFrom = match.pointToReturned[from]!
    const otherTo = match.pointToReturned[to]!
    const other = otherFrom < 0 || otherTo < 0 ? NaN : edgeKey(otherFrom, otherTo)
    if (returnedHard.has(other)) followed.add(other)
    else softened.push(key)
  }
  const added: number[] = []
  const addedReturned: number[] = []
  for (const key of returnedHard) {
    if (followed.has(key)) continue
    const [from, to] = edgeEnds(key)
    const masterFrom = back[from]!
    const masterTo = back[to]!
    addedReturned.push(key)
    if (masterFrom >= 0 && masterTo >= 0) added.push(edgeKey(masterFrom, masterTo))
  }
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

/** Sharpness by edge key; corners under `-1 - point`. */
export function sharpnessMap(mesh: Mesh): Map<number, number> {
  const map = new Map<number, number>()
  if (!mesh.creases) return map
  const { edgePoints, edgeSharpness, cornerPoints, cornerSharpness } = mesh.creases
  for (let edge = 0; edge < edgeSharpness.length; edge++)
    if (edgeSharpness[edge]! > 0)
      map.set(edgeKey(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!), edgeSharpness[edge]!)
  for (let corner = 0; corner < cornerSharpness.length; corner++)
    if (cornerSharpness[corner]! > 0) map.set(-1 - cornerPoints[corner]!, cornerSharpness[corner]!)
  return map
}

/** Sharpness is text or a 32-bit float in files. */
export const SHARPNESS_TOLERANCE = 1e-4

export function compareCreases(master: Mesh, returned: Mesh, match: Correspondence): TraitComparison {
  const from = sharpnessMap(master)
  const to = sharpnessMap(returned)
  const subdivisionSame =
    master.subdivision.scheme === returned.subdivision.scheme &&
    master.subdivision.levels === returned.subdivision.levels
  if (from.size === 0 && to.size === 0)
    return subdivisionSame
      ? NOTHING
      : compared('changed', 'creases-changed', { parameters: { changed: 0, total: 0, added: 0 } })
  if (from.size === 0) return compared('gained', 'gained', { totalCount: to.size })
  const keyEdges = (keys: readonly number[]): Uint32Array =>
    Uint32Array.from(keys.flatMap((key) => (key < 0 ? [-1 - key, -1 - key] : edgeEnds(key))))
  if (to.size === 0)
    return compared('lost', 'creases-lost', {
      changedCount: from.size,
      totalCount: from.size,
      parameters: { total: from.size },
      places: {
        element: 'edges',
        master: keyEdges([...from.keys()]),
        returned: followEdges(keyEdges([...from.keys()]), match),
      },
    })
  if (match.kind === 'none') return compared('incomparable', 'not-matched', { totalCount: from.size })
  const changed: number[] = []
  const seen = new Set<number>()
  let largest = 0
  for (const [key, sharpness] of from) {
    let other = NaN
    if (key < 0) {
      const point = match.pointToReturned[-1 - key]!
      other = point < 0 ? NaN : -1 - point
    } else {
      const [a, b] = edgeEnds(key).map((point) => match.pointToReturned[point]!)
      other = a! < 0 || b! < 0 ? NaN : edgeKey(a!, b!)
    }
    const otherSharpness = to.get(other)
    if (otherSharpness !== undefined) seen.add(other)
    const deviation = otherSharpness === undefined ? sharpness : Math.abs(otherSharpness - sharpness)
    if (deviation > largest) largest = deviation
    if (deviation > SHARPNESS_TOLERANCE) changed.push(key)
  }
  const added = [...to.keys()].filter((key) => !seen.has(key))
  if (changed.length || added.length || !subdivisionSame)
    return compared('changed', 'creases-changed', {
      changedCount: changed.length + added.length,
      totalCount: from.size,
      deviation: largest,
      parameters: { changed: changed.length, total: from.size, added: added.length },
      places: {
        element: 'edges',
        master: keyEdges(changed),
        returned: joined(followEdges(keyEdges(changed), match), keyEdges(added)),
      },
    })
  return largest > 0
    ? compared('within', 'within', {
        totalCount: from.size,
        deviation: largest,
        parameters: { deviation: largest },
      })
    : compared('same', 'same', { totalCount: from.size })
}
