import { turnedFaces } from '../../match/turned-faces.ts'
import type { Correspondence } from '../../match/correspondence.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../../scene/mesh.ts'
import { compared, type TraitComparison } from '../trait.ts'

/** Polygons as drawn: which are gone, new, turned or only renumbered. Works without knowing the points' places. */
export function compareTopology(master: Mesh, returned: Mesh, match: Correspondence): TraitComparison {
  const total = faceCountOf(master)
  const missing: number[] = []
  const taken = new Uint8Array(faceCountOf(returned))
  for (let face = 0; face < total; face++) {
    const other = match.faceToReturned[face]!
    if (other < 0) missing.push(face)
    else taken[other] = 1
  }
  const { pieceToMaster, cutFaceCount } = match
  const drawn = otherLines(master, returned, match)
  const lines = {
    ...(drawn.lost > 0 && { linesGone: drawn.lost }),
    ...(drawn.added > 0 && { linesNew: drawn.added }),
  }
  const added: number[] = []
  for (let face = 0; face < taken.length; face++)
    if (!taken[face] && !(pieceToMaster && pieceToMaster[face]! >= 0)) added.push(face)
  if (cutFaceCount > 0 && missing.length + added.length + match.turnedFaceCount === 0) {
    const pieces: number[] = []
    const cut: number[] = []
    const isMet = new Uint8Array(total)
    for (let piece = 0; piece < pieceToMaster!.length; piece++) {
      const face = pieceToMaster![piece]!
      if (face < 0) continue
      pieces.push(piece)
      if (!isMet[face]) cut.push(face)
      isMet[face] = 1
    }
    return compared('changed', 'polygons-cut', {
      changedCount: cutFaceCount,
      totalCount: total,
      parameters: { changed: cutFaceCount, total, splitOff: splitPointsOf(match).length, ...lines },
      places: { element: 'faces', master: Uint32Array.from(cut), returned: Uint32Array.from(pieces) },
    })
  }
  if (missing.length || added.length || match.turnedFaceCount > 0) {
    const turned: number[] = []
    let turnedInPieces = 0
    if (match.turnedFaceCount > 0)
      turnedFaces(master, returned, match).forEach((is, face) => {
        if (!is) return
        turned.push(face)
        if (match.pieceToMaster && match.pieceToMaster[match.faceToReturned[face]!]! >= 0) turnedInPieces++
      })
    const turnedReturned = turned.map((face) => match.faceToReturned[face]!)
    const changed = missing.length + match.turnedFaceCount + cutFaceCount - turnedInPieces
    return compared('changed', 'topology-changed', {
      changedCount: changed,
      totalCount: total,
      parameters: {
        changed,
        total,
        added: added.length,
        ...edits(missing.length, match.turnedFaceCount, cutFaceCount),
        ...(match.turnedFaceCount === total && added.length === 0 ? { allTurned: 1 } : {}),
        ...lines,
      },
      places: {
        element: 'faces',
        master: Uint32Array.from([...missing, ...turned]),
        returned: Uint32Array.from([...added, ...turnedReturned]),
      },
    })
  }
  if (match.joinedPoints) {
    const split = splitPointsOf(match)
    return compared('changed', 'points-split', {
      changedCount: split.length,
      totalCount: total,
      parameters: { count: split.length, ...lines },
      places: { element: 'points', master: new Uint32Array(0), returned: split },
    })
  }
  const { mapped, kept } = countPairs(match.pointToReturned, pointCountOf(returned))
  const welded = mapped - kept
  const isCloud = total + faceCountOf(returned) === 0
  if (welded > 0 || pointCountOf(master) !== pointCountOf(returned)) {
    const lost = pointCountOf(master) - mapped
    const added = pointCountOf(returned) - kept
    return compared('changed', isCloud ? 'cloud-changed' : welded ? 'points-welded' : 'points-added', {
      changedCount: welded + lost + added,
      totalCount: total,
      parameters: isCloud
        ? {
            lost: lost + welded,
            added,
            total: pointCountOf(master),
            whole: Number(lost + welded === 0),
            ...lines,
          }
        : { welded, lost, added, ...lines },
    })
  }
  if (drawn.lost + drawn.added > 0)
    return compared('changed', isCloud ? 'drawing-changed' : 'lines-changed', {
      changedCount: drawn.lost + drawn.added,
      totalCount: total,
      parameters: { ...drawn, both: Math.min(drawn.lost, drawn.added) },
    })
  if (match.kind === 'index') return compared('same', 'same', { totalCount: total })
  // the polygons are all there under other numbers: nothing an artist drew is lost
  return compared('within', 'renumbered', { totalCount: total })
}

/** Points that have a counterpart, and how many those are. */
function countPairs(pointToReturned: Int32Array, returnedCount: number): { mapped: number; kept: number } {
  const isMet = new Uint8Array(returnedCount)
  let [mapped, kept] = [0, 0]
  for (let point = 0; point < pointToReturned.length; point++) {
    const other = pointToReturned[point]!
    if (other < 0) continue
    mapped++
    if (isMet[other] === 0) kept++
    isMet[other] = 1
  }
  return { mapped, kept }
}

/** Returned points that were split from another. */
const splitPointsOf = ({ joinedPoints }: Correspondence): Uint32Array =>
  joinedPoints
    ? Uint32Array.from(joinedPoints.keys()).filter((point) => joinedPoints[point] !== point)
    : new Uint32Array(0)

/** What became of polygons that are not as they were, as pieces of one sentence; at least one of them is there. */
function edits(missing: number, turned: number, cut: number): Record<'gone' | 'turned' | 'cut', string> {
  const told = (count: number, what: string, before: boolean): string =>
    count ? `${before ? ', ' : ''}${count.toLocaleString('en-US')} ${what}` : ''
  if (missing + turned + cut === 0) return { gone: 'all are there', turned: '', cut: '' }
  return {
    gone: told(missing, missing === 1 ? 'is gone' : 'are gone', false),
    turned: told(turned, turned === 1 ? 'is turned' : 'are turned', missing > 0),
    cut: told(cut, cut === 1 ? 'is in pieces' : 'are in pieces', missing + turned > 0),
  }
}

/**
 * Lines and single points of the master that nothing came back for, and those that came back new; either way round is one.
 * Of those over points without counterpart nobody knows which is which: they are told as far as their number is another.
 */
function otherLines(
  master: Mesh,
  returned: Mesh,
  { pointToReturned }: Correspondence,
): { lost: number; added: number } {
  const hasNone = ({ lines, pointElements }: Mesh): boolean => !lines && !pointElements
  if (hasNone(master) && hasNone(returned)) return { lost: 0, added: 0 }
  const isKnown = new Uint8Array(pointCountOf(returned))
  for (const point of pointToReturned) if (point >= 0) isKnown[point] = 1
  const own = drawnKeys(master, (point) => pointToReturned[point] ?? -1)
  const its = drawnKeys(returned, (point) => (isKnown[point] ? point : -1))
  const open = new Map<string, number>()
  for (const key of its.known) open.set(key, (open.get(key) ?? 0) + 1)
  let lost = 0
  for (const key of own.known) {
    const left = open.get(key) ?? 0
    if (left > 0) open.set(key, left - 1)
    else lost++
  }
  const more = its.unknown - own.unknown
  return {
    lost: lost + Math.max(0, -more),
    added: [...open.values()].reduce((sum, left) => sum + left, 0) + Math.max(0, more),
  }
}

/** Each line and single point as text: its points, and what UVs they have. @param pointOf -1 for a point without counterpart. */
function drawnKeys(
  { lines, pointElements, uvSets }: Mesh,
  pointOf: (point: number) => number,
): { readonly known: readonly string[]; readonly unknown: number } {
  const known: string[] = []
  let unknown = 0
  for (const point of pointElements ?? [])
    if (pointOf(point) < 0) unknown++
    else known.push(String(pointOf(point)))
  if (!lines) return { known, unknown }
  const { values } = uvSets[0] ?? { values: [] }
  const cornerText = (at: number): string => {
    const uv = lines.uvs[at] ?? -1
    const told =
      uv < 0 ? '' : [values[2 * uv], values[2 * uv + 1]].map((value) => value?.toFixed(5)).join('/')
    return `${pointOf(lines.points[at]!)}:${told}`
  }
  for (let line = 0; line + 1 < lines.offsets.length; line++) {
    const [start, end] = [lines.offsets[line]!, lines.offsets[line + 1]!]
    const places = Array.from({ length: end - start }, (_value, at) => start + at)
    if (places.some((at) => pointOf(lines.points[at]!) < 0)) {
      unknown++
      continue
    }
    const corners = places.map(cornerText)
    const [there, back] = [corners.join(' '), [...corners].reverse().join(' ')]
    known.push(there < back ? there : back)
  }
  return { known, unknown }
}
