/** Holds the catalogue, its document and its triggers together. */
import { readdirSync, readFileSync, statSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { describe, expect, test } from 'vitest'
import { checksDocument } from '../../src/core/steps/bench-document.ts'
import { CHECKS } from '../../src/core/checks/registry.ts'
import { STEPS } from '../../src/core/steps/registry.ts'
import { CATALOGUE, entryOf, messageText } from '../../src/core/formats/catalogue.ts'
import { DESTINATIONS } from '../../src/core/trips/destinations/registry.ts'
import { NOTES } from '../../src/core/compare/traits/registry.ts'
import { renderText } from '../../src/core/base/messages/render.ts'
import { catalogueDocument } from '../../src/core/formats/catalogue-document.ts'

const root = resolve(import.meta.dirname, '../..')
const read = (path: string): string => readFileSync(join(root, path), 'utf8')
const filesIn = (folder: string): string[] =>
  readdirSync(join(root, folder)).flatMap((name) => {
    const path = `${folder}/${name}`
    return statSync(join(root, path)).isDirectory() ? filesIn(path) : [path]
  })
const codes = Object.keys(CATALOGUE)
const sources = filesIn('src').filter(
  (path) =>
    path.endsWith('.ts') &&
    !path.endsWith('.test.ts') &&
    !path.endsWith('catalogue.ts') &&
    !path.endsWith('/messages.ts'),
)
const sourceText = sources.map(read).join('\n')
const testText = [...filesIn('src'), ...filesIn('tests')]
  .filter((path) => /\.(test|spec)\.ts$/.test(path) && !path.endsWith('catalogue.test.ts'))
  .map(read)
  .join('\n')

test('docs/messages.md is the catalogue', () => {
  expect(read('docs/messages.md')).toBe(catalogueDocument())
})

test('the README counts what the registries hold', () => {
  const words = ['Six', 'Seven', 'Eight', 'Nine', 'Ten', 'Eleven', 'Twelve']
  expect(read('README.md')).toContain(`${CHECKS.length} checks, each with`)
  expect(read('README.md')).toContain(`${words[DESTINATIONS.length - 6]} kinds ship`)
})

test('docs/checks.md is what the registries hold, and each file is named after what it holds', () => {
  expect(read('docs/checks.md')).toBe(checksDocument())
  /** Files in the folders of areas, as area/name. */
  const named = (folder: string): string[] =>
    filesIn(folder)
      .map((path) => path.slice(folder.length + 1))
      .filter((path) => path.includes('/') && path.endsWith('.ts') && !path.endsWith('.test.ts'))
      .map((path) => path.replace('.ts', ''))
      .sort()
  const shared = (name: string): boolean => name.startsWith('shared/')
  const tested = filesIn('src/core/checks').filter((path) => path.endsWith('.test.ts'))
  for (const { area, id } of CHECKS) expect(tested).toContain(`src/core/checks/${area}/${id}.test.ts`)
  expect(named('src/core/checks')).toEqual(CHECKS.map(({ area, id }) => `${area}/${id}`).sort())
  expect(named('src/core/steps').filter((name) => !shared(name))).toEqual(
    STEPS.map(({ area, id }) => `${area}/${id}`).sort(),
  )
})

test('every code that is said has a sentence', () => {
  const said = [
    ...sourceText.matchAll(/(?:messages\.add|new KelboError|errorDocument)\(\s*'([a-z]+\.[a-z0-9-]+)'/g),
  ]
  expect(said.length).toBeGreaterThan(40)
  for (const [, code] of said) expect(codes).toContain(code)
})

describe.each(codes)('%s', (code) => {
  test('is said somewhere', () => expect(sourceText).toContain(`'${code}'`))
  test('has a test that triggers it', () => expect(testText).toContain(code))
  test('its sentence needs no more than it is given, and is for an artist', () => {
    const { text, advice } = entryOf(code)
    expect(text).toMatch(/\.$|\.”$/)
    expect(advice).toMatch(/\.$/)
    const filled = messageText(
      code,
      Object.fromEntries([...text.matchAll(/\{(\w+)\}/g)].map((match) => [match[1]!, 'x'])),
    )
    expect(filled).not.toMatch(/[{}?]/)
  })
})

test('one of many is said in the singular, in every sentence', () => {
  const sentences: [place: string, template: string][] = [
    ...Object.entries(NOTES).flatMap(([note, { ledger, forecast, otherForm }]) =>
      [ledger, forecast, otherForm].flatMap((text): [string, string][] => (text ? [[note, text]] : [])),
    ),
    ...Object.entries(CATALOGUE).map(([code, { text }]): [string, string] => [code, text]),
    ...CHECKS.flatMap(({ id, problems }) =>
      Object.values(problems).map(({ text }): [string, string] => [id, text]),
    ),
  ]
  expect(sentences.length).toBeGreaterThan(300)
  /** Wholes that something is one of; what stands in the place of a name is none. */
  const MANY = { total: 80, stated: 80, limit: 80, most: 80 }
  const wrong = sentences.flatMap(([place, template]) => {
    const names = [...template.matchAll(/[{|](\w+)[}\]|]/g)].map(([, name]) => name!)
    const text = renderText(template, {
      ...Object.fromEntries(names.map((name) => [name, 1])),
      count: 1,
      ...MANY,
    })
    return /(?<![\w.,])1 (of 80 )?((more|loose|hidden|hard|corner|creased) )*(\w+s )?(have|are|were|leave|lie|come|go)\b/.test(
      text,
    )
      ? [`${place}: ${text}`]
      : []
  })
  expect(wrong).toEqual([])
})
