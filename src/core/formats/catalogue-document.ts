import { CATALOGUE } from './catalogue.ts'

/** The catalogue as a page of documentation. */
export function catalogueDocument(): string {
  const lines = [
    '# What Kelbo says about files',
    '',
    'Generated from `src/core/formats/catalogue.ts` by `npm run docs`; a test holds the two together.',
    '',
    '| code | severity | sentence | what to do |',
    '| --- | --- | --- | --- |',
  ]
  for (const [code, entry] of Object.entries(CATALOGUE))
    lines.push(`| \`${code}\` | ${entry.severity} | ${entry.text} | ${entry.advice} |`)
  return `${lines.join('\n')}\n`
}
