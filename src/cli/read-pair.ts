/** Two files that are held against each other, each with its own way of reading, and what happened to all of one. */
import { compareScenes } from '../core/compare/compare-scenes.ts'
import { readingThatUndoes } from '../core/compare/reading-that-undoes.ts'
import { wholeText } from '../core/compare/whole-text.ts'
import type { Ledger } from '../core/compare/ledger.ts'
import { transformScene } from '../core/mesh/rebuilding/transform-scene.ts'
import { IDENTITY_MATRIX, type Scene } from '../core/scene/scene.ts'
import type { Finding } from '../core/base/messages/catalogue.ts'
import type { Arguments } from './command.ts'
import { loadModel, parseReadOptions } from './load.ts'

export interface ReadPair {
  readonly master: Scene
  readonly returned: Scene
  readonly ledger: Ledger
  readonly findings: readonly Finding[]
  /** What happened to the returned file as a whole and is undone, or could be; null for nothing. */
  readonly whole: { readonly text: string; readonly undone: boolean } | null
}

/**
 * `--read` is meant for both, `--read-a` and `--read-b` for the first and the second. With `--undo-whole` a size or a
 * turn that all parts of the second share is undone before they are compared.
 */
export function readPair(a: string, b: string, values: Arguments): ReadPair {
  const both = values.read ?? []
  const master = loadModel(a, parseReadOptions([...both, ...(values['read-a'] ?? [])]))
  const second = parseReadOptions([...both, ...(values['read-b'] ?? [])])
  let returned = loadModel(b, second)
  let ledger = compareScenes(master.scene, returned.scene)
  const change = ledger.whole
  if (!change) return { master: master.scene, returned: returned.scene, ledger, whole: null, findings: [...master.findings, ...returned.findings] } // prettier-ignore
  const text = wholeText(change)
  if (values['undo-whole']) {
    const options = readingThatUndoes(change, returned.scene.space.unitMeters)
    if (options) returned = loadModel(b, { ...second, ...options })
    // a file that states no unit can't be read in another one: its numbers are
    if (change.factor !== 1 && options?.unitMeters === undefined)
      returned = { ...returned, scene: transformScene(returned.scene, IDENTITY_MATRIX, 1 / change.factor) }
    ledger = compareScenes(master.scene, returned.scene)
  }
  return {
    master: master.scene,
    returned: returned.scene,
    ledger,
    findings: [...master.findings, ...returned.findings],
    whole: { text, undone: values['undo-whole'] === true },
  }
}

/** In one line. */
export const wholeLine = ({ whole }: ReadPair): string[] =>
  whole
    ? [
        whole.undone
          ? `As a whole it is ${whole.text}; that is undone here.`
          : `As a whole it is ${whole.text}; --undo-whole undoes it first.`,
      ]
    : []
