/**
 * What is symmetrical lies where it lay also where it was turned or mirrored, so that its places fit several answers alike:
 * the order of its points or polygons then says which is the one. A file that kept it keeps it from one to the next; one
 * that was numbered anew has it by chance.
 */
import { invertAffine, multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { similarityMatrix } from '../whole/similarity.ts'
import { findShells } from '../regroup/shells.ts'
import type { Correspondence } from './correspondence.ts'
import { fitOf, fitsByOrder } from './order-fits.ts'
import { symmetriesOf } from './symmetries.ts'

/** Of a cube one numbering in eight hundred is that of a turned one, and first use finds such: few points are a guess. */
const LEAST_POINTS = 8
const SURE_POINTS = 32
/** Share of what stands in a row whose counterparts stand in a row too, from which on the order was kept. */
const IN_ORDER = 0.97
/** How much more an answer may leave than the one that was found, and the share of the part's spread that is nothing. */
const ABOUT = 1.2
const NOTHING = 1e-5
/** Share of the polygons of what was found that have to be found by the order. */
const AS_MANY = 0.95

/** What is found of fewer in a row says nothing of an order: one of a cube's 47 symmetries has four in a row by chance. */
const LEAST_IN_ROW = 7

/** The share of those in a row of one piece whose counterparts are a later one each; 0 where it says nothing. */
function orderOf(counterparts: Int32Array, pieceOf: (other: number) => number): number {
  const last: number[] = []
  let [looked, rising] = [0, 0]
  for (const other of counterparts) {
    if (other < 0) continue
    const piece = pieceOf(other)
    const before = last[piece] ?? -1
    if (before >= 0) {
      looked++
      if (other > before) rising++
    }
    last[piece] = other
  }
  return looked >= LEAST_IN_ROW ? rising / looked : 0
}

/** Pieces that a part may have been cut up into, each with an order of its own. */
const MOST_PIECES = 8

type Measure = (pairs: Pick<Correspondence, 'pointToReturned' | 'faceToReturned'>) => number

/** How far the order of either points or polygons was kept, piece by piece where it came back in more than it has. */
function createMeasure(master: Mesh, returned: Mesh): Measure {
  const shells = findShells(returned)
  const isCut = shells.count > 1 && shells.count <= MOST_PIECES && findShells(master).count < shells.count
  const ofPoint = new Uint8Array(isCut ? pointCountOf(returned) : 0)
  const { faceOffsets, faceVertices } = returned
  for (let face = 0; isCut && face + 1 < faceOffsets.length; face++)
    for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++)
      ofPoint[faceVertices[corner]!] = shells.ofFace[face]!
  return ({ pointToReturned, faceToReturned }) =>
    Math.max(
      orderOf(pointToReturned, (other) => (isCut ? ofPoint[other]! : 0)),
      orderOf(faceToReturned, (other) => (isCut ? shells.ofFace[other]! : 0)),
    )
}

/** Whether points or polygons stand in the order that they had. */
export const isInOrder = (master: Mesh, returned: Mesh, found: Correspondence): boolean =>
  found.kind === 'index' || createMeasure(master, returned)(found) >= IN_ORDER

/**
 * @param found by where points lie. @param again what is found where all of what came back is moved.
 * @returns the answer in which the master's order was kept and as much fits as well, or what was found as a guess where so
 * few points may stand in order by chance; null where there is none.
 */
export function settledByOrder(
  master: Mesh,
  returned: Mesh,
  found: Correspondence,
  again: (moved: Mesh) => Correspondence,
): Correspondence | null {
  const count = pointCountOf(master)
  if (count < LEAST_POINTS || found.matchedFaceCount === 0) return null
  const kept = createMeasure(master, returned)
  const order = kept(found)
  if (order === 1) return null
  const own = fitOf(master, returned, { from: 0, to: count, pairAt: (point) => [point, found.pointToReturned[point]!] }) // prettier-ignore
  const left = own ? own.off : Infinity
  const foundAlong = (way: Matrix): Correspondence | null => {
    const back = invertAffine(way)
    const other = back && again({ ...returned, points: transformPoints(returned.points, back) })
    return other && other.matchedFaceCount >= found.matchedFaceCount * AS_MANY ? other : null
  }
  let best: { readonly other: Correspondence; readonly order: number } | null = null
  for (const fit of fitsByOrder(master, returned)) {
    if (fit.off > left * ABOUT + fit.spread * NOTHING) continue
    const other = foundAlong(similarityMatrix(fit))
    const its = other ? kept(other) : 0
    if (!other || its < IN_ORDER || its <= (best?.order ?? order)) continue
    best = { other, order: its }
    if (its === 1) break
  }
  // cut up, or in other polygons, what came back has none of the master's numbers: its own order shows through a symmetry
  if (!best && own)
    for (const { matrix, points, faces } of symmetriesOf(master)) {
      const through = { pointToReturned: points.map((point) => found.pointToReturned[point]!), faceToReturned: faces.map((face) => found.faceToReturned[face]!) } // prettier-ignore
      const its = kept(through)
      if (its < IN_ORDER || its <= (best?.order ?? order)) continue
      const other = foundAlong(multiplyMatrices(similarityMatrix(own), matrix))
      if (other) best = { other, order: its }
    }
  if (!best) return null
  if (count < SURE_POINTS && faceCountOf(master) < SURE_POINTS) return { ...found, guess: true }
  // all of it moved, whatever lies where it was moved back to
  const { kind } = best.other
  return kind === 'position' || kind === 'index' ? { ...best.other, kind: 'connectivity' } : best.other
}
