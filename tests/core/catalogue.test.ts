/** Holds the catalogue, its document and its triggers together. */
import { readdirSync, readFileSync, statSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { describe, expect, test } from 'vitest'
import { checksDocument } from '../../src/core/steps/bench-document.ts'
import { CHECKS } from '../../src/core/checks/registry.ts'
import { STEPS } from '../../src/core/steps/registry.ts'
import { CATALOGUE, messageText } from '../../src/core/base/messages/catalogue.ts'
import { catalogueDocument } from '../../src/core/base/messages/catalogue-document.ts'

const root = resolve(import.meta.dirname, '../..')
const read = (path: string): string => readFileSync(join(root, path), 'utf8')
const filesIn = (folder: string): string[] =>
  readdirSync(join(root, folder)).flatMap((name) => {
    const path = `${folder}/${name}`
    return statSync(join(root, path)).isDirectory() ? filesIn(path) : [path]
  })
const codes = Object.keys(CATALOGUE) as (keyof typeof CATALOGUE)[]
const sources = filesIn('src').filter(
  (path) => path.endsWith('.ts') && !path.endsWith('.test.ts') && !path.endsWith('catalogue.ts'),
)
const sourceText = sources.map(read).join('\n')
const testText = [...filesIn('src'), ...filesIn('tests')]
  .filter((path) => /\.(test|spec)\.ts$/.test(path) && !path.endsWith('catalogue.test.ts'))
  .map(read)
  .join('\n')

test('docs/messages.md is the catalogue', () => {
  expect(read('docs/messages.md')).toBe(catalogueDocument())
})

test('docs/checks.md is what the registries hold, and each file is named after what it holds', () => {
  expect(read('docs/checks.md')).toBe(checksDocument())
  const named = (folder: string, rest: readonly string[]): string[] =>
    readdirSync(join(root, folder))
      .filter((name) => name.endsWith('.ts') && !name.endsWith('.test.ts') && !rest.includes(name))
      .map((name) => name.replace('.ts', ''))
      .sort()
  expect(
    named('src/core/checks', ['check.ts', 'settings.ts', 'registry.ts', 'run-checks.ts', 'document.ts']),
  ).toEqual(CHECKS.map((check) => check.id).sort())
  expect(named('src/core/steps', ['step.ts', 'recipe.ts', 'registry.ts', 'run-steps.ts'])).toEqual(
    STEPS.map((step) => step.id).sort(),
  )
})

describe.each(codes)('%s', (code) => {
  test('is said somewhere', () => expect(sourceText).toContain(`'${code}'`))
  test('has a test that triggers it', () => expect(testText).toContain(code))
  test('its sentence needs no more than it is given, and is for an artist', () => {
    const { text, advice } = CATALOGUE[code]
    expect(text).toMatch(/\.$|\.”$/)
    expect(advice).toMatch(/\.$/)
    const filled = messageText(
      code,
      Object.fromEntries([...text.matchAll(/\{(\w+)\}/g)].map((match) => [match[1]!, 'x'])),
    )
    expect(filled).not.toMatch(/[{}?]/)
  })
})
