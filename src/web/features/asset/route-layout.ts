/** Where the stops of an asset's route stand, so that any life of it fits a width. */
import type { AssetDocument, TripDocument } from '../../../contract/api.ts'

export interface VersionStop {
  readonly x: number
  readonly id: string
  readonly number: number
  readonly newest: boolean
}

export interface TripLoop {
  readonly trip: TripDocument
  /** Where it leaves and comes back, and the destination between them. */
  readonly x0: number
  readonly x1: number
  readonly middle: number
}

/** What is folded to a count: trips of one version, or all that lies before the first version that is shown. */
export interface Fold {
  readonly x: number
  readonly count: number
  readonly what: 'trips' | 'earlier'
}

export interface RouteLayout {
  readonly stops: readonly VersionStop[]
  readonly loops: readonly TripLoop[]
  readonly folds: readonly Fold[]
  /** Where the way out of the master begins. */
  readonly end: number
  readonly width: number
}

const MARGIN = 30
const LOOP = 112
const BETWEEN_LOOPS = 12
/** From a version to the next where no trip lies between; behind its trips. */
const BARE = 62
const BEHIND = 26
const FOLD = 46
const EARLIER = 62
/** Room for the way out. */
const SEND = 150

const isOpen = (trip: TripDocument): boolean => trip.state !== 'settled'

interface Group {
  readonly version: AssetDocument['versions'][number]
  /** In the order they left. */
  readonly trips: readonly TripDocument[]
}

const widthOf = (loops: number, folded: boolean): number =>
  loops === 0
    ? BARE + (folded ? FOLD : 0)
    : loops * LOOP + (loops - 1) * BETWEEN_LOOPS + BEHIND + (folded ? FOLD : 0)

/**
 * Versions and trips in the order they came: a trip stands behind the version that was sent. The newest version, and
 * every trip that waits, are always there; of the rest as many as fit, from the newest on, and the others as counts.
 *
 * @param room in pixels.
 */
export function layRoute({ versions, trips }: AssetDocument, room: number): RouteLayout {
  const groups = versions.map((version): Group => ({
    version,
    trips: trips.filter((trip) => trip.versionId === version.id),
  }))
  const newest = versions.at(-1)!
  const mustShow = ({ version, trips: own }: Group): boolean => version.id === newest.id || own.some(isOpen)
  const chosen = new Map<string, Set<string>>()
  // before each of those that have to be shown others may be folded
  let left = room - MARGIN - SEND - groups.filter(mustShow).length * EARLIER
  for (const group of groups)
    if (mustShow(group)) {
      const open = group.trips.filter(isOpen)
      chosen.set(group.version.id, new Set(open.map(({ id }) => id)))
      left -= widthOf(open.length, group.trips.length > open.length)
    }
  // then the newest of what is settled, as far as there is room
  for (const group of [...groups].reverse()) {
    const held = chosen.get(group.version.id)
    if (!held) {
      const cost = widthOf(0, group.trips.length > 0)
      if (cost > left) break
      left -= cost
      chosen.set(group.version.id, new Set())
    }
    const own = chosen.get(group.version.id)!
    for (const trip of [...group.trips].reverse()) {
      if (own.has(trip.id)) continue
      const more =
        widthOf(own.size + 1, group.trips.length > own.size + 1) -
        widthOf(own.size, group.trips.length > own.size)
      if (more > left) break
      left -= more
      own.add(trip.id)
    }
  }
  return place(groups, chosen, newest.id)
}

function place(
  groups: readonly Group[],
  chosen: ReadonlyMap<string, ReadonlySet<string>>,
  newestId: string,
): RouteLayout {
  const stops: VersionStop[] = []
  const loops: TripLoop[] = []
  const folds: Fold[] = []
  let x = MARGIN
  let hidden = 0
  for (const { version, trips } of groups) {
    const shown = chosen.get(version.id)
    if (!shown) {
      hidden += 1 + trips.length
      continue
    }
    if (hidden > 0) {
      folds.push({ x: x + 8, count: hidden, what: 'earlier' })
      x += EARLIER
      hidden = 0
    }
    stops.push({ x, id: version.id, number: version.number, newest: version.id === newestId })
    const own = trips.filter((trip) => shown.has(trip.id))
    const folded = trips.length - own.length
    let from = x
    if (folded > 0) {
      folds.push({ x: x + 32, count: folded, what: 'trips' })
      from = x + FOLD
    }
    own.forEach((trip, at) => {
      const x0 = from + (at > 0 ? BETWEEN_LOOPS : 0)
      loops.push({ trip, x0, x1: x0 + LOOP, middle: x0 + LOOP / 2 })
      from = x0 + LOOP
    })
    x = own.length > 0 ? from + BEHIND : x + BARE + (folded > 0 ? FOLD : 0)
  }
  return { stops, loops, folds, end: x, width: x + SEND }
}
