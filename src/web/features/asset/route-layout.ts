/** Where the stops of an asset's route stand, so that any life of it fits a width. */
import type { AssetDocument, TripDocument } from '../../../contract/api.ts'

export interface VersionStop {
  readonly x: number
  readonly id: string
  readonly number: number
  readonly newest: boolean
  /** What it was made of, where a trip came home into it; empty for others. */
  readonly madeOf: string
}

export interface TripLoop {
  readonly trip: TripDocument
  /** Above the line; a trip that was out at the same time runs below it. */
  readonly side: 'above' | 'below'
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
  /** Some loops run below the line. */
  readonly parallel: boolean
  /** Where the way out of the master begins. */
  readonly end: number
  readonly width: number
}

const MARGIN = 30
const LOOP = 112
/** Where loops run on both sides of the line, their words stand inside them. */
const PARALLEL_LOOP = 186
const BETWEEN_LOOPS = 12
/** From a version to the next where no trip lies between; behind its trips. */
const BARE = 62
const BEHIND = 26
const FOLD = 46
const EARLIER = 62
/** Room for the way out. */
const SEND = 150

/** Trips in the order they left; two and two where the second left before the first had become a version. */
function columnsOf({ versions }: AssetDocument, trips: readonly TripDocument[]): TripDocument[][] {
  const columns: TripDocument[][] = []
  // empty for one that is over without a version: nothing was out beside it as far as the route shows
  const settledAt = ({ resultVersionId, state }: TripDocument): string | null =>
    state === 'closed' ? '' : (versions.find(({ id }) => id === resultVersionId)?.createdAt ?? null)
  for (const trip of trips) {
    const last = columns.at(-1)
    const before = last?.length === 1 ? settledAt(last[0]!) : ''
    if (before === null || (before && trip.sentAt < before)) last!.push(trip)
    else columns.push([trip])
  }
  return columns
}

/** The trip whose return a version was made of, and the version that it was brought together with. */
function madeOf({ trips }: AssetDocument, version: AssetDocument['versions'][number]): string {
  const trip = trips.find(({ resultVersionId }) => resultVersionId === version.id)
  if (!trip) return ''
  return trip.versionNumber === version.number - 1
    ? `trip ${trip.number}`
    : `trip ${trip.number} on ${version.number - 1}`
}

const isOpen = ({ state }: TripDocument): boolean => state === 'out' || state === 'back'

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
export function layRoute(asset: AssetDocument, room: number): RouteLayout {
  const { versions, trips } = asset
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
  const parallel = place(asset, groups, chosen, newest.id, true)
  return parallel.parallel && parallel.width <= room
    ? parallel
    : place(asset, groups, chosen, newest.id, false)
}

function place(
  asset: AssetDocument,
  groups: readonly Group[],
  chosen: ReadonlyMap<string, ReadonlySet<string>>,
  newestId: string,
  pairs: boolean,
): RouteLayout {
  const shownOf = (trips: readonly TripDocument[], shown: ReadonlySet<string>): TripDocument[][] => {
    const own = trips.filter(({ id }) => shown.has(id))
    return pairs ? columnsOf(asset, own) : own.map((trip) => [trip])
  }
  const parallel = groups.some(({ version, trips }) =>
    shownOf(trips, chosen.get(version.id) ?? new Set()).some(({ length }) => length > 1),
  )
  const loopWidth = parallel ? PARALLEL_LOOP : LOOP
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
    stops.push({
      x,
      id: version.id,
      number: version.number,
      newest: version.id === newestId,
      madeOf: madeOf(asset, version),
    })
    const own = trips.filter((trip) => shown.has(trip.id))
    const folded = trips.length - own.length
    let from = x
    if (folded > 0) {
      folds.push({ x: x + 32, count: folded, what: 'trips' })
      from = x + FOLD
    }
    shownOf(own, shown).forEach((column, at) => {
      const x0 = from + (at > 0 ? BETWEEN_LOOPS : 0)
      column.forEach((trip, lane) =>
        loops.push({
          trip,
          side: lane ? 'below' : 'above',
          x0,
          x1: x0 + loopWidth,
          middle: x0 + loopWidth / 2,
        }),
      )
      from = x0 + loopWidth
    })
    x = own.length > 0 ? from + BEHIND : x + BARE + (folded > 0 ? FOLD : 0)
  }
  return {
    stops,
    loops,
    folds,
    parallel: loops.some(({ side }) => side === 'below'),
    end: x,
    width: x + SEND,
  }
}
