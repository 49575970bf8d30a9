import { hasValue, type ValueOption } from '../../core/base/options/option.ts'
import { describeFindings } from '../../core/inspect/inspect-scene.ts'
import { parameterDocument } from '../../core/steps/bench-document.ts'
import { STEPS } from '../../core/steps/registry.ts'
import { runRecipe } from '../../core/steps/run-steps.ts'
import { wanted, type Command } from '../command.ts'
import { chosenNodes, loadModel, loadRecipe, parseReadOptions, parseWriteOptions } from '../load.ts'
import { checkTarget, fileDocuments, outName, writeAndForecast } from '../save.ts'
import { UsageError } from '../usage-error.ts'

const parameterText = (option: ValueOption): string =>
  [
    option.id,
    option.kind === 'choice' ? option.choices.map((choice) => choice.value).join('|') : option.kind,
    option.unit,
    `default ${String(option.default)}`,
  ]
    .filter(Boolean)
    .join(', ')

/** A recipe of steps on a model; or the list of all steps. */
export const prepareCommand: Command = (paths, values) => {
  if (values.list) {
    wanted(paths)
    return {
      output: STEPS.map(({ id, area, title, description, changes, parameters }) => ({
        step: id,
        area,
        title,
        description,
        changes,
        parameters: parameters.filter(hasValue).map(parameterDocument),
      })),
      text: STEPS.map(
        (step) =>
          `${step.id}\n  ${step.description}${step.parameters
            .filter(hasValue)
            .map((option) => `\n  ${parameterText(option)}`)
            .join('')}`,
      ).join('\n'),
      findings: [],
      status: 0,
    }
  }
  const [from, to] = wanted(paths, 'IN', 'OUT')
  if (!values.recipe) throw new UsageError('“prepare” needs --recipe FILE, or --list.', true)
  checkTarget(to!)
  const recipe = loadRecipe(values.recipe)
  const { scene, findings } = loadModel(from!, parseReadOptions(values.read))
  const { scene: prepared, records } = runRecipe(scene, recipe)
  const { options, selection } = parseWriteOptions(values.option, outName(to!))
  const { written } = writeAndForecast(prepared, to!, {
    ...options,
    selection: chosenNodes(prepared, selection),
  })
  return {
    output: {
      recipe: recipe.name,
      steps: records.map(({ step, changedCount, of, notes, warning }) => ({
        step: step.step,
        changed: changedCount,
        of,
        notes,
        warning,
      })),
      files: fileDocuments(written.files),
      messages: describeFindings([...findings, ...written.findings]),
    },
    text: records
      .map(
        ({ step, changedCount, of, notes, warning }) =>
          `${step.step}: ${changedCount} ${of}${notes.length ? `. ${notes.join(' ')}` : ''}${warning ? `\n  warning: ${warning}` : ''}`,
      )
      .join('\n'),
    findings: [...findings, ...written.findings],
    // what a step warns of is done all the same, but not unseen
    status: records.some(({ warning }) => warning) ? 1 : 0,
  }
}
