/** Holds the house: which folder stands on which, what may be imported, and that nothing goes round in a circle. */
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { dirname, join, relative, resolve } from 'node:path'
import { describe, expect, test } from 'vitest'
import { FOLDERS, KINDS, type Folder } from './floors.ts'

const src = resolve(import.meta.dirname, '../../src')

export interface SourceFile {
  /** Relative to src. */
  readonly name: string
  readonly imports: readonly string[]
}

function filesIn(folder: string): string[] {
  return readdirSync(folder).flatMap((name) => {
    const path = join(folder, name)
    if (statSync(path).isDirectory()) return filesIn(path)
    return /\.(ts|vue)$/.test(name) && !name.endsWith('.test.ts') && !name.endsWith('.d.ts') ? [path] : []
  })
}

const IMPORT =
  /(?:^|\n)\s*(?:import|export)\s(?:[^'"]*?\sfrom\s)?['"]([^'"]+)['"]|\bimport\(\s*['"]([^'"]+)['"]|\bimport\s*\(\s*\/\*[^*]*\*\/\s*['"]([^'"]+)['"]/g

/** Modules that a text imports, of types too. */
const importsOf = (text: string): string[] =>
  [...text.matchAll(IMPORT)].map((match) => (match[1] ?? match[2] ?? match[3])!)

const files: SourceFile[] = filesIn(src).map((path) => ({
  name: relative(src, path),
  imports: importsOf(readFileSync(path, 'utf8')),
}))

const ownerOf = (name: string): Folder | null =>
  FOLDERS.filter(({ folder }) => name.startsWith(`${folder}/`)).sort(
    (a, b) => b.folder.length - a.folder.length,
  )[0] ?? null

const targetOf = (file: SourceFile, imported: string): string =>
  relative(src, resolve(src, dirname(file.name), imported.replace(/\?.*$/, '')))

/** What is wrong with the imports of some files, in words. */
export function complaintsOf(sources: readonly SourceFile[]): string[] {
  const complaints: string[] = []
  for (const file of sources) {
    const own = ownerOf(file.name)
    if (!own) {
      complaints.push(`${file.name}: its folder stands on no floor`)
      continue
    }
    for (const imported of file.imports) {
      if (!imported.startsWith('.')) {
        const allowed = own.packages.some(
          (name) =>
            imported === name ||
            imported.startsWith(name.endsWith('/') || name.endsWith(':') ? name : `${name}/`),
        )
        if (!allowed)
          complaints.push(`${file.name}: the package ${imported} is not on the list of ${own.folder}`)
        continue
      }
      const target = targetOf(file, imported)
      const other = ownerOf(target)
      if (!other) complaints.push(`${file.name}: ${target} stands on no floor`)
      else if (other.folder !== own.folder && other.floor >= own.floor)
        complaints.push(`${file.name}: reaches up to ${target}`)
      else if (
        other.folder !== own.folder &&
        own.uses &&
        !own.uses.some((name) => other.folder === name || other.folder.startsWith(`${name}/`))
      )
        complaints.push(`${file.name}: may not use ${target}`)
    }
  }
  return complaints
}

/** Circles of files, each told once by its files in order. Imports of types count. */
export function circlesOf(sources: readonly SourceFile[]): string[] {
  const known = new Map(sources.map((file) => [file.name, file]))
  const state = new Map<string, 'open' | 'done'>()
  const circles = new Set<string>()
  const path: string[] = []
  const visit = (name: string): void => {
    if (state.get(name) === 'done') return
    if (state.get(name) === 'open') {
      const circle = path.slice(path.indexOf(name))
      const first = circle.indexOf([...circle].sort()[0]!)
      circles.add([...circle.slice(first), ...circle.slice(0, first)].join(' > '))
      return
    }
    state.set(name, 'open')
    path.push(name)
    const file = known.get(name)!
    for (const imported of file.imports)
      if (imported.startsWith('.')) {
        const target = targetOf(file, imported)
        if (known.has(target)) visit(target)
      }
    path.pop()
    state.set(name, 'done')
  }
  for (const { name } of sources) visit(name)
  return [...circles]
}

test('every folder stands on a floor, no arrow goes up, and every package is on its folder’s list', () => {
  expect(files.length).toBeGreaterThan(300)
  expect(complaintsOf(files)).toEqual([])
})

test('every folder of the list is there', () => {
  for (const { folder } of FOLDERS)
    expect(
      files.some((file) => file.name.startsWith(`${folder}/`)),
      folder,
    ).toBe(true)
})

test('nothing goes round in a circle', () => expect(circlesOf(files)).toEqual([]))

test.each(KINDS)('kinds in $folder never import each other', ({ folder, by, shared }) => {
  const kindOf = (name: string): string | null => {
    if (!name.startsWith(`${folder}/`)) return null
    const rest = name.slice(folder.length + 1).replace(/\.(ts|vue)$/, '')
    const parts = rest.split('/')
    const kind = by === 'folder' ? (parts.length > 1 ? parts[0]! : null) : rest
    return kind === null || shared.test(kind) ? null : kind
  }
  const wrong = files.flatMap((file) => {
    const own = kindOf(file.name)
    if (own === null) return []
    return file.imports
      .filter((imported) => imported.startsWith('.'))
      .map((imported) => kindOf(targetOf(file, imported)))
      .filter((other) => other !== null && other !== own)
      .map((other) => `${own} imports ${other}`)
  })
  expect(wrong).toEqual([])
})

describe('the test itself notices', () => {
  const with_ = (name: string, ...imports: string[]): SourceFile[] => [...files, { name, imports }]
  test.each([
    [
      'a folder that nobody listed',
      with_('core/surprise/a.ts'),
      /surprise\/a\.ts: its folder stands on no floor/,
    ],
    [
      'an arrow upwards',
      with_('core/scene/b.ts', '../checks/check.ts'),
      /scene\/b\.ts: reaches up to core\/checks/,
    ],
    [
      'a neighbour on the same floor',
      with_('core/checks/b.ts', '../reconcile/reconcile.ts'),
      /checks\/b\.ts: reaches up/,
    ],
    ['the server in the page', with_('web/b.ts', '../server/app.ts'), /web\/b\.ts: reaches up to server/],
    ['a package', with_('core/scene/b.ts', 'three'), /package three is not on the list of core\/scene/],
    ['Node in the core', with_('core/mesh/relations/b.ts', 'node:fs'), /package node:fs is not on the list/],
  ])('%s', (_title, sources, complaint) => {
    expect(complaintsOf(sources).join('\n')).toMatch(complaint)
  })
  test('a circle', () => {
    const circle = [
      { name: 'core/scene/a.ts', imports: ['./b.ts'] },
      { name: 'core/scene/b.ts', imports: ['./a.ts'] },
    ]
    expect(circlesOf(circle)).toEqual(['core/scene/a.ts > core/scene/b.ts'])
  })
  test('imports of all forms', () => {
    expect(
      importsOf(
        "import a from './a.ts'\nimport type {\n  B,\n} from './b.ts'\nexport { c } from \"./c.ts\"\nimport './d.ts'\nconst e = await import('./e.ts')\n",
      ),
    ).toEqual(['./a.ts', './b.ts', './c.ts', './d.ts', './e.ts'])
  })
})

test('scripts take in nothing that is not there: no compiler looks at them', () => {
  const scripts = resolve(src, '../scripts')
  const names = readdirSync(scripts).filter((name) => name.endsWith('.mjs'))
  const targets = names.flatMap((name) =>
    importsOf(readFileSync(join(scripts, name), 'utf8'))
      .filter((imported) => imported.startsWith('.'))
      .map((imported) => [name, imported] as const),
  )
  expect(targets.length).toBeGreaterThan(names.length)
  expect(targets.filter(([, imported]) => !existsSync(resolve(scripts, imported)))).toEqual([])
})

test('no source file is longer than a reader holds in mind', () => {
  const long = filesIn(src)
    .map((path) => [relative(src, path), readFileSync(path, 'utf8').split('\n').length] as const)
    .filter(([, lines]) => lines > 420)
  expect(long).toEqual([])
})
