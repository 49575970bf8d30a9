import { deliverVersion } from '../../app/deliver-version.ts'
import { QUIET } from '../../app/host.ts'
import type { Ledger } from '../../core/compare/ledger.ts'
import { TRAIT_KINDS, type Trait } from '../../core/compare/traits/registry.ts'
import { stemOf } from '../../core/formats/package/package-file.ts'
import { formatOf } from '../../core/formats/registry.ts'
import { describeFindings } from '../../core/inspect/inspect-scene.ts'
import type { CheckResult } from '../../core/trips/deliver.ts'
import type { Destination } from '../../core/trips/destinations/destination.ts'
import { FATE_WORDS, fateOf } from '../../core/trips/fate.ts'
import { forecastText } from '../../core/trips/forecast-text.ts'
import { NODE_CODEC } from '../../host/node-codec.ts'
import { NODE_HOST } from '../../host/node-host.ts'
import { wanted, type Command } from '../command.ts'
import { foldLines } from '../fold.ts'
import { forecastDocument, hasDifferences, ledgerText } from '../ledger-text.ts'
import { chosenNodes, destinationNamed, loadModel, parseReadOptions, parseWriteOptions } from '../load.ts'
import { checkTarget, fileDocuments, outName, save, writeAndForecast } from '../save.ts'
import { shownName } from '../../core/base/messages/names-text.ts'

/** The text without the words that stand before it already. */
const withoutFate = (text: string): string => text.replace(/^In another form\. /, '')

/** The forecast of a file for a destination: what each cell means for the trip. */
function deliveryText(ledger: Ledger, destination: Destination, all: boolean): string {
  const lines = ledger.rows.map((row) => {
    const told = Object.entries(row.cells).flatMap(([trait, cell]) => {
      const fate = fateOf(trait as Trait, cell!, destination, TRAIT_KINDS)
      return fate === 'carried'
        ? []
        : [
            {
              kind: `${trait} ${FATE_WORDS[fate]}`,
              text: `  ${trait.padEnd(11)} ${FATE_WORDS[fate]}: ${withoutFate(forecastText(trait as Trait, cell!, destination, TRAIT_KINDS))}`,
            },
          ]
    })
    return {
      kind: told.map(({ kind }) => kind).join(', ') || 'all carried',
      text: [
        `${shownName(row.name)}:${told.length ? '' : ' all carried'}`,
        ...told.map(({ text }) => text),
      ].join('\n'),
    }
  })
  return foldLines(
    lines,
    all,
    (count, { kind }) => `${count} more parts alike: ${kind}  (--all lists them)`,
  ).join('\n')
}

/** What has to be clean first. */
const uncleanText = (checks: readonly CheckResult[], destination: Destination): string =>
  [
    `The ${destination.name.toLowerCase()} wants this clean. Nothing was written; --anyway writes it all the same.`,
    ...checks.map(({ part, message }) => `  ${part ? `${part}: ` : ''}${message}`),
  ].join('\n')

/** A file in another format, with what it will carry. */
export const convertCommand: Command = async (paths, values) => {
  const [from, to] = wanted(paths, 'IN', 'OUT')
  checkTarget(to!)
  const destination = destinationNamed(values.to)
  const { scene, findings } = loadModel(from!, parseReadOptions(values.read))
  const { options, selection } = parseWriteOptions(values.option, outName(to!))
  const chosen = chosenNodes(scene, selection)
  if (destination) {
    const format = formatOf(outName(to!))!
    const target = { ...destination, format: format.id }
    const delivery = await deliverVersion(
      scene,
      {
        destination: target,
        options,
        selection: chosen,
        stem: stemOf(outName(to!)),
        withRecipe: true,
        codec: NODE_CODEC,
      },
      QUIET,
      NODE_HOST,
    )
    const unclean = delivery.checks.filter(({ mustBeClean }) => mustBeClean)
    const refused = unclean.length > 0 && !values.anyway
    if (!refused) save(to!, delivery.files)
    const rows = forecastDocument(delivery.forecast)
    return {
      output: {
        files: refused ? [] : fileDocuments(delivery.files),
        destination: destination.id,
        size: delivery.size,
        checks: delivery.checks,
        forecast: {
          ...rows,
          parts: rows.parts.map((part, index) => ({
            ...part,
            fates: Object.fromEntries(
              Object.entries(delivery.forecast.rows[index]!.cells).map(([trait, cell]) => [
                trait,
                fateOf(trait as Trait, cell!, destination, TRAIT_KINDS),
              ]),
            ),
          })),
        },
        messages: describeFindings([...findings, ...delivery.findings]),
      },
      text: refused
        ? uncleanText(unclean, destination)
        : deliveryText(delivery.forecast, destination, values.all === true),
      findings: [...findings, ...delivery.findings],
      status: refused || hasDifferences(delivery.forecast) ? 1 : 0,
    }
  }
  const { written, forecast } = writeAndForecast(scene, to!, { ...options, selection: chosen })
  return {
    output: {
      files: fileDocuments(written.files),
      forecast: forecastDocument(forecast),
      messages: describeFindings([...findings, ...written.findings]),
    },
    text: ledgerText(forecast, values.all === true, 'written'),
    findings: [...findings, ...written.findings],
    status: hasDifferences(forecast) ? 1 : 0,
  }
}
