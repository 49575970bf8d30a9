import { createNumberTable, type NumberTable } from '../../base/math/number-table.ts'
import { buildCornerFaces, buildPointCorners } from '../../mesh/relations/adjacency.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { pointsApart } from './points-apart.ts'

/** Directed edges as numbers: from, then to. */
const stepKey = (from: number, to: number): number => from * 67108864 + to

/** Corners by the directed edge that they begin, -1 where several do. */
function cornersByStep(mesh: Mesh): NumberTable {
  const corners = createNumberTable(mesh.faceVertices.length)
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const start = mesh.faceOffsets[face]!
    const end = mesh.faceOffsets[face + 1]!
    for (let corner = start; corner < end; corner++) {
      const next = corner + 1 < end ? corner + 1 : start
      const key = stepKey(mesh.faceVertices[corner]!, mesh.faceVertices[next]!)
      corners.set(key, corners.has(key) ? -1 : corner)
    }
  }
  return corners
}

/** Corners from which on a polygon's lengths are not all measured. */
const MOST_MEASURED = 12
/** How far the lengths of a quad may be off those at home, in its longest. */
const MOST_SURPRISE = 0.2
/**
 * A side that became so many times as long beside another one of its polygon: of a polygon that was cut along its middle,
 * or anywhere else, one half at least has sides that are half as long, and what is found over it is off by a row.
 */
export const MOST_STRETCH = 1.6
/** The second best answer has to be so many times as far off. */
const LEAST_MARGIN = 1.6

/** Which way round returned polygons wind beside the master's: the same, turned, or whichever fits. */
export type Winding = 1 | -1 | 0

export interface Grower {
  /**
   * Carries pairs of points on over polygons: behind an edge whose ends are known lies a polygon on either side; where
   * both have as many corners, or the returned one is half of a quad, its other corners follow. What contradicts a pair
   * that is known, or a point that is taken, is left alone.
   *
   * @param pointToReturned changed in place.
   * @param taken one a returned point; changed in place.
   * @param against begins at one polygon alone, and goes on against pairs that are known.
   */
  grow(pointToReturned: Int32Array, taken: Uint8Array, winding: Winding, against?: GrowAgainst): void
}

export interface GrowAgainst {
  /** The master's polygon that is looked at first. */
  readonly from: number
  /** One a returned point: the point that is paired with it, -1 for none; changed in place. */
  readonly owners: Int32Array
  /** Points that may be paired at most. */
  readonly most: number
  /** Told before a point's pair is changed. */
  readonly changing: (point: number) => void
}

/** What both sides have to be asked for, once for any number of starts. */
export function createGrower(master: Mesh, returned: Mesh): Grower {
  const steps = cornersByStep(returned)
  const cornerFaces = buildCornerFaces(returned)
  const atPoints = buildPointCorners(master, pointCountOf(master))
  const masterFaces = buildCornerFaces(master)

  const queued = new Uint8Array(faceCountOf(master))
  const apart = (mesh: Mesh, a: number, b: number): number => pointsApart(mesh, a, mesh, b)
  /** How far lengths between these corners are off those at home, beside the longest of them; whatever size and turn. */
  const shapeOff = (points: readonly number[], others: readonly number[]): number => {
    const scale = apart(returned, others[0]!, others[1]!) / (apart(master, points[0]!, points[1]!) || 1) || 1
    let off = 0
    let longest = 0
    for (let i = 0; i < points.length; i++)
      for (let j = 0; j < i; j++) {
        const at = apart(master, points[i]!, points[j]!)
        longest = Math.max(longest, at)
        off = Math.max(off, Math.abs(apart(returned, others[i]!, others[j]!) / scale - at))
      }
    return longest > 0 ? off / longest : 0
  }
  /** Whether the sides of two polygons of as many corners are alike, each beside the others of its own. */
  const sidesAlike = (points: readonly number[], others: readonly number[]): boolean => {
    let [least, most] = [Infinity, 0]
    for (let at = 0; at < points.length; at++) {
      const next = at + 1 < points.length ? at + 1 : 0
      const length = apart(master, points[at]!, points[next]!)
      const became = apart(returned, others[at]!, others[next]!)
      // what has no length says nothing
      if (!(length > 0 && became > 0)) continue
      least = Math.min(least, became / length)
      most = Math.max(most, became / length)
    }
    return !(most > least * MOST_STRETCH)
  }
  /** Corners of a returned polygon in their order from one corner on, the given way round. */
  const around = (corner: number, way: 1 | -1): number[] => {
    const face = cornerFaces[corner]!
    const start = returned.faceOffsets[face]!
    const size = returned.faceOffsets[face + 1]! - start
    return Array.from(
      { length: size },
      (_corner, step) =>
        returned.faceVertices[start + ((((corner - start + way * step) % size) + size) % size)]!,
    )
  }

  return {
    grow(pointToReturned, taken, winding, against) {
      const ways = winding === 0 ? ([1, -1] as const) : ([winding] as const)
      /** Points of the returned side for a quad's corners from a known edge on; the first two are the edge's. */
      function halves(
        points: readonly number[],
        a: number,
        b: number,
        third: number,
        way: 1 | -1,
      ): number[] | null {
        // behind the other edges of the triangle lies the other half
        const behind = (from: number, to: number): number | null => {
          const corner = way > 0 ? steps.get(stepKey(to, from)) : steps.get(stepKey(from, to))
          if (corner === undefined || corner < 0) return null
          const found = around(corner, way > 0 ? 1 : -1)
          return found.length === 3 ? found.find((point) => point !== from && point !== to)! : null
        }
        const candidates: number[][] = []
        // the cut runs from a to the third, or from b to it
        const beyondFirst = behind(third, a)
        if (beyondFirst !== null && beyondFirst !== b) candidates.push([a, b, third, beyondFirst])
        const beyondSecond = behind(b, third)
        if (beyondSecond !== null && beyondSecond !== a) candidates.push([a, b, beyondSecond, third])
        const judged = candidates
          .filter((candidate) => candidate.every((other, at) => fits(points[at]!, other)))
          .map((candidate) => ({
            candidate,
            off: shapeOff(points, candidate),
            agreed: candidate.filter((other, at) => pointToReturned[points[at]!] === other).length,
          }))
          .sort((x, y) => y.agreed - x.agreed || x.off - y.off)
        const [best, next] = judged
        if (!best) return null
        // a third corner that is known settles it; else the nearer one has to be clearly nearer
        if (best.agreed > 2 && (!next || next.agreed < best.agreed)) return best.candidate
        if (best.off > MOST_SURPRISE || (next && next.off < best.off * LEAST_MARGIN)) return null
        return best.candidate
      }
      /** Returned points that were paired against what was known: each is once. */
      const settled = against ? new Set<number>() : null
      const fits = (point: number, other: number): boolean => {
        const known = pointToReturned[point]!
        return known >= 0 ? known === other : taken[other] === 0 || (!!settled && !settled.has(other))
      }
      const pair = (point: number, other: number): void => {
        if (against && settled) {
          const owner = against.owners[other]!
          against.changing(point)
          if (owner >= 0) {
            against.changing(owner)
            pointToReturned[owner] = -1
            enqueueAt(owner)
          }
          against.owners[other] = point
          settled.add(other)
        }
        pointToReturned[point] = other
        taken[other] = 1
        enqueueAt(point)
      }

      const queue: number[] = []
      const enqueue = (face: number): void => {
        if (queued[face]) return
        queued[face] = 1
        queue.push(face)
      }
      const enqueueAt = (point: number): void => {
        for (let at = atPoints.offsets[point]!; at < atPoints.offsets[point + 1]!; at++)
          enqueue(masterFaces[atPoints.corners[at]!]!)
      }
      if (against) enqueue(against.from)
      else
        for (let point = 0; point < pointToReturned.length; point++)
          if (pointToReturned[point]! >= 0) enqueueAt(point)

      const grow = (face: number): void => {
        const start = master.faceOffsets[face]!
        const size = master.faceOffsets[face + 1]! - start
        let isKnown = true
        for (let corner = start; corner < start + size && isKnown; corner++)
          isKnown = pointToReturned[master.faceVertices[corner]!]! >= 0
        if (isKnown) return
        const points = Array.from({ length: size }, (_corner, at) => master.faceVertices[start + at]!)
        for (let at = 0; at < size; at++) {
          const a = pointToReturned[points[at]!]!
          const b = pointToReturned[points[(at + 1) % size]!]!
          if (a < 0 || b < 0) continue
          const turned = points.map((_point, step) => points[(at + step) % size]!)
          for (const way of ways) {
            const corner = way > 0 ? steps.get(stepKey(a, b)) : steps.get(stepKey(b, a))
            if (corner === undefined || corner < 0) continue
            // counted from a, towards b
            const found =
              way > 0
                ? around(corner, 1)
                : around(corner, -1).map((_point, step, all) => all[(step + all.length - 1) % all.length]!)
            let answer: number[] | null = null
            if (found.length === size)
              answer =
                size > MOST_MEASURED ||
                (shapeOff(turned, found) <= MOST_SURPRISE && sidesAlike(turned, found))
                  ? found
                  : null
            else if (size === 4 && found.length === 3) {
              answer = halves(turned, a, b, found[2]!, way)
              if (answer && !sidesAlike(turned, answer)) answer = null
            }
            if (!answer || !answer.every((other, step) => fits(turned[step]!, other))) continue
            if (new Set(answer).size !== answer.length) continue
            answer.forEach((other, step) => {
              const point = turned[step]!
              if (pointToReturned[point]! < 0) pair(point, other)
            })
            return
          }
        }
      }
      // in the order in which they were reached: from what is known outwards
      for (let at = 0; at < queue.length; at++) {
        const face = queue[at]!
        queued[face] = 0
        if (!settled || settled.size < against!.most) grow(face)
      }
    },
  }
}
