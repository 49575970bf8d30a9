/**
 * Outlines that lie side by side are made larger and pushed and turned apart until they fit again; what still lies over others
 * is put where there is most room for it. After Imamichi, Yagiura & Nagamochi, An iterated local search algorithm based on
 * nonlinear programming for the irregular strip packing problem, 2009 (depths of overlap made least by limited-memory BFGS,
 * with pieces put elsewhere in between); here over fields of distances.
 */
import { chanceOf } from '../../../base/math/chance.ts'
import { minimise } from '../../../base/math/minimise.ts'
import { closeIslands } from '../../island-borders.ts'
import { turnedBox, type Outline } from '../outline.ts'
import type { Placement } from '../placement.ts'
import { bodyOf } from './body.ts'
import { createContacts } from './contacts.ts'
import { liesWithin } from './distance-field.ts'
import { createRoomFinder, type Where } from './find-room.ts'

export interface PressOptions {
  /** Between two, in tiles; half of it stays free along the tile's border. */
  readonly padding: number
  /** none and quarter: as of packing; free: by any angle, but for those that are nearly boxes. */
  readonly turn: 'none' | 'quarter' | 'free'
  readonly mostScale: number
  /** Border points that may be moved, and cells that may be looked at, until it ends. */
  readonly mostWork: number
  /** What stays, in the tile as it lies. */
  readonly locked: readonly Outline[]
}

export interface Pressed {
  readonly placements: readonly Placement[]
  readonly scale: number
}

/** Beyond so many outlines it is left. */
export const MOST_PRESSED = 400
/** Beyond so much room between them, in tiles, as well: all would be near all others. */
const MOST_PADDING = 1 / 16
/** How much larger is tried at once, at first and at last. */
const [FIRST_STEP, LAST_STEP] = [1.012, 1.001]
/** Closer than may be by so much is not too close yet, in tiles; the gaps themselves are measured at the end. */
const NEARLY = 1e-4
const [STEPS_AT_FIRST, STEPS_AFTER] = [300, 60]
/** Tried so often in vain, one begins again with the best; so often altogether, the size is left. */
const [IN_VAIN, MOST_IN_VAIN] = [25, 150]
/** Sizes between the last that fitted and the one that did not. */
const BETWEEN = 5
/** Angles that are tried of what may lie at any. */
const TURNS = 10
/** How often one goes on from what is worse, and from what is hardly so in any case. */
const [WORSE, HARDLY_WORSE] = [0.1, 1.02]
/** How often all are shaken, and how often two change places; else one is put elsewhere. */
const [SHAKES, SWAPS] = [0.2, 0.3]
/** How often that is any one, and not one that lies over others; and how often one more goes with it. */
const [ANY_ONE, ONE_MORE] = [0.15, 0.5]
/** How far each is shaken, by the side of what one has of the tile, and how much tighter they are pressed first. */
const [MOST_SHAKEN, MOST_TIGHTER] = [0.4, 0.03]
/** Cells in which gaps are looked for are no smaller, in tiles. */
const LEAST_REACH = 1 / 512
/** Cells that are looked into for gaps at most, and the least size of what is pressed, in tiles. */
const [MOST_GAP_WORK, LEAST_SIZE] = [2_000_000, 1e-9]
/** How much smaller each mend makes them, times its number. */
const [MOST_MENDS, MEND_STEP] = [10, 2.5e-4]

/** @param placements all in one tile. @returns null where nothing was won. */
export function pressOutlines(
  outlines: readonly Outline[],
  placements: readonly Placement[],
  startScale: number,
  options: PressOptions,
): Pressed | null {
  const { padding, turn, mostScale, mostWork } = options
  const count = outlines.length
  if (count < 2 || count + options.locked.length > MOST_PRESSED || padding > MOST_PADDING) return null
  const isMeasurable =
    gapWork(outlines, startScale) + gapWork(options.locked, 1) < MOST_GAP_WORK &&
    outlines.every((outline) => isExtended(outline, startScale))
  if (!isMeasurable) return null
  // borders are felt before they cross, be there padding or none
  const room = Math.max(padding, 1e-6)
  const bodies = [
    ...outlines.map((outline) => bodyOf(outline, startScale, room)),
    ...options.locked.map((outline) => bodyOf(outline, 1, room)),
  ]
  const isTurned = (body: number): boolean => turn === 'free' && !bodies[body]!.isBox
  const start = new Float64Array(3 * bodies.length)
  bodies.forEach(({ middle, reach }, body) => {
    if (body >= count) return start.set([...middle, 0], 3 * body)
    const { angle, shiftU, shiftV } = placements[body]!
    const [c, s] = [Math.cos(angle) * startScale, Math.sin(angle) * startScale]
    start.set(
      [c * middle[0] - s * middle[1] + shiftU, s * middle[0] + c * middle[1] + shiftV, angle * reach],
      3 * body,
    )
  })
  const finder = createRoomFinder(bodies, room, count)
  const feel = (own: number): ReturnType<typeof createContacts> =>
    createContacts(bodies, { room: own, mayTurn: isTurned, movingCount: count })
  const contacts = feel(room)
  const work = (): number => contacts.work() + finder.work() / 2
  /** Pushed apart at a size, in units of the start's. @param limit given up once it stays above. */
  const relax = (
    from: Float64Array,
    scale: number,
    mostSteps: number,
    limit = Infinity,
    own = contacts,
  ): { at: Float64Array; value: number; worst: number } => {
    const slope = new Float64Array(from.length)
    const { at } = minimise(from, (place, into) => own.measure(place, scale, into), {
      mostSteps,
      mostMove: 0.01,
      firstStep: 0.05,
      isEnough: (value, step) =>
        own.worst() <= NEARLY / 2 || (step > 15 && value > 4 * limit) || (step > 40 && value > 1.5 * limit),
    })
    const value = own.measure(at, scale, slope)
    return { at, value, worst: own.worst() }
  }
  const next = chanceOf(count)
  /** Which one is put elsewhere: what lies over others, small ones rather. */
  const pick = (): number => {
    const weights = Float64Array.from(
      { length: count },
      (_, body) => contacts.own[body]! / (bodies[body]!.area + 1e-3),
    )
    let left = weights.reduce((sum, one) => sum + one, 0) * next()
    for (let body = 0; body < count; body++) if ((left -= weights[body]!) <= 0) return body
    return count - 1
  }
  const anglesOf = (at: Float64Array, body: number): number[] => {
    const now = at[3 * body + 2]! / bodies[body]!.reach
    const turns = turn === 'none' ? 1 : isTurned(body) ? TURNS : 4
    const first = isTurned(body) ? now + 2 * Math.PI * next() : now
    return Array.from({ length: turns }, (_, k) => first + (2 * Math.PI * k) / turns)
  }
  const put = (at: Float64Array, body: number, scale: number, where: Where): boolean => {
    finder.leaveOut(body, at, scale)
    const found = finder.find(anglesOf(at, body), scale, where)
    if (!found) return false
    at.set([found.u, found.v, found.angle * bodies[body]!.reach], 3 * body)
    return true
  }
  const placeOf = (at: Float64Array, body: number): [number, number] => [at[3 * body]!, at[3 * body + 1]!]
  const shake = (at: Float64Array, scale: number): Float64Array<ArrayBufferLike> => {
    const most = (MOST_SHAKEN / Math.sqrt(count)) * next()
    const shaken = at.slice()
    for (let k = 0; k < 3 * count; k++)
      if (k % 3 < 2 || isTurned((k / 3) | 0)) shaken[k]! += (2 * next() - 1) * most
    // tighter than it has to be first, for all to give way
    return relax(shaken, scale * (1 + MOST_TIGHTER * next()), STEPS_AFTER).at
  }
  /** One with another about as large, each turned as it fits best there. */
  const swap = (at: Float64Array, one: number, scale: number): boolean => {
    const alike = bodies.flatMap(({ area }, body) =>
      body < count && body !== one && area < 2.5 * bodies[one]!.area && area > 0.4 * bodies[one]!.area
        ? [body]
        : [],
    )
    const other = alike[Math.floor(next() * alike.length)]
    if (other === undefined) return false
    const places = [placeOf(at, other), placeOf(at, one)]
    at.set(places[0]!, 3 * one)
    at.set(places[1]!, 3 * other)
    return put(at, one, scale, { near: places[0]! }) && put(at, other, scale, { near: places[1]! })
  }

  let best: { readonly at: Float64Array; readonly scale: number } = { at: start, scale: 1 }
  let step = FIRST_STEP
  while (step >= LAST_STEP && work() < mostWork) {
    const scale = Math.min(best.scale * step, mostScale / startScale)
    if (scale <= best.scale * (1 + 1e-6)) break
    let now = relax(best.at, scale, STEPS_AT_FIRST)
    let least = now
    let vain = 0
    while (least.worst > NEARLY && vain < MOST_IN_VAIN && work() < mostWork) {
      contacts.measure(now.at, scale, new Float64Array(now.at.length))
      let moved: Float64Array = now.at.slice()
      let isMoved = true
      const way = next()
      if (way < SHAKES) moved = shake(moved, scale)
      else if (way < SHAKES + SWAPS) isMoved = swap(moved, pick(), scale)
      else {
        const body = next() < ANY_ONE ? Math.floor(next() * count) : pick()
        isMoved = put(moved, body, scale, { away: placeOf(moved, body) })
        if (next() < ONE_MORE) isMoved = put(moved, pick(), scale, {}) || isMoved
      }
      vain++
      if (isMoved) {
        const tried = relax(moved, scale, STEPS_AFTER, now.value)
        if (tried.value < now.value * HARDLY_WORSE || next() < WORSE) now = tried
        if (tried.value < least.value) {
          least = tried
          vain = 0
        }
      }
      if (vain > 0 && vain % IN_VAIN === 0) now = least
    }
    if (least.worst <= NEARLY) {
      best = { at: least.at, scale }
      continue
    }
    // what lies over each other least may fit at a size between
    let [low, high] = [best.scale, scale]
    for (let k = 0; k < BETWEEN; k++) {
      const between = (low + high) / 2
      const tried = relax(least.at, between, STEPS_AT_FIRST)
      if (tried.worst <= NEARLY) {
        best = { at: tried.at, scale: between }
        low = between
      } else high = between
    }
    step = 1 + (step - 1) / 2
  }
  // gaps as they are, not as fields have them
  let felt = room
  for (let mend = 0; mend < MOST_MENDS && best.scale > 1; mend++) {
    const found = placementsOf(best.at, best.scale)
    const short = shortOf(found, best.scale)
    if (short <= 0) return { placements: found, scale: best.scale * startScale }
    felt = Math.max(felt, room + Math.min(short, NEARLY) * 1.2)
    // smaller each time: where many lie in a row what all of them need adds up
    const scale = best.scale * (1 - MEND_STEP * (mend + 1))
    best = { at: relax(best.at, scale, STEPS_AT_FIRST, Infinity, feel(felt)).at, scale }
  }
  return null

  function placementsOf(at: Float64Array, scale: number): Placement[] {
    return outlines.map((_, body) => {
      const { middle, reach } = bodies[body]!
      const angle = at[3 * body + 2]! / reach
      const size = scale * startScale
      const [c, s] = [Math.cos(angle) * size, Math.sin(angle) * size]
      return {
        tile: 0,
        angle,
        shiftU: at[3 * body]! - (c * middle[0] - s * middle[1]),
        shiftV: at[3 * body + 1]! - (s * middle[0] + c * middle[1]),
      }
    })
  }

  /** How much too close two come, or one to the tile's border, at most; Infinity where one lies within another. */
  function shortOf(found: readonly Placement[], scale: number): number {
    const ends: number[] = []
    const islands: number[] = []
    const all = [
      ...outlines.map((outline, body) => laidLoops(outline, found[body]!, scale * startScale)),
      ...options.locked.map(({ loops }) => loops),
    ]
    let short = 0
    all.forEach((loops, island) => {
      for (const loop of loops)
        for (let at = 0; at < loop.length; at += 2) {
          const following = at + 2 < loop.length ? at + 2 : 0
          ends.push(loop[at]!, loop[at + 1]!, loop[following]!, loop[following + 1]!)
          islands.push(island)
          if (island >= count) continue
          const [u, v] = [loop[at]!, loop[at + 1]!]
          short = Math.max(short, padding / 2 - Math.min(u, v, 1 - u, 1 - v))
        }
    })
    const { pairs, complete } = closeIslands(
      { ends: Float64Array.from(ends), islands: Int32Array.from(islands), corners: new Uint32Array(0) },
      Math.max(room, LEAST_REACH),
    )
    if (!complete) return Infinity
    for (const { a, b, distance } of pairs)
      // borders that cross do so by what was let pass, or less
      if (a < count || b < count) short = Math.max(short, distance > 0 ? room - distance : NEARLY)
    if (short > 0) return short
    // borders that stay apart can still lie within each other
    for (let one = 0; one < count; one++)
      for (let other = 0; other < all.length; other++) {
        if (one === other) continue
        const [u, v] = all[one]![0]!
        if (liesWithin(all[other]!, u!, v!)) return Infinity
        if (other >= count && liesWithin(all[one]!, all[other]![0]![0]!, all[other]![0]![1]!)) return Infinity
      }
    return 0
  }
}

/** What is no more than a point, or nowhere, can't be pressed against. */
function isExtended(outline: Outline, scale: number): boolean {
  const { low, high } = turnedBox(outline, 0)
  const size = Math.hypot(high[0] - low[0], high[1] - low[1]) * scale
  return size > LEAST_SIZE && size < 4
}

/** Cells that the sides of outlines lie in when gaps are looked for. */
function gapWork(outlines: readonly Outline[], scale: number): number {
  let cells = 0
  const across = (one: number): number => 1 + (Math.abs(one) * scale) / LEAST_REACH
  for (const { loops } of outlines)
    for (const loop of loops)
      for (let at = 0; at < loop.length; at += 2) {
        const next = at + 2 < loop.length ? at + 2 : 0
        cells += across(loop[next]! - loop[at]!) * across(loop[next + 1]! - loop[at + 1]!)
      }
  return cells
}

function laidLoops({ loops }: Outline, { angle, shiftU, shiftV }: Placement, scale: number): Float64Array[] {
  const [c, s] = [Math.cos(angle) * scale, Math.sin(angle) * scale]
  return loops.map((loop) => {
    const laid = new Float64Array(loop.length)
    for (let at = 0; at < loop.length; at += 2) {
      laid[at] = c * loop[at]! - s * loop[at + 1]! + shiftU
      laid[at + 1] = s * loop[at]! + c * loop[at + 1]! + shiftV
    }
    return laid
  })
}
