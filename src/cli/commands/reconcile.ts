import { compareScenes } from '../../core/compare/compare-scenes.ts'
import { isTrait, TRAITS, type Trait } from '../../core/compare/traits/registry.ts'
import { reconcile } from '../../core/reconcile/reconcile.ts'
import { wanted, type Command } from '../command.ts'
import { hasDifferences, ledgerDocument } from '../ledger-text.ts'
import { loadModel, parseReadOptions } from '../load.ts'
import { checkTarget, fileDocuments, writeAndForecast } from '../save.ts'
import { UsageError } from '../usage-error.ts'

/** A master with traits taken from what came back. */
export const reconcileCommand: Command = (paths, values) => {
  const [masterPath, returnedPath, to] = wanted(paths, 'MASTER', 'RETURNED', 'OUT')
  checkTarget(to!)
  const take = (values.take ?? ['points']).flatMap((text) => text.split(',')).filter(Boolean)
  for (const trait of take)
    if (!isTrait(trait)) throw new UsageError(`“${trait}” is no trait: ${TRAITS.join(', ')}.`)
  const options = parseReadOptions(values.read)
  const master = loadModel(masterPath!, options)
  const returned = loadModel(returnedPath!, options)
  const result = reconcile(master.scene, returned.scene, { take: take as Trait[] })
  const { written, forecast } = writeAndForecast(result.scene, to!, {})
  return {
    output: {
      taken: result.taken,
      files: fileDocuments(written.files),
      againstMaster: ledgerDocument(compareScenes(master.scene, result.scene)),
    },
    text: `Took ${
      Object.entries(result.taken)
        .map(([trait, parts]) => `${trait} (${parts} parts)`)
        .join(', ') || 'nothing: no chosen trait differs'
    }.`,
    findings: [...master.findings, ...returned.findings, ...result.findings, ...written.findings],
    status: hasDifferences(forecast) ? 1 : 0,
  }
}
