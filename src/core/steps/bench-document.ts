import { STEPS } from './registry.ts'
import type { ParameterDescriptor } from './step.ts'
import { CHECKS } from '../checks/registry.ts'

const parameter = (entry: ParameterDescriptor): string =>
  `\`${entry.name}\` (${entry.type === 'choice' ? entry.choices.join(', ') : entry.type}${entry.unit ? `, ${entry.unit}` : ''}; default ${entry.default === null ? 'by itself' : String(entry.default)})`

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
    for (const entry of step.parameters) lines.push(`- ${parameter(entry)}`)
    if (step.parameters.length) lines.push('')
  }
  return lines.join('\n').trimEnd() + '\n'
}
