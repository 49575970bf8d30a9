import { compareScenes } from '../../core/compare/compare-scenes.ts'
import { wanted, type Command } from '../command.ts'
import { hasDifferences, ledgerDocument, ledgerText } from '../ledger-text.ts'
import { loadModel, parseReadOptions } from '../load.ts'

/** The ledger of one file against another. */
export const compareCommand: Command = (paths, values) => {
  const [a, b] = wanted(paths, 'A', 'B')
  const options = parseReadOptions(values.read)
  const master = loadModel(a!, options)
  const returned = loadModel(b!, options)
  const ledger = compareScenes(master.scene, returned.scene)
  return {
    output: ledgerDocument(ledger),
    text: ledgerText(ledger),
    findings: [...master.findings, ...returned.findings],
    status: hasDifferences(ledger) ? 1 : 0,
  }
}
