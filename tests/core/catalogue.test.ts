/** Holds the catalogue, its document and its triggers together. */
import { readdirSync, readFileSync, statSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { describe, expect, test } from 'vitest'
import { CATALOGUE, messageText } from '../../src/core/messages/catalogue.ts'
import { catalogueDocument } from '../../src/core/messages/catalogue-document.ts'

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
