/**
 * Whether the layouts of UVs of a file are the master's turned over, sized or moved as a whole: found from the values alone, before
 * it is known which corner is which, so that they can tell it.
 */
import { flatBoundsOf } from '../../base/math/box.ts'
import { createNumberTable, type NumberTable } from '../../base/math/number-table.ts'
import type { UvSet } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { stepsOf, uvKey } from '../match/evidence/uv-keys.ts'
import { alongU, alongV, invertWay, LAYOUT_TURNS, meantFactor, tileShift, turnedU, turnedV, wayText, type LayoutWay } from './layout-way.ts' // prettier-ignore

/** UVs that are asked for, about. */
const ASKED = 2000
/** So many that were asked for say what share it is, and so few that it is next to none. */
const [ENOUGH, SOON_KNOWN] = [4 * ASKED, 200]
/** Multiples of it, less their whole parts, lie as far from each other as any can. */
const GOLDEN = (Math.sqrt(5) - 1) / 2
/** Values of fewer UVs may agree by chance. */
const FEWEST = 8
/** A way is told where so many of the UVs are the master's along it, and hardly any as they are. */
const [MOST_OF_THEM, UNTOUCHED] = [0.9, 0.5]
/** Values turned over in single precision lie a little off: more coarsely told apart than otherwise. */
const MOST_STEPS = 1e5
/** Two sides of a box fit one factor to this share. */
const SAME_FACTOR = 1e-4

/** Ways of the first, second, … set of all parts; null where it is none. */
export type LayoutWays = readonly (LayoutWay | null)[]

const setsAt = ({ meshes }: Scene, at: number): UvSet[] =>
  meshes.flatMap(({ uvSets }) => (uvSets[at] ? [uvSets[at]] : []))

type Box = ReturnType<typeof flatBoundsOf>

const boxOf = (sets: readonly UvSet[]): Box => flatBoundsOf(sets.map(({ values }) => values))

/** Ways that tools take, and those that take the one box to the other. */
function likelyWays(own: Box, other: Box): LayoutWay[] {
  const ways: LayoutWay[] = []
  for (const turn of LAYOUT_TURNS) {
    if (turn.text)
      ways.push({ turn, factor: 1, shift: tileShift(turn, 1) }, { turn, factor: 1, shift: [0, 0] })
    const us = [turnedU(turn, own[0], own[1]), turnedU(turn, own[2], own[3])]
    const vs = [turnedV(turn, own[0], own[1]), turnedV(turn, own[2], own[3])]
    const factor = (other[2] - other[0]) / Math.abs(us[1]! - us[0]!)
    const along = (other[3] - other[1]) / Math.abs(vs[1]! - vs[0]!)
    if (!(Math.abs(factor - along) <= SAME_FACTOR * factor)) continue
    const snapped = meantFactor(factor)
    ways.push({ turn, factor: snapped, shift: [other[0] - snapped * Math.min(...us), other[1] - snapped * Math.min(...vs)] }) // prettier-ignore
  }
  return ways
}

/** Where rounding on the way may have made another step of it. */
const BETWEEN = 0.05
const isBetween = (steps: number): boolean => Math.abs(steps - Math.floor(steps) - 0.5) < BETWEEN

/** One of about so many keys belongs to those that are asked for, the same on both sides. */
const isAsked = (key: number, every: number): boolean =>
  every <= 1 || (Math.imul((key | 0) ^ Math.floor(key / 4294967296), 0x9e3779b1) >>> 0) % every === 0

/** UVs of all sets, so that any first few of them are some of everywhere. */
function scatteredOf(sets: readonly UvSet[], count: number): Float64Array {
  const values = new Float64Array(2 * count)
  const step = scatterStep(count)
  let place = 0
  for (const set of sets)
    for (let at = 0; at < set.values.length; at += 2) {
      values[2 * place] = set.values[at]!
      values[2 * place + 1] = set.values[at + 1]!
      place = (place + step) % count
    }
  return values
}

/** A step that comes to each of so many places once, the next ones far from each other. */
function scatterStep(count: number): number {
  const divides = (a: number, b: number): number => (b === 0 ? a : divides(b, a % b))
  let step = Math.max(1, Math.round(count * GOLDEN))
  while (divides(step, count) > 1) step++
  return step
}

function findWay(own: readonly UvSet[], other: readonly UvSet[]): LayoutWay | null {
  const count = own.reduce((sum, { values }) => sum + values.length / 2, 0)
  const otherCount = other.reduce((sum, { values }) => sum + values.length / 2, 0)
  if (count < FEWEST || otherCount < FEWEST) return null
  const steps = other.reduce((least, set) => Math.min(least, stepsOf(own[0]!, set)), MOST_STEPS)
  const every = Math.floor(Math.min(count, otherCount) / ASKED)
  const known: NumberTable = createNumberTable(2 * ASKED)
  for (const set of own)
    for (let uv = 0; uv < set.values.length / 2; uv++) {
      const key = uvKey(set, uv, steps)
      if (key !== null && isAsked(key, every)) known.set(key, 1)
    }
  if (known.size() < FEWEST) return null
  const scattered = scatteredOf(other, otherCount)
  const one = { name: '', values: new Float64Array(2), indices: new Int32Array(0), depths: null }
  /** Share of the UVs, along a way back, that are the master's. */
  const shareOf = (way: LayoutWay | null): number => {
    const back = way && invertWay(way)
    let [asked, found] = [0, 0]
    for (let at = 0; at < scattered.length && asked < ENOUGH; at += 2) {
      const [u, v] = [scattered[at]!, scattered[at + 1]!]
      one.values[0] = back ? alongU(back, u, v) : u
      one.values[1] = back ? alongV(back, u, v) : v
      const key = uvKey(one, 0, steps)
      if (key === null || !isAsked(key, every)) continue
      if (isBetween(one.values[0] * steps) || isBetween(one.values[1] * steps)) continue
      asked++
      if (known.has(key)) found++
      // a way along which so few lie is none
      if (way && asked >= SOON_KNOWN && found < UNTOUCHED * asked) return 0
    }
    return asked >= FEWEST ? found / asked : 0
  }
  if (shareOf(null) >= UNTOUCHED) return null
  let [best, most] = [null as LayoutWay | null, MOST_OF_THEM]
  for (const way of likelyWays(boxOf(own), boxOf(other))) {
    const share = wayText(way) ? shareOf(way) : 0
    if (share > most) [best, most] = [way, share]
  }
  return best
}

/** @returns null where no layout came back so. */
export function findLayout(master: Scene, returned: Scene): LayoutWays | null {
  const most = returned.meshes.reduce((count, { uvSets }) => Math.max(count, uvSets.length), 0)
  const ways = Array.from({ length: most }, (_, at) => findWay(setsAt(master, at), setsAt(returned, at)))
  return ways.some((way) => way !== null) ? ways : null
}
