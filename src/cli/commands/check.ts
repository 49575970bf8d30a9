import { placeCountOf } from '../../core/checks/check.ts'
import { checkOf } from '../../core/checks/registry.ts'
import { findingText, runChecks } from '../../core/checks/run-checks.ts'
import { CHECK_SETTINGS_DEFAULTS } from '../../core/checks/settings.ts'
import { nodePaths } from '../../core/scene/world.ts'
import { checkSettingsOf } from '../../core/trips/destinations/destination.ts'
import { wanted, type Command } from '../command.ts'
import { foldLines } from '../fold.ts'
import { destinationNamed, loadModel, parseCheckSettings, parseReadOptions } from '../load.ts'
import { shownName } from '../../core/base/messages/names-text.ts'

/** What is wrong with a model. */
export const checkCommand: Command = (paths, values) => {
  const [path] = wanted(paths, 'FILE')
  const destination = destinationNamed(values.for)
  const { scene, findings: said } = loadModel(path!, parseReadOptions(values.read))
  const settings = {
    ...(destination ? checkSettingsOf(destination) : {}),
    ...parseCheckSettings(values.option),
  }
  const findings = runChecks(scene, { settings })
  const names = nodePaths(scene)
  const rank = { error: 0, warning: 1, info: 2 }
  const sorted = [...findings].sort((a, b) => rank[a.severity] - rank[b.severity])
  return {
    output: {
      settings: { ...CHECK_SETTINGS_DEFAULTS, ...settings },
      findings: sorted.map((finding) => ({
        check: finding.check,
        problem: finding.problem,
        severity: finding.severity,
        part: finding.node === null ? null : names[finding.node]!,
        parts: finding.nodes.map((node) => names[node]!),
        count: finding.count,
        message: findingText(finding),
        why: checkOf(finding.check)!.why,
        places: finding.places && {
          element: finding.places.element,
          places: placeCountOf(finding.places),
          elements: [...finding.places.elements],
        },
        fix: finding.fix,
      })),
    },
    text:
      foldLines(
        sorted.map((finding) => ({
          kind: `${finding.check} ${finding.problem}`,
          text: `${finding.severity.padEnd(7)} ${finding.node === null ? '' : `${shownName(names[finding.node]!)}: `}${findingText(finding)}${finding.fix ? `  (mended by ${finding.fix.step})` : ''}`,
        })),
        values.all === true,
        (count, { kind, text }) =>
          `${text.slice(0, 7)} ${count} more of this kind (${kind.split(' ')[0]}; --all lists them)`,
      ).join('\n') || 'Nothing found.',
    findings: said,
    // what is only worth knowing is no fault
    status: findings.some((finding) => finding.severity !== 'info') ? 1 : 0,
  }
}
