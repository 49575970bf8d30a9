import { hasValue, type ValueOption } from '../base/options/option.ts'
import { STEPS } from './registry.ts'
import { CHECKS } from '../checks/registry.ts'

/** A step's parameter as lists of them print it; the keys stay. */
export const parameterDocument = (option: ValueOption) => ({
  name: option.id,
  title: option.title,
  unit: option.unit ?? null,
  type: option.kind,
  default: option.default,
  ...(option.kind === 'number'
    ? { min: option.min, max: option.max, ...(option.whole ? { whole: true } : {}) }
    : {}),
  ...(option.kind === 'choice' ? { choices: option.choices.map((choice) => choice.value) } : {}),
  ...(option.kind === 'text' ? { most: option.most } : {}),
})

const parameter = (option: ValueOption): string =>
  `\`${option.id}\` (${option.kind === 'choice' ? option.choices.map((choice) => choice.value).join(', ') : option.kind}${option.unit ? `, ${option.unit}` : ''}; default ${option.default === null ? 'by itself' : String(option.default)})`

/** docs/checks.md: every check with what it can find, every step with its parameters. */
export function checksDocument(): string {
  const lines = [
    '# Checks and steps',
    '',
    'Made from the registries by `npm run docs`; a test holds it to them.',
    '',
    '## Checks',
    '',
  ]
  for (const check of CHECKS) {
    lines.push(`### ${check.title} (\`${check.id}\`)`, '', check.why, '')
    for (const [name, problem] of Object.entries(check.problems))
      lines.push(`- \`${name}\`, ${problem.severity}: ${problem.text}`)
    lines.push('')
  }
  lines.push('## Steps', '')
  for (const step of STEPS) {
    lines.push(
      `### ${step.title} (\`${step.id}\`)`,
      '',
      `${step.description} Changes: ${step.changes.join(', ')}.`,
      '',
    )
    for (const option of step.parameters.filter(hasValue)) lines.push(`- ${parameter(option)}`)
    if (step.parameters.length) lines.push('')
  }
  return lines.join('\n').trimEnd() + '\n'
}
