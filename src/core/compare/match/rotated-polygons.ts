/**
 * Polygons that share no points and stand each behind the other in a file: with whichever corner a tool begins such a
 * polygon, and whichever way round, the file has the same numbers, so that numbers alone don't say which corner is which.
 */
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Correspondence } from './correspondence.ts'
import { stepsOf, uvKey } from './evidence/uv-keys.ts'
import { matchFaces } from './match-faces.ts'
import { pointsApart } from './points-apart.ts'

/** Corners of a polygon beyond which none is asked. */
const MOST_CORNERS = 64
/** Neighbours along a polygon's border to which distances are looked at. */
const NEIGHBOURS = 3
/** Share of what a polygon's shape is off by its numbers that is left where its UVs say how it was rotated, and where it alone does. */
const [CLOSER, MUCH_CLOSER] = [0.5, 0.03]
/** Share of the size from which on a polygon is off its shape, and up to which it has it. */
const [OTHER_SHAPE, SAME_SHAPE] = [1e-2, 1e-3]
/** Of more polygons none is asked. */
const MOST_POLYGONS = 20_000

/** Every point is one corner of one polygon. */
function sharesNoPoints({ faceVertices }: Mesh, pointCount: number): boolean {
  const seen = new Uint8Array(pointCount)
  for (const point of faceVertices) {
    if (seen[point]) return false
    seen[point] = 1
  }
  return true
}

/** The same numbers of corners, none too many to be asked, and every polygon over the points of the same numbers, in any order. */
function hasPolygonsOf(master: Mesh, returned: Mesh): boolean {
  if (cornerCountOf(returned) !== cornerCountOf(master)) return false
  for (let face = 0; face < faceCountOf(master); face++) {
    const [start, end] = [master.faceOffsets[face]!, master.faceOffsets[face + 1]!]
    if (returned.faceOffsets[face] !== start || returned.faceOffsets[face + 1] !== end) return false
    if (end - start > MOST_CORNERS) return false
    const own = master.faceVertices.subarray(start, end)
    for (let corner = start; corner < end; corner++)
      if (!own.includes(returned.faceVertices[corner]!)) return false
  }
  return true
}

/** One way to lay a polygon on the one that came back: its corners' partners one after the other. */
type Laid = readonly number[]

/**
 * @param reach within which points count as one.
 * @returns which corner is which by the polygons' places, UVs and shapes, where these contradict the numbers; of a single
 * one that is symmetrical and begins at another corner what the numbers say, as a guess; else null.
 */
export function rotatedPolygons(master: Mesh, returned: Mesh, reach: number): Correspondence | null {
  const pointCount = pointCountOf(master)
  const faceCount = faceCountOf(master)
  // told by counts before anything is looked at
  if (cornerCountOf(master) !== pointCount || pointCountOf(returned) !== pointCount) return null
  if (faceCount > MOST_POLYGONS || !hasPolygonsOf(master, returned)) return null
  if (!sharesNoPoints(master, pointCount) || !sharesNoPoints(returned, pointCount)) return null
  const factor = sizeOf(returned) / sizeOf(master)
  const pointToReturned = new Int32Array(pointCount)
  let [rotated, guess] = [0, false]
  for (let face = 0; face < faceCount; face++) {
    const polygon = polygonOf(master, returned, face, { factor, reach })
    const laid = laidOf(polygon)
    if (laid) rotated++
    else if (faceCount === 1) guess = mayBeRotated(polygon)
    for (let corner = master.faceOffsets[face]!; corner < master.faceOffsets[face + 1]!; corner++) {
      const point = master.faceVertices[corner]!
      pointToReturned[point] = laid
        ? returned.faceVertices[laid[corner - master.faceOffsets[face]!]!]!
        : point
    }
  }
  if (rotated === 0 && !guess) return null
  const faces = matchFaces(master, returned, pointToReturned)
  if (faces.matchedFaceCount < faceCount) return null
  const uncut = { pieceToMaster: null, pieceCorners: null, cutFaceCount: 0, joinedPoints: null }
  return { kind: 'connectivity', pointToReturned, ...faces, ...uncut, ...(guess ? { guess } : {}) }
}

/** A polygon, and what speaks for a way to lay it on the one that came back. */
interface Polygon {
  readonly asNumbered: Laid
  /** It begins at the corner at which it began, and goes round the same way. */
  readonly isPlain: boolean
  readonly others: () => readonly Laid[]
  readonly liesThere: (laid: Laid) => boolean
  readonly hasUvs: (laid: Laid) => boolean
  /** By how much of the size the distances between corners differ at most. */
  readonly offShape: (laid: Laid) => number
}

function polygonOf(
  master: Mesh,
  returned: Mesh,
  face: number,
  { factor, reach }: { readonly factor: number; readonly reach: number },
): Polygon {
  const [start, end] = [master.faceOffsets[face]!, master.faceOffsets[face + 1]!]
  const count = end - start
  const [own, other] = [master.uvSets[0], returned.uvSets[0]]
  const steps = own && other ? stepsOf(own, other) : 1
  const corners = Array.from({ length: count }, (_corner, at) => start + at)
  const there = returned.faceVertices.subarray(start, end)
  const asNumbered = corners.map((corner) => start + there.indexOf(master.faceVertices[corner]!))
  const pointOf = (laid: Laid, step: number): number => returned.faceVertices[laid[step % count]!]!
  const ownPoint = (step: number): number => master.faceVertices[corners[step % count]!]!
  return {
    asNumbered,
    isPlain: asNumbered.every((corner, at) => corner === corners[at]),
    others: () =>
      ([1, -1] as const)
        .flatMap((way) =>
          corners.map((_from, from) =>
            corners.map((_own, at) => corners[(from + way * at + count) % count]!),
          ),
        )
        .filter((laid) => laid.some((corner, at) => corner !== asNumbered[at])),
    liesThere: (laid) =>
      laid.every((_corner, at) => pointsApart(master, ownPoint(at), returned, pointOf(laid, at)) <= reach),
    hasUvs: (laid) =>
      own !== undefined &&
      other !== undefined &&
      laid.every((corner, at) => {
        const [uv, uvThere] = [own.indices[corners[at]!]!, other.indices[corner]!]
        return uv >= 0 && uvThere >= 0 && uvKey(own, uv, steps) === uvKey(other, uvThere, steps)
      }),
    offShape(laid) {
      let [most, size] = [0, 0]
      for (let step = 0; step < count; step++)
        for (let next = 1; next <= Math.min(NEIGHBOURS, count >> 1); next++) {
          const before = factor * pointsApart(master, ownPoint(step), master, ownPoint(step + next))
          const after = pointsApart(returned, pointOf(laid, step), returned, pointOf(laid, step + next))
          most = Math.max(most, Math.abs(after - before))
          size = Math.max(size, before)
        }
      return most / Math.max(size, Number.MIN_VALUE)
    },
  }
}

/** @returns null where it is as the numbers say, or nothing says otherwise. */
function laidOf({ asNumbered, others, liesThere, hasUvs, offShape }: Polygon): Laid | null {
  if (liesThere(asNumbered) || hasUvs(asNumbered)) return null
  const only = (laid: readonly Laid[]): Laid | null => (laid.length === 1 ? laid[0]! : null)
  const all = others()
  const there = all.filter(liesThere)
  if (there.length > 0) return only(there)
  // where it has its shape by its numbers, its layout may have been turned as well as its corners
  const off = offShape(asNumbered)
  if (!(off > OTHER_SHAPE)) return null
  const fitting = all.filter(hasUvs)
  if (fitting.length > 0) return only(fitting.filter((laid) => offShape(laid) < off * CLOSER))
  const [best, next] = all.map((laid) => ({ laid, off: offShape(laid) })).sort((a, b) => a.off - b.off)
  if (!best || !next || best.off >= off * MUCH_CLOSER || best.off >= next.off * MUCH_CLOSER) return null
  // a triangle that was stretched may come near another's shape by chance
  return asNumbered.length > 3 || best.off <= SAME_SHAPE ? best.laid : null
}

/** Whether it was begun elsewhere, or wound otherwise, and another way to lay it has its shape as well. */
function mayBeRotated({ asNumbered, isPlain, others, liesThere, hasUvs, offShape }: Polygon): boolean {
  if (isPlain || liesThere(asNumbered) || hasUvs(asNumbered)) return false
  const off = offShape(asNumbered)
  return others().some((laid) => offShape(laid) <= Math.max(off, SAME_SHAPE))
}

/** The length of all sides. */
function sizeOf(mesh: Mesh): number {
  let sum = 0
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const [start, end] = [mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!]
    for (let corner = start; corner < end; corner++)
      sum += pointsApart(mesh, mesh.faceVertices[corner]!, mesh, mesh.faceVertices[corner + 1 < end ? corner + 1 : start]!) // prettier-ignore
  }
  return sum
}
