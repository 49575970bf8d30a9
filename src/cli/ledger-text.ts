/** Ledgers as the command line prints them. */
import { isTaken, type Ledger } from '../core/compare/ledger.ts'
import type { SceneMatching } from '../core/compare/match-scenes.ts'
import { tellStory } from '../core/compare/story/tell-story.ts'
import {
  NOTES,
  noteText,
  TRAIT_DESCRIPTORS,
  TRAIT_KINDS,
  type Trait,
} from '../core/compare/traits/registry.ts'
import type { TraitComparison } from '../core/compare/traits/trait.ts'
import type { Scene } from '../core/scene/scene.ts'
import { wholeText } from '../core/compare/whole/whole-text.ts'
import { writtenText } from '../core/trips/forecast-text.ts'
import { foldLines, type FoldedLine } from './fold.ts'
import { shownName } from '../core/base/messages/names-text.ts'

/** Whether two files are compared, one of which came back, or one that was just written with what it was written from. */
export type Told = 'returned' | 'written'
const sentenceOf = ({ note, parameters }: TraitComparison, told: Told): string =>
  told === 'written' ? writtenText(note, parameters, TRAIT_KINDS) : noteText(note, parameters)

const cellDocument = (cell: TraitComparison, told: Told) => ({
  state: cell.state,
  empty: cell.empty,
  deviation: cell.deviation,
  changed: cell.changedCount,
  total: cell.totalCount,
  note: sentenceOf(cell, told),
  places: cell.places && {
    element: cell.places.element,
    master: cell.places.master.length,
    returned: cell.places.returned.length,
  },
})

const partsDocument = (ledger: Ledger, told: Told) => ({
  parts: ledger.rows.map((row) => ({
    name: row.name,
    matchedBy: row.match.by,
    correspondence: row.correspondenceKind,
    traits: Object.fromEntries(
      Object.entries(row.cells).map(([trait, cell]) => [trait, cellDocument(cell, told)]),
    ),
  })),
  scene: cellDocument(ledger.scene, told),
})

export const ledgerDocument = (ledger: Ledger) => ({
  ...partsDocument(ledger, 'returned'),
  whole: ledger.whole && {
    text: wholeText(ledger.whole),
    factor: ledger.whole.factor,
    turn: ledger.whole.turn?.text ?? null,
    mirror: ledger.whole.mirror,
    move: ledger.whole.move?.text ?? null,
    by: ledger.whole.by,
  },
  layout: ledger.layout?.text ?? null,
  story: storyOf(ledger),
})

/** What a file carries that was just written. */
export const forecastDocument = (ledger: Ledger) => partsDocument(ledger, 'written')

/** Which element of the second file is which of the first's, and how that was found; parts of one of them have no maps. */
export const mapsDocument = (a: Scene, b: Scene, { matched, unmatched }: SceneMatching) => [
  ...matched.map(({ match, correspondence }) => ({
    a: a.nodes[match.masterNode]!.name,
    b: b.nodes[match.returnedNode]!.name,
    partBy: match.by,
    ...(match.from ? { cameAs: match.from } : {}),
    ...(match.levels ? { levels: match.levels } : {}),
    elementsBy: correspondence.kind,
    guess: correspondence.guess ?? false,
    points: [...correspondence.pointToReturned],
    faces: [...correspondence.faceToReturned],
    corners: [...correspondence.cornerToReturned],
    // one a polygon of B: the polygon of A that it is a piece of
    pieces: correspondence.pieceToMaster && [...correspondence.pieceToMaster],
  })),
  ...unmatched.map((match) => ({
    a: a.nodes[match.masterNode]?.name ?? null,
    b: b.nodes[match.returnedNode]?.name ?? null,
    partBy: match.by,
  })),
]

/** What it says in words, for above the table. */
export const storyOf = (ledger: Ledger): string[] =>
  tellStory(ledger, {
    titleOf: (trait) => TRAIT_DESCRIPTORS[trait as Trait].title,
    isToolsOwn: (note) => NOTES[note]?.toolsOwn === true,
  })

export const hasDifferences = (ledger: Ledger): boolean =>
  isTaken(ledger.scene) || ledger.rows.some((row) => Object.values(row.cells).some(isTaken))

/** Parts of which nothing differs are one line, and the same line of many parts is counted, unless all are wanted. */
export function ledgerText(ledger: Ledger, all: boolean, told: Told = 'returned'): string {
  const taken = ledger.rows.map((row) => ({
    row,
    cells: Object.entries(row.cells).filter(([, cell]) => isTaken(cell)),
  }))
  const same = taken.filter(({ cells }) => cells.length === 0)
  const lines: FoldedLine[] = []
  for (const { row, cells } of taken) {
    if (cells.length === 0) {
      if (all || same.length === 1)
        lines.push({ kind: row.name, text: `${shownName(row.name)}: everything the same` })
      continue
    }
    const differing = cells.map(([trait, cell]) => ({
      trait,
      text: `  ${trait.padEnd(11)} ${cell.state.padEnd(12)} ${sentenceOf(cell, told)}`,
      kind: `${trait} ${cell.state} ${cell.note}`,
    }))
    lines.push({
      kind: differing.map(({ kind }) => kind).join(', '),
      text: [`${shownName(row.name)}:`, ...differing.map(({ text }) => text)].join('\n'),
    })
  }
  const folded = foldLines(
    lines,
    all,
    (count, { text }) => `${count} more parts alike: ${text.split('\n').slice(1).map((line) => line.trim().split(/\s+/).slice(0, 2).join(' ')).join(', ')}  (--all lists them)`, // prettier-ignore
  )
  if (!all && same.length > 1) folded.push(`${same.length} parts: everything the same`)
  if (isTaken(ledger.scene)) folded.push(`scene: ${sentenceOf(ledger.scene, told)}`)
  return folded.join('\n')
}
