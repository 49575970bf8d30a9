/**
 * Which of parts that are made alike is which, where names, places and the order of a file say different things: names were
 * swapped, twins changed places, or all of it was turned or mirrored onto itself. Each way in which all of it may have
 * moved gives every part its place; the one that most of what the file still has bears out is taken.
 */
import { diagonalOf, type Box } from '../../base/math/box.ts'
import { invertAffine, isNearly, type Matrix } from '../../base/math/matrix.ts'
import { drawnBounds } from '../../scene/mesh-bounds.ts'
import { IDENTITY_MATRIX, type Scene } from '../../scene/scene.ts'
import { spaceMatrix } from '../../scene/space.ts'
import type { SceneMatching } from '../match-scenes.ts'
import type { PartMatch } from '../match/match-parts.ts'
import { fitsByOrder } from '../match/order-fits.ts'
import { findAlignment } from '../whole/find-alignment.ts'
import { similarityMatrix } from '../whole/similarity.ts'
import { partsOf, sharesLayout, wayOf, type Part } from './standing-parts.ts'

/** Parts and ways of which more are not looked at, and parts that are asked how all of it moved, the largest ones. */
const MOST_PARTS = 400
const MOST_WAYS = 24
const MOST_ASKED = 5
/** Parts of which the order of their elements is held against a way: to ask all of hundreds takes half a minute. */
const MOST_ORDERED = 16
/** Corners of a part's box lie within this share of its diagonal where it stands in its place, edits of it included. */
const IN_PLACE = 0.12
/** What is left of a part's spread once it is brought along, where it is about the same. */
const ABOUT_THERE = 0.05
/** Two ways are one where they turn and size this nearly alike, and move as nearly as a share of the largest part. */
const SAME_TURN = 0.03
const SAME_MOVE = 0.05
/** A place is borne out by a whole shape, a name by somebody's typing. */
const PLACE_COUNTS = 1.5
/** And one that is the same to within this share of its diagonal by more. */
const TO_THE_DIGIT = 1e-4
const DIGITS_COUNT = 0.5
/** UVs of its own tell a part from any other, where nobody touched them. */
const LAYOUT_COUNTS = 2
/** Of each part about which two answers differ so much more has to be borne out for the better one to be certain. */
const SURELY = 1

/** Which returned part each of the master's is, by their numbers in the lists; -1 for none. */
type Partners = readonly number[]

interface Answer {
  readonly partners: Partners
  /** From the master to what came back. */
  readonly way: Matrix
}

export interface SettledTwins {
  /** All pairs; null where they stay as they were. */
  readonly pairs: readonly PartMatch[] | null
  /** From what came back to where the master stands, in the master's space. */
  readonly along: Matrix | null
  /** Nodes of the master about which another answer is borne out nearly as well. */
  readonly guesses: ReadonlySet<number>
}

/** The parts of both sides, as they are paired now. */
interface Sides {
  readonly own: readonly Part[]
  readonly came: readonly Part[]
  readonly partners: Partners
  /** Those that have as many points, polygons and corners, each list in the order of the master. */
  readonly alike: readonly (readonly number[])[]
  /** Diagonal of the largest part. */
  readonly size: number
  /** By returned nodes that were put together or taken out of others: what the parts were called that held them. */
  readonly heldIn: ReadonlyMap<number, readonly string[]>
}

function sidesOf(master: Scene, base: Scene, { matched, unmatched }: SceneMatching): Sides {
  const left = unmatched.flatMap(({ masterNode }) => (masterNode >= 0 ? [masterNode] : []))
  const nodes = [...matched.map(({ match }) => match.masterNode), ...left].sort((a, b) => a - b)
  const own = partsOf(master, nodes, IDENTITY_MATRIX)
  const came = partsOf(base, matched.map(({ match }) => match.returnedNode), spaceMatrix(base.space, master.space)) // prettier-ignore
  const cameAt = new Map(came.map(({ node }, at) => [node, at]))
  const partnerNode = new Map(matched.map(({ match }) => [match.masterNode, match.returnedNode]))
  const byHand = new Set(matched.flatMap(({ match }) => (match.by === 'hand' ? [match.masterNode] : [])))
  const byCounts = new Map<string, number[]>()
  own.forEach(({ counts, node }, at) => {
    if (!byHand.has(node)) byCounts.set(counts, [...(byCounts.get(counts) ?? []), at])
  })
  return {
    own,
    came,
    partners: own.map(({ node }) => cameAt.get(partnerNode.get(node) ?? -1) ?? -1),
    alike: [...byCounts.values()].filter((members) => members.length > 1),
    size: own.reduce((most, { box }) => Math.max(most, diagonalOf(box)), 0),
    heldIn: new Map(
      matched.flatMap(({ match }) => (match.by === 'pieces' ? [[match.returnedNode, match.from ?? []]] : [])),
    ),
  }
}

function isSameWay(a: Matrix, b: Matrix, size: number): boolean {
  const scale = Math.hypot(a[0]!, a[1]!, a[2]!)
  return isNearly(a, b, SAME_TURN * scale, SAME_MOVE * size * scale)
}

/** Whether a box that was moved is where a part stands, about. */
function standsIn(moved: Box | null, place: Box, share = IN_PLACE): boolean {
  if (!moved) return false
  const within = diagonalOf(place) * share
  return [0, 1, 2].every(
    (axis) =>
      Math.abs(moved.min[axis]! - place.min[axis]!) <= within &&
      Math.abs(moved.max[axis]! - place.max[axis]!) <= within,
  )
}

/** The boxes of what came back, brought along to where the master stands; null where a way can't be undone. */
function broughtBack(came: readonly Part[], way: Matrix): (Box | null)[] {
  const back = invertAffine(way)
  return came.map(({ mesh }) => back && drawnBounds(mesh, back))
}

/** Those of a kind each in the place where it stands along a way; others keep their partners. */
function placedAlong({ own, came, partners, alike }: Sides, way: Matrix): Partners {
  const boxes = broughtBack(came, way)
  const found = [...partners]
  for (const members of alike) {
    const open = new Set(members.flatMap((at) => (partners[at]! >= 0 ? [partners[at]!] : [])))
    const free = new Set(members)
    const take = (at: number, other: number): void => {
      found[at] = other
      free.delete(at)
      open.delete(other)
    }
    for (const at of members) found[at] = -1
    for (const other of [...open]) {
      const there = [...free].filter((at) => standsIn(boxes[other]!, own[at]!.box))
      if (there.length === 1) take(there[0]!, other)
    }
    // what stands in no place keeps its partner as far as that is free, and takes what is left else
    for (const at of [...free]) if (open.has(partners[at]!)) take(at, partners[at]!)
    for (const other of [...open]) take([...free][0]!, other)
  }
  return found
}

/** Whether a part stands among those of its kind in the file where it stood, by an answer. */
function isInOrder(
  came: readonly Part[],
  partners: Partners,
  members: readonly number[],
  at: number,
): boolean {
  const nodeOf = (member: number): number => came[partners[member]!]!.node
  return members.every((member) => {
    if (member === at || partners[member]! < 0) return true
    return member < at === nodeOf(member) < nodeOf(at)
  })
}

/** Ways in which one part moved to another, going by the order of its elements; asked once of each two. */
function createWays({ own, came }: Sides): (at: number, other: number) => readonly Matrix[] {
  const known = new Map<string, readonly Matrix[]>()
  return (at, other) => {
    const key = `${at} ${other}`
    let found = known.get(key)
    if (!found) {
      const fits = [...fitsByOrder(own[at]!.mesh, came[other]!.mesh, true)]
      found = fits.filter((fit) => fit.off <= fit.spread * ABOUT_THERE).map(similarityMatrix)
      known.set(key, found)
    }
    return found
  }
}

/** Ways that bring all of it about to where it stands, whatever is which. */
function alignedWays(master: Scene, base: Scene, { matched, unmatched }: SceneMatching): Matrix[] {
  const { along, others } = findAlignment(master, base, [...matched.map(({ match }) => match), ...unmatched])
  return [along, ...others].map((one) => one && invertAffine(one)).filter((way) => way !== null)
}

/** Ways in which all of it may have moved: as it is taken to have, and as the order of its largest parts says. */
function likelyWays(
  sides: Sides,
  way: Matrix,
  more: readonly Matrix[],
  asked: readonly number[],
  waysOf: ReturnType<typeof createWays>,
) {
  const { came, partners, alike, size } = sides
  const ways: Matrix[] = [way]
  // none of it may have moved, or all of it as tools move things
  for (const one of [IDENTITY_MATRIX, ...more])
    if (!ways.some((known) => isSameWay(known, one, size))) ways.push(one)
  const tried = new Set<number>()
  for (const at of asked) {
    const kind = alike.findIndex((list) => list.includes(at))
    const members = alike[kind] ?? [at]
    const there = members.flatMap((member) => (partners[member]! >= 0 ? [partners[member]!] : []))
    const byFile = there.sort((a, b) => came[a]!.node - came[b]!.node)[members.indexOf(at)] ?? -1
    // merged, or with one left away, the first of a few may be any of them
    const anyOf = kind >= 0 && !tried.has(kind) && there.length <= MOST_ASKED ? there : []
    tried.add(kind)
    for (const other of new Set([partners[at]!, byFile, ...anyOf]))
      for (const one of other < 0 ? [] : waysOf(at, other))
        if (ways.length < MOST_WAYS && !ways.some((known) => isSameWay(known, one, size))) ways.push(one)
  }
  return ways
}

/** Whether what a returned part is called says that it is the master's of that number. */
function isNamed({ own, came, alike, heldIn }: Sides, at: number, other: number): boolean {
  const { name } = own[at]!
  if (name === '') return false
  const holders = heldIn.get(came[other]!.node)
  if (!holders) return name === came[other]!.name
  // what was put together is called after what it was taken for: only the pieces' own names say anything
  const members = alike.find((list) => list.includes(at)) ?? [at]
  return (
    holders.length > 0 &&
    holders.every((holder) => {
      const meant = members.map((member) => own[member]!.name).filter((one) => holder.startsWith(one))
      return meant.includes(name) && meant.every((one) => one.length <= name.length)
    })
  )
}

/** How much bears an answer out, of some parts: their places, names, order in the file and order of their elements. */
function borneOut(
  sides: Sides,
  { partners, way }: Answer,
  some: readonly number[],
  waysOf: ReturnType<typeof createWays>,
): number {
  const { own, came, alike, size, heldIn } = sides
  const boxes = broughtBack(came, way)
  const stands = (at: number): boolean => partners[at]! >= 0 && standsIn(boxes[partners[at]!]!, own[at]!.box)
  // a way that one part alone stands by is no more than how that part moved
  const standing = some.filter(stands).length
  const saysPlaces = standing > 1 || some.length === 1 || isSameWay(way, IDENTITY_MATRIX, size)
  return some.reduce((sum, at, place) => {
    const other = partners[at]!
    if (other < 0) return sum
    const members = alike.find((list) => list.includes(at))
    // what was put together stands in no order of its own
    const keepsPlaceInFile = members !== undefined && !heldIn.has(came[other]!.node) && isInOrder(came, partners, members, at) // prettier-ignore
    const isThere = stands(at)
    // what moved on its own may have kept its order as well
    const keepsOrder =
      place < MOST_ORDERED && waysOf(at, other).some((one) => !isThere || isSameWay(one, way, size))
    const looks = Number(sharesLayout(own[at]!, came[other]!)) * LAYOUT_COUNTS + Number(own[at]!.materials === came[other]!.materials) // prettier-ignore
    return (
      sum +
      looks +
      (isThere && saysPlaces ? PLACE_COUNTS : 0) +
      (isThere && saysPlaces && standsIn(boxes[other]!, own[at]!.box, TO_THE_DIGIT) ? DIGITS_COUNT : 0) +
      Number(isNamed(sides, at, other)) +
      Number(keepsPlaceInFile) +
      Number(keepsOrder)
    )
  }, 0)
}

/**
 * @param base what came back, as it came. @param matching of it, by numbers of its elements.
 * @returns null where nothing is alike, or all says the same.
 */
export function settleTwins(master: Scene, base: Scene, matching: SceneMatching): SettledTwins | null {
  const { matched, unmatched } = matching
  if (matched.length === 0 || matched.length + unmatched.length > MOST_PARTS) return null
  const sides = sidesOf(master, base, matching)
  const { own, came, partners } = sides
  const way = sides.alike.length ? wayOf(own, came, matching) : null
  if (!way) return null
  const asked = own
    .map(({ pointCount }, at) => ({ at, pointCount }))
    .sort((a, b) => b.pointCount - a.pointCount)
    .slice(0, MOST_ASKED)
    .map(({ at }) => at)
  const waysOf = createWays(sides)
  const differing = (a: Partners, b: Partners): number[] => own.flatMap((_part, at) => (a[at] === b[at] ? [] : [at])) // prettier-ignore
  const ways = likelyWays(sides, way, alignedWays(master, base, matching), asked, waysOf)
  const others = ways
    .map((along): Answer => ({ partners: placedAlong(sides, along), way: along }))
    .filter((answer) => differing(answer.partners, partners).length > 0)
  if (others.length === 0) return null
  // twins that went each its own way say nothing of how all of it moved
  const current = ways.map((along): Answer => ({ partners, way: along }))
  const some = [...new Set([...asked, ...others.flatMap((answer) => differing(answer.partners, partners))])]
  const judged = [...current, ...others]
    .map((answer) => ({ answer, borne: borneOut(sides, answer, some, waysOf) }))
    .sort((a, b) => b.borne - a.borne)
  const best = judged[0]!
  const guesses = new Set<number>()
  for (const { answer, borne } of judged.slice(1)) {
    const parts = differing(answer.partners, best.answer.partners)
    if (best.borne - borne < SURELY * parts.length) for (const at of parts) guesses.add(own[at]!.node)
  }
  if (best.answer.partners === partners) return guesses.size ? { pairs: null, along: null, guesses } : null
  const stood = new Map(matched.map(({ match }) => [match.masterNode, match]))
  const known = new Map(matched.map(({ match }) => [match.returnedNode, match]))
  const pairs = own.map(({ node: masterNode }, at): PartMatch => {
    const other = best.answer.partners[at]!
    const was = stood.get(masterNode)
    if (was && other === partners[at]) return was
    return other < 0
      ? { masterNode, returnedNode: -1, by: 'none' }
      : { ...known.get(came[other]!.node)!, masterNode, by: 'place' }
  })
  // parts without a point stand nowhere and stay as they are
  const standing = new Set(own.map(({ node }) => node))
  const still = [...matched.map(({ match }) => match), ...unmatched].filter(({ masterNode }) => masterNode < 0 || !standing.has(masterNode)) // prettier-ignore
  return { pairs: [...pairs, ...still], along: invertAffine(best.answer.way), guesses }
}
