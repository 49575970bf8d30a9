import { compareScenes } from '../../core/compare/compare-scenes.ts'
import { isTrait, TRAITS, type Trait } from '../../core/compare/traits/registry.ts'
import { reconcile } from '../../core/reconcile/reconcile.ts'
import { wanted, type Command } from '../command.ts'
import { hasDifferences, ledgerDocument } from '../ledger-text.ts'
import { readPair, wholeLine } from '../read-pair.ts'
import { checkTarget, fileDocuments, writeAndForecast } from '../save.ts'
import { UsageError } from '../usage-error.ts'

/** A master with traits taken from what came back. */
export const reconcileCommand: Command = (paths, values) => {
  const [masterPath, returnedPath, to] = wanted(paths, 'MASTER', 'RETURNED', 'OUT')
  checkTarget(to!)
  const take = (values.take ?? ['points']).flatMap((text) => text.split(',')).filter(Boolean)
  for (const trait of take)
    if (!isTrait(trait)) throw new UsageError(`“${trait}” is no trait: ${TRAITS.join(', ')}.`)
  const pair = readPair(masterPath!, returnedPath!, values)
  const result = reconcile(pair.master, pair.returned, { take: take as Trait[] }, () => {}, pair.matching)
  const { written, forecast } = writeAndForecast(result.scene, to!, {})
  return {
    output: {
      taken: result.taken,
      files: fileDocuments(written.files),
      againstMaster: ledgerDocument(compareScenes(pair.master, result.scene)),
    },
    text: [
      ...wholeLine(pair),
      `Took ${
        Object.entries(result.taken)
          .map(([trait, parts]) => `${trait} (${parts === 1 ? 'one part' : `${parts} parts`})`)
          .join(', ') || 'nothing: no chosen trait differs'
      }.`,
    ].join('\n'),
    findings: [...pair.findings, ...result.findings, ...written.findings],
    status: hasDifferences(forecast) ? 1 : 0,
  }
}
