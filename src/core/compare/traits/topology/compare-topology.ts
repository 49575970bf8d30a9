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
  const added: number[] = []
  for (let face = 0; face < taken.length; face++)
    if (!taken[face] && !(pieceToMaster && pieceToMaster[face]! >= 0)) added.push(face)
  if (cutFaceCount > 0 && missing.length + added.length + match.turnedFaceCount === 0) {
    const pieces: number[] = []
    const cut = new Set<number>()
    pieceToMaster!.forEach((face, piece) => {
      if (face < 0) return
      pieces.push(piece)
      cut.add(face)
    })
    return compared('changed', 'polygons-cut', {
      changedCount: cutFaceCount,
      totalCount: total,
      parameters: { changed: cutFaceCount, total, split: splitText(match) },
      places: { element: 'faces', master: Uint32Array.from(cut), returned: Uint32Array.from(pieces) },
    })
  }
  if (missing.length || added.length || match.turnedFaceCount > 0) {
    const turned: number[] = []
    const turnedReturned: number[] = []
    if (match.turnedFaceCount > 0)
      for (let face = 0; face < total; face++) {
        const other = match.faceToReturned[face]!
        if (other < 0) continue
        const start = master.faceOffsets[face]!
        const size = master.faceOffsets[face + 1]! - start
        const first = match.cornerToReturned[start]! - returned.faceOffsets[other]!
        const second = match.cornerToReturned[start + 1]! - returned.faceOffsets[other]!
        if ((first + 1) % size !== second) {
          turned.push(face)
          turnedReturned.push(other)
        }
      }
    const changed = missing.length + match.turnedFaceCount + cutFaceCount
    return compared('changed', 'topology-changed', {
      changedCount: changed,
      totalCount: total,
      parameters: {
        changed,
        total,
        added: added.length,
        ...edits(missing.length, match.turnedFaceCount, cutFaceCount),
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
      parameters: { count: split.length },
      places: { element: 'points', master: new Uint32Array(0), returned: split },
    })
  }
  const mapped = match.pointToReturned.filter((point) => point >= 0)
  const kept = new Set(mapped).size
  const welded = mapped.length - kept
  if (welded > 0 || pointCountOf(master) !== pointCountOf(returned)) {
    const lost = pointCountOf(master) - mapped.length
    const added = pointCountOf(returned) - kept
    return compared('changed', welded ? 'points-welded' : 'points-added', {
      changedCount: welded + lost + added,
      totalCount: total,
      parameters: { welded, lost, added },
    })
  }
  const drawn = otherLines(master, returned, match)
  if (drawn.lost + drawn.added > 0)
    return compared('changed', 'lines-changed', {
      changedCount: drawn.lost + drawn.added,
      totalCount: total,
      parameters: { ...drawn, both: Math.min(drawn.lost, drawn.added) },
    })
  if (match.kind === 'index') return compared('same', 'same', { totalCount: total })
  // the polygons are all there under other numbers: nothing an artist drew is lost
  return compared('within', 'renumbered', { totalCount: total })
}

/** Returned points that were split from another. */
const splitPointsOf = ({ joinedPoints }: Correspondence): Uint32Array =>
  joinedPoints
    ? Uint32Array.from(joinedPoints.keys()).filter((point) => joinedPoints[point] !== point)
    : new Uint32Array(0)

function splitText(match: Correspondence): string {
  const count = splitPointsOf(match).length
  return count ? `; ${count.toLocaleString('en-US')} points were split off others` : ''
}

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

/** Lines and single points of the master that nothing came back for, and those that came back new; either way round is one. */
function otherLines(
  master: Mesh,
  returned: Mesh,
  { pointToReturned }: Correspondence,
): { lost: number; added: number } {
  const open = new Map<string, number>()
  for (const key of drawnKeys(returned, (point) => point)) open.set(key, (open.get(key) ?? 0) + 1)
  let lost = 0
  for (const key of drawnKeys(master, (point) => pointToReturned[point] ?? -1)) {
    const left = open.get(key) ?? 0
    if (left > 0) open.set(key, left - 1)
    else lost++
  }
  return { lost, added: [...open.values()].reduce((sum, left) => sum + left, 0) }
}

/** Each line and single point as text: its points, and what UVs they have. */
function drawnKeys({ lines, pointElements, uvSets }: Mesh, pointOf: (point: number) => number): string[] {
  const keys = Array.from(pointElements ?? [], (point) => String(pointOf(point)))
  if (!lines) return keys
  const { values } = uvSets[0] ?? { values: [] }
  const cornerText = (at: number): string => {
    const uv = lines.uvs[at] ?? -1
    const told =
      uv < 0 ? '' : [values[2 * uv], values[2 * uv + 1]].map((value) => value?.toFixed(5)).join('/')
    return `${pointOf(lines.points[at]!)}:${told}`
  }
  for (let line = 0; line + 1 < lines.offsets.length; line++) {
    const corners = Array.from({ length: lines.offsets[line + 1]! - lines.offsets[line]! }, (_value, at) =>
      cornerText(lines.offsets[line]! + at),
    )
    const [there, back] = [corners.join(' '), [...corners].reverse().join(' ')]
    keys.push(there < back ? there : back)
  }
  return keys
}
