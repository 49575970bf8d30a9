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

/**
 * Whether a piece is wound the other way than its polygon: round that one's corners one step alone leads back for one that
 * is not, and one alone leads on for one that is. Never said of one whose corners are not all known.
 */
export function windsBack(pieceCorners: Int32Array, start: number, end: number): boolean {
  let rises = 0
  for (let corner = start; corner < end; corner++) {
    const own = pieceCorners[corner]!
    if (own < 0) return false
    if (pieceCorners[corner + 1 < end ? corner + 1 : start]! > own) rises++
  }
  return rises === 1 && end - start > 2
}

/** How a piece goes with a polygon. */
const NOT = 0
const FITS = 1
const WINDS_ALONG = 2

/** Polygons of up to so many corners note their steps in the bits of one number. */
const FEW_CORNERS = 5

/**
 * Steps from corner to corner that pieces of each polygon take: pieces that make up one polygon take none twice the same
 * way.
 */
function createSteps(mesh: Pick<Mesh, 'faceOffsets' | 'faceVertices'>) {
  const { faceOffsets, faceVertices } = mesh
  const bits = new Int32Array(faceOffsets.length - 1)
  const many = new Map<number, Set<number>>()
  /** The place of a step among those of a small polygon whose corners stand at points of their own; -1 for others. */
  const bitOf = (face: number, from: number, to: number): number => {
    const start = faceOffsets[face]!
    const size = faceOffsets[face + 1]! - start
    if (size > FEW_CORNERS) return -1
    let [first, second, met] = [0, 0, 0]
    for (let at = 0; at < size; at++) {
      const point = faceVertices[start + at]!
      if (point === from) first = at
      if (point === to) second = at
      if (point === from || point === to) met++
    }
    return met === 2 ? first * FEW_CORNERS + second : -1
  }
  const keyOf = (from: number, to: number): number => from * 67108864 + to
  return {
    /**
     * Steps of polygons of few corners, a bit each: the place that they come from times FEW_CORNERS and the one that they
     * go to. Only for steps between corners that stand at points of their own.
     */
    bits,
    has: (face: number, from: number, to: number): boolean => {
      const bit = bitOf(face, from, to)
      return bit >= 0 ? ((bits[face]! >> bit) & 1) === 1 : (many.get(face)?.has(keyOf(from, to)) ?? false)
    },
    add: (face: number, from: number, to: number): void => {
      const bit = bitOf(face, from, to)
      if (bit >= 0) {
        bits[face]! |= 1 << bit
        return
      }
      const held = many.get(face)
      if (held) held.add(keyOf(from, to))
      else many.set(face, new Set([keyOf(from, to)]))
    },
  }
}

/**
 * Faces that are not taken and lie over the master's points alone, those of one lowest point after each other: with them
 * the master's polygons are come to one beside the other, however the file was shuffled. Of a million polygons in a
 * random order nearly every look would go to memory that is not at hand.
 *
 * @returns the faces, and for each of their corners (returned corner count; others 0) its master point.
 */
function besideEachOther(
  { faceOffsets, faceVertices }: Mesh,
  taken: Uint8Array,
  pointToMaster: Int32Array,
  pointCount: number,
): { readonly order: Uint32Array; readonly cornerPoints: Int32Array } {
  const lowest = new Int32Array(faceOffsets.length - 1).fill(-1)
  const offsets = new Uint32Array(pointCount + 1)
  const cornerPoints = new Int32Array(faceVertices.length)
  for (let face = 0; face < lowest.length; face++) {
    if (taken[face]) continue
    let low = pointCount
    const end = faceOffsets[face + 1]!
    for (let corner = faceOffsets[face]!; corner < end && low >= 0; corner++) {
      const point = pointToMaster[faceVertices[corner]!]!
      cornerPoints[corner] = point
      if (point < low) low = point
    }
    if (low < 0 || low === pointCount) continue
    lowest[face] = low
    offsets[low + 1]!++
  }
  for (let point = 0; point < pointCount; point++) offsets[point + 1]! += offsets[point]!
  const order = new Uint32Array(offsets[pointCount]!)
  for (let face = 0; face < lowest.length; face++)
    if (lowest[face]! >= 0) order[offsets[lowest[face]!]!++] = face
  return { order, cornerPoints }
}

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
  const steps = createSteps(master)
  const sizeOf = (face: number): number => master.faceOffsets[face + 1]! - master.faceOffsets[face]!
  /** Corners, less two a piece, that are still to come where a piece has come. */
  const room = new Int32Array(masterFaces)
  /** The piece of each polygon that stands first in its file. */
  const firstPiece = new Int32Array(masterFaces).fill(-1)
  /** Master points of the piece that is looked at. */
  let points = new Int32Array(64)
  let count = 0
  const after = (at: number): number => points[at + 1 < count ? at + 1 : 0]!
  /** Of polygons that lie over the same points each gets what fits together, the way round that it is itself. */
  const hasRoom = (whole: number): boolean => {
    if (firstPiece[whole]! < 0) return sizeOf(whole) >= count
    if (room[whole]! < count - 2) return false
    for (let at = 0; at < count; at++) if (steps.has(whole, points[at]!, after(at))) return false
    return true
  }
  const hasCorner = (whole: number, point: number): boolean => {
    const [start, end] = [master.faceOffsets[whole]!, master.faceOffsets[whole + 1]!]
    if (end - start > LOOKED_THROUGH) return cornersAt(whole, point).length > 0
    for (let corner = start; corner < end; corner++) if (master.faceVertices[corner] === point) return true
    return false
  }
  const hasCorners = (whole: number): boolean => {
    for (let at = 0; at < count; at++) if (!hasCorner(whole, points[at]!)) return false
    return true
  }
  /** A step of the piece is one of the polygon's own, the same way. */
  const windsAlong = (whole: number): boolean => {
    const [start, end] = [master.faceOffsets[whole]!, master.faceOffsets[whole + 1]!]
    const runsTo = (corner: number, to: number): boolean =>
      master.faceVertices[corner + 1 < end ? corner + 1 : start] === to
    for (let at = 0; at < count; at++) {
      const point = points[at]!
      if (end - start > LOOKED_THROUGH) {
        if (cornersAt(whole, point).some((corner) => runsTo(corner, after(at)))) return true
        continue
      }
      for (let corner = start; corner < end; corner++)
        if (master.faceVertices[corner] === point && runsTo(corner, after(at))) return true
    }
    return false
  }
  /** The steps of the piece within the polygon that was looked at last, as bits; null where they are too many for it. */
  let taking: number | null = null
  const places = new Int32Array(FEW_CORNERS)
  /** Whether the piece that is looked at fits into a polygon with what has come of it, and winds as it does. */
  const fit = (whole: number): typeof NOT | typeof FITS | typeof WINDS_ALONG => {
    taking = null
    const start = master.faceOffsets[whole]!
    const size = master.faceOffsets[whole + 1]! - start
    if (size > FEW_CORNERS || count > FEW_CORNERS) return fitMany(whole)
    for (let at = 0; at < count; at++) {
      const point = points[at]!
      let place = -1
      for (let corner = 0; corner < size; corner++) {
        if (master.faceVertices[start + corner] !== point) continue
        // a polygon that touches a point twice
        if (place >= 0) return fitMany(whole)
        place = corner
      }
      if (place < 0) return NOT
      places[at] = place
    }
    const isFirst = firstPiece[whole]! < 0
    if (isFirst ? size < count : room[whole]! < count - 2) return NOT
    let own = 0
    let along = false
    for (let at = 0; at < count; at++) {
      const from = places[at]!
      const to = places[at + 1 < count ? at + 1 : 0]!
      own |= 1 << (from * FEW_CORNERS + to)
      along ||= to === (from + 1 < size ? from + 1 : 0)
    }
    if (!isFirst && (steps.bits[whole]! & own) !== 0) return NOT
    taking = own
    return along ? WINDS_ALONG : FITS
  }
  const fitMany = (whole: number): typeof NOT | typeof FITS | typeof WINDS_ALONG =>
    !hasCorners(whole) || !hasRoom(whole) ? NOT : windsAlong(whole) ? WINDS_ALONG : FITS
  const { order, cornerPoints } = besideEachOther(returned, taken, pointToMaster, offsets.length - 1)
  /**
   * Of each face of the order its polygon, -1 for none, its first corner, and where its master points end among those of
   * all: what lies side by side is had at once, and what lies by the returned faces is not.
   */
  const wholes = new Int32Array(order.length).fill(-1)
  const starts = new Uint32Array(order.length)
  const ends = new Uint32Array(order.length)
  const inOrder = new Int32Array(cornerPoints.length)
  let laid = 0
  for (let place = 0; place < order.length; place++) {
    const face = order[place]!
    const start = returned.faceOffsets[face]!
    count = returned.faceOffsets[face + 1]! - start
    starts[place] = start
    if (count > points.length) points = new Int32Array(2 * count)
    ends[place] = laid + count
    // from the corner where the fewest meet: at a pole there are very many
    let rarest = -1
    let fewest = Infinity
    for (let at = 0; at < count; at++) {
      const point = cornerPoints[start + at]!
      points[at] = point
      inOrder[laid++] = point
      const met = offsets[point + 1]! - offsets[point]!
      if (met >= fewest) continue
      fewest = met
      rarest = point
    }
    let whole = -1
    let ownSteps: number | null = null
    for (let at = offsets[rarest]!; at < offsets[rarest + 1]!; at++) {
      const candidate = open[at]!
      if (candidate === whole) continue
      const fitting = fit(candidate)
      if (fitting === NOT || (whole >= 0 && fitting !== WINDS_ALONG)) continue
      whole = candidate
      ownSteps = taking
      if (fitting === WINDS_ALONG) break
    }
    if (whole < 0) continue
    wholes[place] = whole
    if (firstPiece[whole]! < 0) room[whole] = sizeOf(whole) - 2
    if (firstPiece[whole]! < 0 || face < firstPiece[whole]!) firstPiece[whole] = face
    room[whole]! -= count - 2
    if (ownSteps !== null) steps.bits[whole]! |= ownSteps
    else for (let at = 0; at < count; at++) steps.add(whole, points[at]!, after(at))
  }
  const faceToReturned = faces.faceToReturned.slice()
  const cornerToReturned = faces.cornerToReturned.slice()
  const pieceToMaster = new Int32Array(returnedFaces).fill(-1)
  const pieceCorners = new Int32Array(returned.faceVertices.length).fill(-1)
  let cutFaceCount = 0
  /** One a master face; 1 where a piece of it is wound the other way. */
  const isTurned = new Uint8Array(room.length)
  for (let place = 0; place < order.length; place++) {
    const face = order[place]!
    const whole = wholes[place]!
    if (whole < 0 || room[whole]! > 0) continue
    if (firstPiece[whole] === face) {
      cutFaceCount++
      faceToReturned[whole] = face
    }
    pieceToMaster[face] = whole
    const wholeStart = master.faceOffsets[whole]!
    const wholeEnd = master.faceOffsets[whole + 1]!
    const isLong = wholeEnd - wholeStart > LOOKED_THROUGH
    const first = place === 0 ? 0 : ends[place - 1]!
    for (let at = first; at < ends[place]!; at++) {
      const point = inOrder[at]!
      const corner = starts[place]! + at - first
      const met = isLong ? cornersAt(whole, point) : null
      const last = met ? met.length : wholeEnd - wholeStart
      let owner = -1
      let owns = 0
      for (let step = 0; step < last; step++) {
        const own = met ? met[step]! : wholeStart + step
        if (!met && master.faceVertices[own] !== point) continue
        owner = own
        owns++
        // the piece that stands first in its file
        if (cornerToReturned[own]! < 0 || corner < cornerToReturned[own]!) cornerToReturned[own] = corner
      }
      // where a polygon touches a point twice it can't be told which corner a piece has
      if (owns === 1) pieceCorners[corner] = owner
    }
    const end = starts[place]! + ends[place]! - first
    if (windsBack(pieceCorners, starts[place]!, end)) isTurned[whole] = 1
  }
  if (cutFaceCount === 0) return none
  return {
    faceToReturned,
    cornerToReturned,
    matchedFaceCount: faces.matchedFaceCount + cutFaceCount,
    turnedFaceCount: faces.turnedFaceCount + isTurned.reduce((sum, turned) => sum + turned, 0),
    pieceToMaster,
    pieceCorners,
    cutFaceCount,
  }
}
