/** A ledger in words: at most five sentences, the weightiest first, so that half a minute is enough to know. */
import { listedWords, readableNumber } from '../../base/messages/render.ts'
import type { TraitComparison, TraitState } from '../traits/trait.ts'
import { wholeText, type WholeWords } from '../whole/whole-text.ts'
import { quotedName } from '../../base/messages/names-text.ts'

type StoryCell = Pick<
  TraitComparison,
  'state' | 'empty' | 'deviation' | 'changedCount' | 'totalCount' | 'note' | 'parameters'
>

/** What a ledger says, as both the core's and the page's have it. */
export interface StoryLedger {
  readonly rows: readonly {
    readonly name: string
    readonly faceCount: number
    readonly cells: Readonly<Record<string, StoryCell | undefined>>
  }[]
  /** What belongs to the scene as a whole. */
  readonly scene: StoryCell
  readonly whole: WholeWords | null
  /** What was done to the layout of UVs of all of it; ledgers from before have none. */
  readonly layout?: { readonly text: string } | null | undefined
  readonly undone?: WholeWords | null | undefined
}

export interface StoryWords {
  /** A trait's id to what it is called. */
  readonly titleOf: (trait: string) => string
  /** The note is of what tools do of their own accord. */
  readonly isToolsOwn: (note: string) => boolean
}

const MOST_SENTENCES = 5
const MOST_NAMES = 3

const count = (number: number, one: string, many = `${one}s`): string =>
  `${readableNumber(number)} ${number === 1 ? one : many}`

function names(rows: StoryLedger['rows']): string {
  const shown = rows.slice(0, MOST_NAMES).map(({ name }) => quotedName(name))
  return rows.length > MOST_NAMES
    ? `${shown.join(', ')} and ${rows.length - MOST_NAMES} more`
    : shown.join(', ')
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)

/** On how many of the parts that came back; all of them need no number. */
const onParts = (some: number, all: number): string =>
  some === all ? (all === 1 ? '' : ' on all parts') : ` on ${some} of ${count(all, 'part')}`

const TOPOLOGY = 'topology'
const POINTS = 'points'

function wholeSentence({ whole, undone, layout }: StoryLedger): string | null {
  const words = whole ?? undone
  const laid = layout ? `its layout of UVs is ${layout.text}` : ''
  if (!words) return laid ? `${capital(laid)}.` : null
  const by = words.by === 'boxes' || words.by === 'surfaces' ? words.by : null
  const told = by ? `As far as its ${by} tell, everything` : 'Everything'
  return `${told} came back ${wholeText(words)}; ${whole ? 'what else moved can be told once that is undone' : 'that is undone here'}${laid && `; ${laid}`}.`
}

function partsSentence(rows: StoryLedger['rows']): string | null {
  const withNote = (trait: string, ...notes: string[]): StoryLedger['rows'] =>
    rows.filter(({ cells }) => notes.includes(cells[trait]?.note ?? ''))
  const lost = withNote(TOPOLOGY, 'part-lost')
  const gained = withNote(TOPOLOGY, 'part-gained')
  const inside = withNote('names', 'name-within')
  const cut = withNote('names', 'name-in-pieces')
  const renamed = withNote('names', 'renamed')
  const told = [
    lost.length &&
      `${names(lost)} did not come back; the master still has ${lost.length === 1 ? 'it' : 'them'}`,
    gained.length && `${names(gained)} ${gained.length === 1 ? 'is' : 'are'} new`,
    inside.length &&
      `${names(inside)} came back inside other parts and ${inside.length === 1 ? 'was' : 'were'} taken apart again`,
    cut.length &&
      `${names(cut)} came back in pieces and ${cut.length === 1 ? 'was' : 'were'} put together again`,
    renamed.length &&
      `${names(renamed)} came back under ${renamed.length === 1 ? 'another name' : 'other names'}`,
  ].filter(Boolean)
  return told.length ? `${capital(told.join('; '))}.` : null
}

function pointsSentence(rows: StoryLedger['rows']): string | null {
  const of = (state: TraitState) => rows.filter(({ cells }) => cells[POINTS]?.state === state)
  const weighted = rows.filter(({ cells }) => cells[POINTS]?.note === 'point-weights')
  const moved = of('changed').filter((row) => !weighted.includes(row))
  const guessed = of('guess')
  const farthest = (some: StoryLedger['rows']): string => {
    const cells = some.map(({ cells }) => cells[POINTS]!)
    const most = cells.reduce((a, b) => ((b.deviation ?? 0) > (a.deviation ?? 0) ? b : a))
    return `${readableNumber(most.deviation ?? 0)}${most.parameters.unit ?? ''}`
  }
  const nowhere = moved.filter(({ cells }) => cells[POINTS]?.note === 'points-nowhere')
  const far = moved.filter(({ cells }) => (cells[POINTS]!.deviation ?? 0) > 0)
  const told = [
    far.length ? `Points moved up to ${farthest(far)}${onParts(far.length, rows.length)}` : '',
    nowhere.length ? `${far.length ? 'c' : 'C'}oordinates of points are no numbers${onParts(nowhere.length, rows.length)}` : '', // prettier-ignore
    guessed.length
      ? `${names(guessed)} moved, by a guess: ${guessed.length > 1 ? 'each' : 'it'} could be laid in several ways, or be another that is made alike`
      : '',
    weighted.length ? `${moved.length ? 'r' : 'R'}ational weights of points changed${onParts(weighted.length, rows.length)}` : '', // prettier-ignore
  ].filter(Boolean)
  return told.length ? `${told.join('; ')}.` : null
}

function topologySentence(rows: StoryLedger['rows']): string | null {
  const having = (...notes: string[]) =>
    rows.filter(({ cells }) => notes.includes(cells[TOPOLOGY]?.note ?? ''))
  const topologyOf = ({ cells }: StoryLedger['rows'][number]): StoryCell['parameters'] =>
    cells[TOPOLOGY]?.parameters ?? {}
  // what is hardly known again is told by itself
  const known = having('topology-changed').filter((row) => !isUnknown(row))
  const over = known.filter((row) => topologyOf(row).allTurned)
  const edited = known.filter((row) => !over.includes(row) && topologyOf(row).levels)
  const changed = known.filter((row) => !over.includes(row) && !edited.includes(row))
  const [cut, split, renumbered, panels] = [
    having('polygons-cut'),
    having('points-split'),
    having('renumbered'),
    having('panels-anew'),
  ]
  const subdivided = rows.filter((row) => !known.includes(row) && !isUnknown(row) && (row.cells[TOPOLOGY]?.note === 'subdivided' || topologyOf(row).levels)) // prettier-ignore
  const overCut = over.filter((row) => topologyOf(row).cut)
  const drawn = rows.filter((row) => row.cells[TOPOLOGY]?.note === 'lines-changed' || topologyOf(row).linesGone || topologyOf(row).linesNew) // prettier-ignore
  const loose = having('points-welded', 'points-added')
  const which = (key: 'welded' | 'added' | 'lost'): StoryLedger['rows'] =>
    loose.filter((row) => topologyOf(row)[key])
  const how = [
    subdivided.length ? 'subdivided' : '',
    panels.length ? 'as panels in other polygons' : '',
    cut.length ? 'in smaller polygons' : '',
    split.length ? 'with points split off' : '',
    renumbered.length ? 'renumbered' : '',
  ].filter(Boolean)
  const whole = rows.filter((row) => [cut, split, renumbered, subdivided, panels].some((some) => some.includes(row))) // prettier-ignore
  const foundText = (some: StoryLedger['rows']): string => {
    const faces = some.reduce((sum, { faceCount }) => sum + faceCount, 0)
    const guessed = some.filter(({ cells }) => cells[TOPOLOGY]!.state === 'guess')
    const by = guessed.length === 0 ? '' : guessed.length === some.length ? ', by a guess' : `, those of ${names(guessed)} by a guess` // prettier-ignore
    // lines and points alone have none
    return faces === 0
      ? ''
      : `; ${faces === 1 ? 'its one polygon was' : `all ${count(faces, 'polygon')} were`} found again${by}`
  }
  const onSome = (some: StoryLedger['rows'], what: string): string =>
    some.length ? `${what}${onParts(some.length, rows.length)}` : ''
  const withNames = (some: StoryLedger['rows'], what: string): string =>
    some.length ? `${onSome(some, what)} (${names(some)})` : ''
  const overHow =
    overCut.length === 0
      ? onParts(over.length, rows.length)
      : overCut.length === over.length
        ? ` and in smaller polygons${onParts(over.length, rows.length)}`
        : `${onParts(over.length, rows.length)}, and in smaller polygons on ${overCut.length} of them`
  const told = [
    how.length ? `came back ${listedWords(how)}${onParts(whole.length, rows.length)}${foundText(whole)}` : '',
    over.length ? `came back turned over${overHow}${foundText(over)}` : '',
    withNames(edited, 'came back subdivided and edited'),
    withNames(changed, 'polygons changed'),
    onSome(drawn, 'lines or single points changed'),
    onSome(which('welded'), 'points were welded'),
    onSome(which('added'), 'points were added'),
    onSome(which('lost'), 'loose points are gone'),
  ].filter(Boolean)
  return told.length ? `${capital(told.join('; '))}.` : null
}

/** What changed of the scene as a whole; how large and where it is has a sentence of its own, and another space is no change. */
function sceneWords({ state, note, parameters }: StoryCell): string {
  if (state === 'same' || state === 'within') return ''
  if (note === 'scene-changed') return `of the scene: ${parameters.what}`
  return note === 'nodes-gone' ? `${parameters.what} did not come back` : ''
}

function traitsSentence(
  rows: StoryLedger['rows'],
  scene: StoryCell,
  { titleOf, isToolsOwn }: StoryWords,
): string | null {
  const lists: Record<'lost' | 'changed' | 'own' | 'gained' | 'guess', Map<string, number>> = {
    lost: new Map(),
    changed: new Map(),
    own: new Map(),
    gained: new Map(),
    guess: new Map(),
  }
  for (const { cells } of rows)
    for (const [trait, cell] of Object.entries(cells)) {
      if (!cell || cell.empty || trait === TOPOLOGY || trait === POINTS || trait === 'names') continue
      const list =
        cell.state === 'changed'
          ? lists[isToolsOwn(cell.note) ? 'own' : 'changed']
          : cell.state === 'lost' || cell.state === 'gained' || cell.state === 'guess'
            ? lists[cell.state]
            : null
      list?.set(trait, (list.get(trait) ?? 0) + 1)
    }
  const told = (list: ReadonlyMap<string, number>): string =>
    listedWords([...list].map(([trait, parts]) => `${titleOf(trait)}${parts === rows.length ? '' : ` (${count(parts, 'part')})`}`)) // prettier-ignore
  const sentences = [
    lists.lost.size ? `lost: ${told(lists.lost)}, which the master still has` : '',
    lists.changed.size ? `changed: ${told(lists.changed)}` : '',
    lists.guess.size ? `changed, by a guess: ${told(lists.guess)}` : '',
    lists.own.size ? `in another form: ${told(lists.own)}` : '',
    lists.gained.size ? `new: ${told(lists.gained)}` : '',
    sceneWords(scene),
  ].filter(Boolean)
  return sentences.length ? `${capital(sentences.join('; '))}.` : null
}

const toldNumber = (value: number | string | undefined): string =>
  typeof value === 'number' ? readableNumber(value) : (value ?? '?')

/** Whether hardly a polygon of a part is known again. */
const isUnknown = ({ cells }: StoryLedger['rows'][number]): boolean =>
  ['not-matched', 'points-surface'].includes(cells[POINTS]?.note ?? '')

/** How far surfaces of other polygons lie from the master's, where that was measured of all of them. */
function offSurface(rows: StoryLedger['rows']): string {
  const cells = rows.map(({ cells }) => cells[POINTS]!)
  if (!cells.every(({ note }) => note === 'points-surface')) return ''
  const most = cells.reduce((a, b) => ((b.deviation ?? 0) > (a.deviation ?? 0) ? b : a))
  return `; ${rows.length === 1 ? 'its surface lies' : 'their surfaces lie'} off the master’s by ${toldNumber(most.parameters.deviation)}${most.parameters.unit ?? ''} at most`
}

/** @param stands all of it stands as it stood, so that how far surfaces lie apart says what happened to them. */
function unknownSentence(rows: StoryLedger['rows'], stands: boolean): string | null {
  const unknown = rows.filter(isUnknown)
  const some = unknown.some(({ cells }) => Number(cells[POINTS]!.parameters.known ?? 0) > 0)
  const parted = rows.filter(
    (row) => !unknown.includes(row) && Object.values(row.cells).some((cell) => cell?.state === 'without'),
  )
  const told = [
    unknown.length
      ? `of ${names(unknown)} ${some ? 'hardly any' : 'no'} polygon was found again, so ${some ? 'hardly anything' : 'nothing'} is said of what lies on ${unknown.length === 1 ? 'it' : 'them'}${stands ? offSurface(unknown) : ''}`
      : '',
    parted.length ? `${names(parted)} ${parted.length === 1 ? 'has' : 'have'} elements without counterpart, which are neither same nor changed` : '', // prettier-ignore
  ].filter(Boolean)
  return told.length ? `${capital(told.join('; '))}.` : null
}

/**
 * The story of a ledger.
 *
 * @returns one to five sentences; one that says so where nothing changed.
 */
export function tellStory(ledger: StoryLedger, words: StoryWords): string[] {
  const back = ledger.rows.filter(
    ({ cells }) => !['part-lost', 'part-gained'].includes(cells[TOPOLOGY]?.note ?? ''),
  )
  const sentences = [
    wholeSentence(ledger),
    partsSentence(ledger.rows),
    ledger.whole ? null : pointsSentence(back),
    topologySentence(back),
    unknownSentence(back, !ledger.whole),
    traitsSentence(back, ledger.scene, words),
  ].filter((sentence) => sentence !== null)
  if (sentences.length > MOST_SENTENCES) {
    // what happened to all of it and to its parts is one thing to read
    const [whole, parts, ...rest] = sentences
    return [`${whole!.slice(0, -1)}; ${parts!.charAt(0).toLowerCase()}${parts!.slice(1)}`, ...rest]
  }
  if (sentences.length) return sentences
  const faces = back.reduce((sum, { faceCount }) => sum + faceCount, 0)
  return [
    faces === 0
      ? `Nothing changed: ${back.length === 1 ? 'the one part is' : `all ${count(back.length, 'part')} are`} as ${back.length === 1 ? 'it' : 'they'} left.`
      : faces === 1
        ? 'Nothing changed: the one polygon is as it left.'
        : `Nothing changed: all ${count(faces, 'polygon')} of ${count(back.length, 'part')} are as they left.`,
  ]
}
