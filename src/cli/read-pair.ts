/** Two files that are held against each other, each with its own way of reading, and what happened to all of one. */
import { compareScenes } from '../core/compare/compare-scenes.ts'
import type { SceneMatching } from '../core/compare/match-scenes.ts'
import { recogniseReturn } from '../core/compare/recognise/recognise-return.ts'
import { wholeText } from '../core/compare/whole/whole-text.ts'
import type { Ledger } from '../core/compare/ledger.ts'
import type { Scene } from '../core/scene/scene.ts'
import type { Finding } from '../core/base/messages/catalogue.ts'
import type { Arguments } from './command.ts'
import { loadModel, parseReadOptions } from './load.ts'

export interface ReadPair {
  readonly master: Scene
  readonly returned: Scene
  readonly matching: SceneMatching
  readonly ledger: Ledger
  readonly findings: readonly Finding[]
  /** What happened to the returned file as a whole and is undone, or could be; null for nothing. */
  readonly whole: { readonly text: string; readonly undone: boolean } | null
}

/**
 * `--read` is meant for both, `--read-a` and `--read-b` for the first and the second. With `--undo-whole` a size,
 * turn, mirror or move that all parts of the second share is undone before they are compared.
 */
export function readPair(a: string, b: string, values: Arguments): ReadPair {
  const both = values.read ?? []
  const master = loadModel(a, parseReadOptions([...both, ...(values['read-a'] ?? [])]))
  const second = loadModel(b, parseReadOptions([...both, ...(values['read-b'] ?? [])]))
  const {
    returned,
    matching,
    undone,
    layoutUndone = null,
    findings,
  } = recogniseReturn(master.scene, second.scene, {
    undoWhole: values['undo-whole'] === true,
  })
  const ledger: Ledger = {
    ...compareScenes(master.scene, returned, () => {}, matching),
    undone,
    layoutUndone,
  }
  const change = undone ?? ledger.whole
  return {
    master: master.scene,
    returned,
    matching,
    ledger,
    findings: [...master.findings, ...second.findings, ...findings],
    whole: change && { text: wholeText(change), undone: undone !== null },
  }
}

/** In a line each. */
export const wholeLine = ({ whole, ledger: { layout } }: ReadPair): string[] => [
  ...(whole
    ? [
        whole.undone
          ? `As a whole it is ${whole.text}; that is undone here.`
          : `As a whole it is ${whole.text}; --undo-whole undoes it first.`,
      ]
    : []),
  ...(layout ? [`Its layout of UVs is ${layout.text}; --undo-whole brings it back first.`] : []),
]
