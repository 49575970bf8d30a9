/** Polygons that came back cut into smaller ones, with no point added. */
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'

export interface MatchedFaces {
  readonly faceToReturned: Int32Array
  readonly cornerToReturned: Int32Array
  readonly matchedFaceCount: number
  readonly turnedFaceCount: number
}

export interface MatchedPieces extends MatchedFaces {
  /** Returned face count; for a piece the master's face, -1 for other faces. Null where nothing was cut. */
  readonly pieceToMaster: Int32Array | null
  /** Returned corner count; for a corner of a piece the master's corner there, -1 for others. Null where nothing was cut. */
  readonly pieceCorners: Int32Array | null
  readonly cutFaceCount: number
}

/** A polygon with more corners than this is looked up instead of looked through. */
const LOOKED_THROUGH = 16

/** Corners of a face at a point, in their order; a polygon may touch a point more than once. */
export function createCornerFinder(mesh: Pick<Mesh, 'faceOffsets' | 'faceVertices'>) {
  const { faceOffsets, faceVertices } = mesh
  const large = new Map<number, Map<number, number[]>>()
  const lookUp = (face: number): Map<number, number[]> => {
    const known = large.get(face)
    if (known) return known
    const corners = new Map<number, number[]>()
    for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++) {
      const held = corners.get(faceVertices[corner]!)
      if (held) held.push(corner)
      else corners.set(faceVertices[corner]!, [corner])
    }
    large.set(face, corners)
    return corners
  }
  return (face: number, point: number): readonly number[] => {
    const start = faceOffsets[face]!
    const end = faceOffsets[face + 1]!
    if (end - start > LOOKED_THROUGH) return lookUp(face).get(point) ?? []
    const found: number[] = []
    for (let corner = start; corner < end; corner++) if (faceVertices[corner] === point) found.push(corner)
    return found
  }
}

interface HeldPieces {
  readonly pieces: number[]
  /** Corners, less two a piece, that are still to come. */
  room: number
  /** Steps from corner to corner: pieces that make up one polygon take none twice the same way. */
  readonly steps: StepList
}

/** Few numbers in a row, and many in a set: most polygons are cut into two. */
interface StepList {
  few: number[]
  many: Set<number> | null
}
const MOST_IN_A_ROW = 24
const hasStep = ({ few, many }: StepList, step: number): boolean =>
  many ? many.has(step) : few.includes(step)
function addStep(list: StepList, step: number): void {
  if (list.many) list.many.add(step)
  else if (list.few.push(step) > MOST_IN_A_ROW) list.many = new Set(list.few)
}

/** A directed edge as one number, as `edgeKey` is of one without direction. */
const stepsOf = (points: readonly number[]): number[] =>
  points.map((point, at) => point * 67108864 + points[(at + 1) % points.length]!)

/**
 * A master face that has no counterpart is cut where unmatched returned faces over its points alone make up all
 * of it: k-cornered pieces of an n-cornered polygon have k - 2 in sum n - 2. It then counts as matched with its
 * first piece, and each of its corners with one of a piece at the same point.
 */
export function matchPieces(
  master: Mesh,
  returned: Mesh,
  pointToReturned: Int32Array,
  faces: MatchedFaces,
): MatchedPieces {
  const masterFaces = faceCountOf(master)
  const returnedFaces = faceCountOf(returned)
  const none: MatchedPieces = { ...faces, pieceToMaster: null, pieceCorners: null, cutFaceCount: 0 }
  if (faces.matchedFaceCount === masterFaces || faces.matchedFaceCount === returnedFaces) return none
  const taken = new Uint8Array(returnedFaces)
  for (const face of faces.faceToReturned) if (face >= 0) taken[face] = 1
  const pointToMaster = new Int32Array(returned.points.length / 3).fill(-1)
  pointToReturned.forEach((point, at) => {
    if (point >= 0) pointToMaster[point] = at
  })
  /** Open master faces at each point, one after the other; offsets by point. */
  const offsets = new Uint32Array(master.points.length / 3 + 1)
  const eachOpen = (call: (face: number, point: number) => void): void => {
    for (let face = 0; face < masterFaces; face++) {
      if (faces.faceToReturned[face]! >= 0) continue
      for (let corner = master.faceOffsets[face]!; corner < master.faceOffsets[face + 1]!; corner++)
        call(face, master.faceVertices[corner]!)
    }
  }
  eachOpen((_face, point) => offsets[point + 1]!++)
  for (let point = 0; point + 1 < offsets.length; point++) offsets[point + 1]! += offsets[point]!
  const open = new Uint32Array(offsets.at(-1)!)
  const next = offsets.slice()
  eachOpen((face, point) => (open[next[point]!++] = face))
  const cornersAt = createCornerFinder(master)
  const sizeOf = (face: number): number => master.faceOffsets[face + 1]! - master.faceOffsets[face]!
  /** Of polygons that lie over the same points each gets what fits together, the way round that it is itself. */
  const held = new Map<number, HeldPieces>()
  const hasRoom = (whole: number, points: readonly number[]): boolean => {
    const known = held.get(whole)
    if (!known) return sizeOf(whole) >= points.length
    return known.room >= points.length - 2 && !stepsOf(points).some((step) => hasStep(known.steps, step))
  }
  /** A step of the piece is one of the polygon's own, the same way. */
  const windsAlong = (whole: number, points: readonly number[]): boolean =>
    points.some((point, at) =>
      cornersAt(whole, point).some((corner) => {
        const next = corner + 1 < master.faceOffsets[whole + 1]! ? corner + 1 : master.faceOffsets[whole]!
        return master.faceVertices[next] === points[(at + 1) % points.length]
      }),
    )
  const openCount = (point: number): number => offsets[point + 1]! - offsets[point]!
  const hasCorner = (whole: number, point: number): boolean => {
    const [start, end] = [master.faceOffsets[whole]!, master.faceOffsets[whole + 1]!]
    if (end - start > LOOKED_THROUGH) return cornersAt(whole, point).length > 0
    for (let corner = start; corner < end; corner++) if (master.faceVertices[corner] === point) return true
    return false
  }
  for (let face = 0; face < returnedFaces; face++) {
    if (taken[face]) continue
    const points: number[] = []
    for (let corner = returned.faceOffsets[face]!; corner < returned.faceOffsets[face + 1]!; corner++)
      points.push(pointToMaster[returned.faceVertices[corner]!]!)
    if (points.some((point) => point < 0)) continue
    // from the corner where the fewest meet: at a pole there are very many
    const rarest = points.reduce((a, b) => (openCount(b) < openCount(a) ? b : a))
    const fitting: number[] = []
    for (let at = offsets[rarest]!; at < offsets[rarest + 1]!; at++)
      if (points.every((point) => hasCorner(open[at]!, point)) && hasRoom(open[at]!, points))
        fitting.push(open[at]!)
    if (fitting.length === 0) continue
    const whole = fitting.find((one) => windsAlong(one, points)) ?? fitting[0]!
    const holder = held.get(whole) ?? { pieces: [], room: sizeOf(whole) - 2, steps: { few: [], many: null } }
    held.set(whole, holder)
    holder.pieces.push(face)
    holder.room -= points.length - 2
    for (const step of stepsOf(points)) addStep(holder.steps, step)
  }
  const faceToReturned = faces.faceToReturned.slice()
  const cornerToReturned = faces.cornerToReturned.slice()
  const pieceToMaster = new Int32Array(returnedFaces).fill(-1)
  const pieceCorners = new Int32Array(returned.faceVertices.length).fill(-1)
  let cutFaceCount = 0
  for (const [whole, { pieces: parts, room }] of held) {
    if (room > 0) continue
    cutFaceCount++
    faceToReturned[whole] = parts[0]!
    for (const face of parts) {
      pieceToMaster[face] = whole
      for (let corner = returned.faceOffsets[face]!; corner < returned.faceOffsets[face + 1]!; corner++) {
        const point = pointToMaster[returned.faceVertices[corner]!]!
        const owns = cornersAt(whole, point)
        // where a polygon touches a point twice it can't be told which corner a piece has
        if (owns.length === 1) pieceCorners[corner] = owns[0]!
        for (const own of owns) if (cornerToReturned[own]! < 0) cornerToReturned[own] = corner
      }
    }
  }
  if (cutFaceCount === 0) return none
  return {
    faceToReturned,
    cornerToReturned,
    matchedFaceCount: faces.matchedFaceCount + cutFaceCount,
    turnedFaceCount: faces.turnedFaceCount,
    pieceToMaster,
    pieceCorners,
    cutFaceCount,
  }
}
