import { namesText } from '../../base/messages/names-text.ts'
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages, type MessageCollector } from '../../base/messages/collector.ts'
import type { Matrix } from '../../base/math/matrix.ts'
import { pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { nodeWithId } from '../../scene/ids.ts'
import type { Scene } from '../../scene/scene.ts'
import { keepMatching, matchScenes, restoreMatching, type SceneMatching } from '../match-scenes.ts'
import { hasNumbersOf } from '../match/correspond.ts'
import { matchParts, type PartMatch } from '../match/match-parts.ts'
import { areLeftOver, pairBySurface } from '../match/pair-by-surface.ts'
import { pairByTwins } from '../match/pair-by-twins.ts'
import { readableNumber } from '../../base/messages/render.ts'
import { findPanels } from '../panels/find-panels.ts'
import { findCages, type FoundCages } from '../subdivided/find-cages.ts'
import { joinRefinedPieces } from '../subdivided/join-refined-pieces.ts'
import { regroupParts, type Regrouping } from '../regroup/regroup-parts.ts'
import type { MatchedPart } from '../traits/trait.ts'
import { findAlignment } from '../whole/find-alignment.ts'
import { findWholeChange } from '../whole/find-whole-change.ts'
import { findToolWay } from '../whole/tool-ways.ts'
import { undoWhole } from '../whole/undo-whole.ts'
import { cameAnotherWay } from './another-way.ts'
import { settleByLabels } from './settle-by-labels.ts'
import { settleTwins } from './settle-twins.ts'
import type { WholeChange } from '../whole/whole-change.ts'

/** What came back, in the form in which it is compared, and which of its elements is which. */
export interface RecognisedReturn {
  readonly returned: Scene
  readonly matching: SceneMatching
  /** What happened to all of it and is undone in `returned`; null where nothing is. */
  readonly undone: WholeChange | null
  /** What was done to the whole layout of UVs and is undone in `returned`. */
  readonly layoutUndone?: { readonly text: string } | null
  readonly findings: readonly Finding[]
}

export interface HandPair {
  readonly part: string
  readonly returnedNode: number
  readonly name: string
}

export interface RecogniseOptions {
  /** A size, turn, mirror or move that all parts share is undone first. */
  readonly undoWhole?: boolean
  /** Parts that somebody has paired by hand: the id of the master's node, and the place and name of the returned one's. */
  readonly pairs?: readonly HandPair[]
}

/** Parts of which less than this share of the points was found are looked for once more where they stood. */
const WELL_FOUND = 0.98

/** Parts of which less than this share was found may hold polygons of others. */
const POORLY_FOUND = 0.9

function foundShare({ master, correspondence: { pointToReturned } }: MatchedPart): number {
  let found = 0
  for (const point of pointToReturned) if (point >= 0) found++
  return found / Math.max(1, pointCountOf(master))
}

/** Whether a part that has its name on both sides is left without a partner. */
function losesNamed(before: readonly PartMatch[], after: readonly PartMatch[]): boolean {
  const paired = new Set(
    after.flatMap(({ masterNode, returnedNode }) => (returnedNode >= 0 ? [masterNode] : [])),
  )
  return before.some(
    ({ masterNode, returnedNode, by }) =>
      returnedNode >= 0 && (by === 'path' || by === 'name' || by === 'hand') && !paired.has(masterNode),
  )
}

/** Whether each part of the master has the same partner. */
function samePartners(a: readonly PartMatch[], b: readonly PartMatch[]): boolean {
  const partner = new Map(a.map(({ masterNode, returnedNode }) => [masterNode, returnedNode]))
  return b.every(({ masterNode, returnedNode }) => masterNode < 0 || partner.get(masterNode) === returnedNode)
}

/** The same, with partners for parts that had none. */
function withPairs(pairs: readonly PartMatch[], more: readonly PartMatch[]): readonly PartMatch[] {
  const paired = new Map(more.map((found) => [found.masterNode, found]))
  const partners = new Set(more.map(({ returnedNode }) => returnedNode))
  return pairs.flatMap((one) =>
    one.masterNode < 0 && partners.has(one.returnedNode) ? [] : [paired.get(one.masterNode) ?? one],
  )
}

/** Points of all parts that have a counterpart. */
const foundCount = ({ matched }: SceneMatching): number =>
  matched.reduce((sum, part) => sum + foundShare(part) * pointCountOf(part.master), 0)

const isWellFound = ({ matched }: SceneMatching): boolean =>
  matched.every((part) => foundShare(part) >= WELL_FOUND)

const isPoorlyFound = ({ matched }: SceneMatching): boolean =>
  matched.length > 1 && matched.some((part) => foundShare(part) < POORLY_FOUND)

/** The same, with parts marked about which another answer is borne out nearly as well. */
const markGuesses = (
  { matched, unmatched }: SceneMatching,
  isGuess: (match: PartMatch) => boolean,
): SceneMatching => ({
  unmatched,
  matched: matched.map((part) =>
    isGuess(part.match) ? { ...part, correspondence: { ...part.correspondence, guess: true } } : part,
  ),
})

/** Metres; seams that stand open less are closed. */
const CLOSED = 1e-6

/** Parts of the master that hardly any point of was found. */
function poorlyFoundNodes(master: Scene, { matched }: SceneMatching): number[] {
  const found = new Map(matched.map((part) => [part.match.masterNode, foundShare(part)]))
  return master.nodes.flatMap(({ mesh }, node) =>
    mesh >= 0 && (found.get(node) ?? 0) < POORLY_FOUND ? [node] : [],
  )
}

/** How all of it stands otherwise than it stood; not asked where every part has its numbering, which says it all. */
function alignmentOf(master: Scene, read: Scene, pairs: readonly PartMatch[]): Matrix | null {
  const meshOf = (scene: Scene, node: number): Mesh => scene.meshes[scene.nodes[node]!.mesh]!
  const renumbered = pairs.some(
    ({ masterNode, returnedNode }) =>
      masterNode >= 0 &&
      returnedNode >= 0 &&
      !hasNumbersOf(meshOf(master, masterNode), meshOf(read, returnedNode)),
  )
  return renumbered ? findAlignment(master, read, pairs).along : null
}

/** @param messages gets `return.parts-merged`, `return.part-cut` and `return.parts-regrouped`. */
function tellRegrouping({ told }: Regrouping, messages: MessageCollector): void {
  const cut = told.filter(({ parts, cameAs }) => parts.length === 1 && cameAs.length > 1)
  if (cut.length)
    messages.add('return.part-cut', {
      count: cut.length,
      parts: namesText(cut.flatMap(({ parts }) => parts)),
      pieces: cut.reduce((sum, { cameAs }) => sum + cameAs.length, 0),
      as: namesText(cut.flatMap(({ cameAs }) => cameAs)),
    })
  for (const { parts, cameAs } of told) {
    const [own, came] = [namesText(parts), namesText(cameAs)]
    if (cameAs.length === 1)
      messages.add('return.parts-merged', { count: parts.length, parts: own, as: came })
    else if (parts.length > 1) messages.add('return.parts-regrouped', { parts: own, as: came })
  }
}

/** Pairs of parts that are still there under the names they were paired by; each part goes with one other. */
function handPairs(master: Scene, came: Scene, pairs: readonly HandPair[]): PartMatch[] {
  const taken = new Set<string>()
  return pairs.flatMap(({ part, returnedNode, name }): PartMatch[] => {
    const masterNode = nodeWithId(master, part)
    const there = came.nodes[returnedNode]
    if (masterNode < 0 || master.nodes[masterNode]!.mesh < 0 || there?.name !== name || there.mesh < 0)
      return []
    if (taken.has(`m${masterNode}`) || taken.has(`r${returnedNode}`)) return []
    taken.add(`m${masterNode}`).add(`r${returnedNode}`)
    return [{ masterNode, returnedNode, by: 'hand' }]
  })
}

/** @param messages gets `return.subdivided`. */
function tellCages({ told, scheme }: FoundCages, messages: MessageCollector): void {
  const byLevels = new Map<number, typeof told>()
  for (const part of told) byLevels.set(part.levels, [...(byLevels.get(part.levels) ?? []), part])
  for (const [levels, parts] of byLevels)
    messages.add('return.subdivided', {
      parts: namesText(parts.map(({ name }) => name)),
      count: levels,
      scheme: schemeText(scheme),
      faces: parts.reduce((sum, { faces }) => sum + faces, 0),
      rest: parts.reduce((sum, { rest }) => sum + rest, 0),
    })
}

const schemeText = ({ smooth, creases }: FoundCages['scheme']): string =>
  smooth ? `smoothly${creases ? ' with its creases' : ''}` : 'without smoothing'

/**
 * Recognises what tools did to a whole file on a trip, and which of its elements is which of the master's.
 *
 * The findings tell what was done to it for that: `return.parts-merged`, `return.part-cut`, `return.parts-regrouped`,
 * `return.subdivided`.
 */
export function recogniseScene(
  master: Scene,
  came: Scene,
  { undoWhole: undoes = false, pairs: byHand = [] }: RecogniseOptions = {},
  progress: (share: number) => void = () => {},
): RecognisedReturn {
  let read = came
  const hand = handPairs(master, came, byHand)
  let pairs: readonly PartMatch[] = matchParts(master, came, hand)
  const levels = new Map<number, number>()
  /** How many panels a part's polygons were laid over, by its returned node. */
  const panels = new Map<number, number>()
  /** Pairs by their polygons, of all regroupings so far, and by the surfaces on which they lie. */
  let byPieces: readonly PartMatch[] = []
  let byTwins: readonly PartMatch[] = []
  const pair = (known: readonly PartMatch[] = []): void => {
    // what somebody has said stands before what polygons say, as long as the part is still one
    const said = hand.filter(({ returnedNode }) => read.nodes[returnedNode]!.mesh >= 0)
    const taken = new Set<string>()
    const all = [...said, ...known, ...byPieces, ...byTwins].filter(({ masterNode, returnedNode }) => {
      const [own, other] = [`m${masterNode}`, `r${returnedNode}`]
      if (taken.has(own) || taken.has(other) || read.nodes[returnedNode]!.mesh < 0) return false
      taken.add(own).add(other)
      return true
    })
    byPieces = all.filter(({ by }) => by === 'pieces' || by === 'place')
    pairs = matchParts(master, read, all).map((match) => {
      const own = levels.get(match.returnedNode)
      const laid = panels.get(match.returnedNode)
      return {
        ...match,
        ...(own === undefined ? {} : { levels: own }),
        ...(laid === undefined ? {} : { panels: laid }),
      }
    })
  }
  /** @returns whether parts were taken apart or put together; what that has to say is added to `told`. */
  const regroup = (scene: Scene, doubts: boolean, told: MessageCollector): boolean => {
    const found = regroupParts(master, scene, pairs, doubts, () => findAlignment(master, scene, pairs))
    if (!found) return false
    tellRegrouping(found, told)
    read = found.scene
    pair(found.pairs)
    return true
  }
  const match = (told: (share: number) => void = () => {}): SceneMatching =>
    matchScenes(master, read, told, pairs, alignmentOf(master, read, pairs))
  /**
   * Alike parts with other polygons than they had speak for each other: a regrouping that leaves parts without a partner
   * which they had by name has to find more than that.
   * @returns the matching as it was before it, where that finds more; all stands so again then.
   */
  const withoutRegrouping = (
    before: {
      readonly read: Scene
      readonly pairs: readonly PartMatch[]
      readonly byPieces: readonly PartMatch[]
    },
    found: SceneMatching,
  ): SceneMatching | null => {
    if (!losesNamed(before.pairs, pairs)) return null
    const after = { read, pairs, byPieces }
    ;({ read, pairs, byPieces } = before)
    const matched = match()
    if (foundCount(matched) > foundCount(found)) return matched
    ;({ read, pairs, byPieces } = after)
    return null
  }
  const asItCame = { read, pairs, byPieces }
  let messages = collectMessages(null)
  regroup(came, false, messages)
  const pieces = joinRefinedPieces(master, read, pairs)
  if (pieces) {
    tellRegrouping(pieces, messages)
    read = pieces.scene
    pair(pieces.pairs)
    // the others are known by their surfaces once there are as many
    regroup(read, false, messages)
  }
  const cages = findCages(
    master,
    read,
    pairs,
    (coarse) =>
      findAlignment(master, coarse, pairs).along ??
      findAlignment(master, came, matchParts(master, came, hand)).along,
  )
  if (cages) {
    tellCages(cages, messages)
    read = cages.scene
    for (const match of cages.pairs) if (match.levels) levels.set(match.returnedNode, match.levels)
    pairs = cages.pairs
  }
  if (areLeftOver(pairs)) {
    // what tools do is soon tried
    const way = findToolWay(master, read)
    let bySurface = way ? pairBySurface(master, read, pairs, way) : []
    if (bySurface.length === 0) {
      const { along, fits } = findAlignment(master, read, pairs, true)
      if (fits) bySurface = pairBySurface(master, read, pairs, along)
    }
    byPieces = [...byPieces, ...bySurface]
    pairs = withPairs(pairs, bySurface)
    byTwins = pairByTwins(master, read, pairs)
    pairs = withPairs(pairs, byTwins)
  }
  let matching = match((share) => progress(share * 0.5))
  const without = withoutRegrouping(asItCame, matching)
  if (without) {
    matching = without
    messages = collectMessages(null)
    levels.clear()
  }
  // panels of other polygons are known by their outlines
  const lost = poorlyFoundNodes(master, matching)
  const sewn = lost.length ? findPanels(master, came, lost) : null
  if (sewn) {
    read = sewn.scene
    levels.clear()
    for (const one of sewn.pairs) panels.set(one.returnedNode, one.panels!)
    byPieces = sewn.pairs
    pair()
    matching = match()
    messages = collectMessages(null)
    messages.add('return.panels', {
      parts: namesText(sewn.told.map(({ name }) => name)),
      count: sewn.told.reduce((sum, part) => sum + part.panels, 0),
      gap: sewn.gap < CLOSED ? '' : `${readableNumber(sewn.gap * 1000)} mm`,
    })
  }
  // names may lie: what fits hardly anywhere is looked for by its polygons, and kept where that finds more
  let doubted: readonly Finding[] = []
  if (isPoorlyFound(matching)) {
    const before = { read, pairs, byPieces, matching }
    const doubts = collectMessages(null)
    if (regroup(read, true, doubts)) {
      matching = match()
      if (foundCount(matching) > foundCount(before.matching)) doubted = doubts.list()
      else ({ read, pairs, byPieces, matching } = before)
    }
  }
  matching = settleByLabels(master, read, matching)
  // where each part may lie otherwise, how all of it was turned is no surer than that
  const isAllGuessed = matching.matched.length > 0 && matching.matched.every(({ correspondence }) => correspondence.guess) // prettier-ignore
  const change = findWholeChange(master, read, matching.matched)
  const isGuessedCage = ({ masterNode, returnedNode }: PartMatch): boolean =>
    levels.has(returnedNode) && cages?.guesses.has(masterNode) === true
  const done = (): RecognisedReturn => ({
    returned: read,
    matching,
    undone: null,
    findings: [...messages.list(), ...doubted],
  })
  const asItStands = read
  /** Twins may be others than they were taken for, and all of it may have moved otherwise then. */
  const settled = (result: RecognisedReturn): RecognisedReturn => {
    if (result.returned.nodes.length !== asItStands.nodes.length)
      return { ...result, matching: settleByLabels(master, result.returned, result.matching) }
    const marked = (found: SceneMatching, guesses: ReadonlySet<number> = new Set()): SceneMatching => {
      const own = settleByLabels(master, asItStands, found)
      const isGuess = cameAnotherWay(master, asItStands, own)
      return markGuesses(own, (match) => isGuess || guesses.has(match.masterNode) || isGuessedCage(match))
    }
    const twins = settleTwins(master, asItStands, result.matching)
    if (!twins) return { ...result, matching: marked(result.matching) }
    if (!twins.pairs) return { ...result, matching: marked(result.matching, twins.guesses) }
    const found = matchScenes(master, asItStands, () => {}, twins.pairs, twins.along)
    const whole = findWholeChange(master, asItStands, found.matched)
    if (!whole || !undoes)
      return { ...result, returned: asItStands, matching: marked(found, twins.guesses), undone: null }
    const scene = undoWhole(asItStands, whole)
    const standing = matchScenes(master, scene, () => {}, twins.pairs)
    return { ...result, returned: scene, matching: marked(standing, twins.guesses), undone: whole }
  }
  if (!change) return settled(done())
  if (undoes) {
    read = undoWhole(read, change)
    // places say more once all of it stands where it stood
    pair()
    const asUndone = { read, pairs, byPieces }
    const told = collectMessages(null)
    regroup(read, false, told)
    matching = match((share) => progress(0.6 + share * 0.4))
    matching = withoutRegrouping(asUndone, matching) ?? matching
    if (read !== asUndone.read) doubted = [...doubted, ...told.list()]
    const result = settled({ ...done(), undone: change })
    // what neither turned nor was mirrored assumes least
    return isAllGuessed && (change.turn || change.mirror)
      ? { ...result, matching: markGuesses(result.matching, () => true) }
      : result
  }
  // places say which is which only where all of it stands as it stood; a mirror would turn the corners
  if (change.mirror) return settled(done())
  const standing = { read, pairs, byPieces }
  read = undoWhole(read, change)
  pair()
  // names that were exchanged are so still; what came in other pieces stays as it is
  const again = regroupParts(master, read, pairs)
  if (again?.told.length === 0) pair(again.pairs)
  const [undone, partners] = [read, pairs]
  read = standing.read
  byPieces = standing.byPieces
  // twins named alike go by their places too, however well they fit each other
  if (isWellFound(matching) && samePartners(standing.pairs, partners)) return settled(done())
  const found = matchScenes(master, undone, (share) => progress(0.6 + share * 0.4), partners)
  const there = restoreMatching(master, read, keepMatching(found))
  if (there) matching = there
  return settled(done())
}
