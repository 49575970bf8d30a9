/** What was recognised of a return, in lines that are held against what they were before: see tell.ts. */
import { expect } from 'vitest'
import { compareScenes } from '../../../src/core/compare/compare-scenes.ts'
import type { Ledger } from '../../../src/core/compare/ledger.ts'
import type { Correspondence } from '../../../src/core/compare/match/correspondence.ts'
import type { SceneMatching } from '../../../src/core/compare/match-scenes.ts'
import type { RecognisedReturn } from '../../../src/core/compare/recognise/recognise-return.ts'
import { tellStory } from '../../../src/core/compare/story/tell-story.ts'
import { NOTES, noteText, TRAIT_DESCRIPTORS, type Trait } from '../../../src/core/compare/traits/registry.ts'
import type { Scene } from '../../../src/core/scene/scene.ts'
import { IN_AN_ORDINARY_RUN } from '../../how-many.ts'
import { mark, said } from './tell.ts'

export const storyOf = (ledger: Ledger): string[] =>
  tellStory(ledger, {
    titleOf: (trait) => TRAIT_DESCRIPTORS[trait as Trait].title,
    isToolsOwn: (note) => NOTES[note]?.toolsOwn === true,
  }).map((sentence) => `    ${sentence}`)

export function tellLedger(ledger: Ledger, inWords = true): string[] {
  const rows = ledger.rows.map(({ name, match, correspondenceKind, cells }) => {
    const told = Object.entries(cells).flatMap(
      ([trait, { state, note, parameters, changedCount, totalCount }]) =>
        state === 'same'
          ? []
          : [
              `${trait} ${state} ${changedCount}/${totalCount}${inWords ? ` ${noteText(note, parameters)}` : ''}`,
            ],
    )
    const by = `${match.by}, ${correspondenceKind}`
    if (match.masterNode < 0) return `    “${name}” new ${mark(cells)}`
    if (match.returnedNode < 0) return `    “${name}” lost ${mark(cells)}`
    return `    “${name}” (${by}) ${told.join(' · ') || 'the same'} ${mark(cells)}`
  })
  const { scene, whole } = ledger
  return [
    ...rows,
    `    scene ${scene.state} ${noteText(scene.note, scene.parameters)} ${mark({ scene, whole })}`,
  ]
}

export const tellMatch = ({
  kind,
  guess,
  matchedFaceCount,
  turnedFaceCount,
  cutFaceCount,
  ...arrays
}: Correspondence): string =>
  `${kind}${guess ? ' guess' : ''}, polygons ${matchedFaceCount}, turned ${turnedFaceCount}, cut ${cutFaceCount} ${mark(arrays)}`

export const tellMatching = ({ matched, unmatched }: SceneMatching): string[] => [
  ...matched.map(
    ({ match, correspondence }) =>
      `    ${match.masterNode}-${match.returnedNode} by ${match.by}: ${tellMatch(correspondence)}`,
  ),
  `    alone: ${unmatched.map(({ masterNode, returnedNode }) => `${masterNode}|${returnedNode}`).join(' ')}`,
]

/** A return as it was recognised, and what the ledger and the story say of it. */
export function tellRecognised(
  master: Scene,
  { returned, matching, undone, findings }: RecognisedReturn,
): string[] {
  const ledger = compareScenes(master, returned, () => {}, matching)
  return [
    ...said(findings),
    ...tellMatching(matching),
    ...tellLedger(ledger, false),
    ...storyOf({ ...ledger, undone }),
    `    undone ${mark(undone)}`,
  ]
}

/** Holds lines of a test that knows the truth against what they were (`kept/`); the long run has other cases. */
export function expectAsBefore(lines: readonly string[]): void {
  if (IN_AN_ORDINARY_RUN) expect(lines.join('\n')).toMatchSnapshot()
}
