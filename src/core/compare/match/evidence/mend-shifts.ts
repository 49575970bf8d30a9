import { buildCornerFaces, buildPointCorners } from '../../../mesh/relations/adjacency.ts'
import { pointCountOf, type Mesh } from '../../../scene/mesh.ts'
import type { Grower, Winding } from '../grow-pairs.ts'
import { areJoined, type Neighbours } from '../neighbours.ts'
import { pointsApart } from '../points-apart.ts'

/** Patches of points without counterpart that are looked at; of more it is no longer one shift here or there. */
const MOST_PATCHES = 400
/** Polygons of a patch from which pairs are carried on: those on its either side. */
const MOST_STARTS = 12
/** Points that one of them may pair anew, and all of them together. */
const [MOST_ANEW, MOST_IN_ALL] = [4000, 200_000]

type Pairing = readonly (readonly [point: number, other: number])[]

/**
 * Where points moved by about half of how far they lie apart, a patch of them may have been paired pushed on by one: at its
 * one end a point is left without counterpart, at its other a returned one, and over both ends edges are not there. From
 * the polygons around each point that was left over the pairs are carried on once more, against those that are known, as
 * far as they differ; what bears out more edges, and moves less, stays.
 *
 * @param pairs one a master point, -1 for none; changed in place. @param taken one a returned point; changed in place.
 * @returns whether somewhere another answer bears out as many edges and does not move less: then it is a guess.
 */
export function mendShifts(
  master: Mesh,
  returned: Mesh,
  pairs: Int32Array,
  taken: Uint8Array,
  near: Neighbours,
  far: Neighbours,
  grower: Grower,
): boolean {
  const patches = openPatches(pairs, near)
  if (patches.length === 0 || patches.length > MOST_PATCHES) return false
  const owners = new Int32Array(taken.length).fill(-1)
  for (let point = 0; point < pairs.length; point++) if (pairs[point]! >= 0) owners[pairs[point]!] = point
  const atPoints = buildPointCorners(master, pointCountOf(master))
  const cornerFaces = buildCornerFaces(master)
  const startsAt = (patch: readonly number[]): [face: number, winding: Winding][] => {
    const faces = new Set<number>()
    for (const point of patch)
      for (
        let at = atPoints.offsets[point]!;
        at < atPoints.offsets[point + 1]! && faces.size < MOST_STARTS;
        at++
      )
        faces.add(cornerFaces[atPoints.corners[at]!]!)
    // one way round at a time: where the one finds its points taken, the other would go on as in a mirror
    return [...faces].flatMap((face): [number, Winding][] => [[face, 1], [face, -1]]) // prettier-ignore
  }
  const moved = (wanted: Pairing): number =>
    wanted.reduce(
      (sum, [point, other]) => sum + (other < 0 ? 0 : pointsApart(master, point, returned, other)),
      0,
    )
  const counted = (wanted: Pairing): number => wanted.filter(([, other]) => other >= 0).length
  let isGuess = false
  let left = MOST_IN_ALL
  for (const patch of patches) {
    const answers: { anew: Pairing; more: number; moved: number }[] = []
    for (const [from, winding] of startsAt(patch)) {
      if (left <= 0) return isGuess
      const before = new Map<number, number>()
      grower.grow(pairs, taken, winding, {
        from,
        owners,
        most: MOST_ANEW,
        changing: (point) => {
          if (!before.has(point)) before.set(point, pairs[point]!)
        },
      })
      left -= before.size
      const was: Pairing = [...before].filter(([point, other]) => pairs[point] !== other)
      const points = was.map(([point]) => point)
      const anew = points.map((point) => [point, pairs[point]!] as const)
      const borne = borneOut(points, pairs, near, far)
      put(pairs, owners, taken, was)
      // where nothing had to give way, growing had its reasons not to go there
      if (!was.some(([, other]) => other >= 0) || counted(anew) < counted(was)) continue
      answers.push({
        anew,
        more: borne - borneOut(points, pairs, near, far),
        moved: moved(anew) - moved(was),
      })
    }
    const most = Math.max(-1, ...answers.map(({ more }) => more))
    if (most < 0) continue
    const [best, ...others] = answers.filter(({ more }) => more === most).sort((a, b) => a.moved - b.moved)
    // bearing out more edges alone is not enough: all of a round end may be pushed on after a patch of it
    const isBetter = most > 0 && best!.moved < 0
    if (isBetter) put(pairs, owners, taken, best!.anew)
    if (!isBetter || others.some(({ anew }) => differ(best!.anew, anew))) isGuess = true
  }
  return isGuess
}

/** Whether two answers say different things of some point. */
function differ(one: Pairing, other: Pairing): boolean {
  const own = new Map(one)
  return other.some(([point, pair]) => own.get(point) !== pair)
}

/** Gives points their pairs, whatever these were before. */
function put(
  pairs: Int32Array,
  owners: Int32Array,
  taken: Uint8Array,
  wanted: readonly (readonly [point: number, other: number])[],
): void {
  for (const [point] of wanted) {
    const other = pairs[point]!
    if (other >= 0 && owners[other] === point) {
      owners[other] = -1
      taken[other] = 0
    }
    pairs[point] = -1
  }
  for (const [point, other] of wanted) {
    if (other < 0) continue
    pairs[point] = other
    owners[other] = point
    taken[other] = 1
  }
}

/** Points without counterpart that hang together, those with a known one beside them. */
function openPatches(pairs: Int32Array, { offsets, others }: Neighbours): number[][] {
  const patches: number[][] = []
  const seen = new Uint8Array(pairs.length)
  for (let first = 0; first < pairs.length; first++) {
    if (pairs[first]! >= 0 || seen[first]) continue
    seen[first] = 1
    const patch = [first]
    let isBeside = false
    for (let at = 0; at < patch.length; at++)
      for (let edge = offsets[patch[at]!]!; edge < offsets[patch[at]! + 1]!; edge++) {
        const next = others[edge]!
        if (pairs[next]! >= 0) isBeside = true
        else if (!seen[next]) {
          seen[next] = 1
          patch.push(next)
        }
      }
    if (isBeside && patches.push(patch) > MOST_PATCHES) break
  }
  return patches
}

/** Edges at some points, with both ends paired, that are there on the other side as well; each once. */
function borneOut(points: readonly number[], pairs: Int32Array, near: Neighbours, far: Neighbours): number {
  const own = new Set(points)
  let borne = 0
  for (const point of points) {
    if (pairs[point]! < 0) continue
    for (let at = near.offsets[point]!; at < near.offsets[point + 1]!; at++) {
      const next = near.others[at]!
      if ((own.has(next) && next < point) || pairs[next]! < 0) continue
      if (areJoined(far, pairs[point]!, pairs[next]!)) borne++
    }
  }
  return borne
}
