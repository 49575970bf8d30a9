/** Holds the shape of the code: which folder may import what. */
import { readdirSync, readFileSync, statSync } from 'node:fs'
import { dirname, join, relative, resolve } from 'node:path'
import { expect, test } from 'vitest'

const src = resolve(import.meta.dirname, '../../src')

/** Packages that a folder of src may import. */
const PACKAGES: Record<string, readonly string[]> = {
  core: ['earcut', 'fflate'],
  tasks: [],
  host: ['node:'],
  contract: ['zod'],
  cli: ['node:'],
  server: [
    'node:',
    '@fastify/',
    'fastify',
    'fastify-type-provider-zod',
    'drizzle-orm',
    'pg',
    'pg-boss',
    'zod',
  ],
  web: [
    '@fontsource-variable/',
    'element-plus',
    'pinia',
    'plotly.js-basic-dist-min',
    'three',
    'three-mesh-bvh',
    'vue',
    'vue-router',
    'zod',
  ],
}
/** Folders of src that a folder of src may import. */
const FOLDERS: Record<string, readonly string[]> = {
  core: [],
  tasks: ['core'],
  host: ['core'],
  contract: ['core'],
  cli: ['core', 'host', 'tasks', 'contract'],
  server: ['core', 'host', 'tasks', 'contract'],
  web: ['core', 'tasks', 'contract'],
}

function filesIn(folder: string): string[] {
  return readdirSync(folder).flatMap((name) => {
    const path = join(folder, name)
    if (statSync(path).isDirectory()) return filesIn(path)
    return /\.(ts|vue)$/.test(name) && !name.endsWith('.test.ts') && !name.endsWith('.d.ts') ? [path] : []
  })
}

const importsOf = (path: string): string[] =>
  [
    ...readFileSync(path, 'utf8').matchAll(
      /^(?:(?:import|export|\}).*\bfrom|import) '([^']+)'|\bimport\('([^']+)'\)/gm,
    ),
  ].map((match) => (match[1] ?? match[2])!)

const files = filesIn(src).map((path) => ({ path, name: relative(src, path), imports: importsOf(path) }))

test.each(Object.keys(PACKAGES))('%s imports only what it may', (folder) => {
  const own = files.filter((file) => file.name.startsWith(`${folder}/`))
  expect(own.length).toBeGreaterThan(0)
  const wrong: string[] = []
  for (const file of own)
    for (const name of file.imports) {
      if (name.startsWith('.')) {
        const target = relative(src, resolve(dirname(file.path), name)).split('/')[0]!
        if (target !== folder && !FOLDERS[folder]!.includes(target)) wrong.push(`${file.name}: ${name}`)
      } else if (
        !PACKAGES[folder]!.some(
          (allowed) =>
            name === allowed ||
            name.startsWith(allowed.endsWith('/') || allowed.endsWith(':') ? allowed : `${allowed}/`),
        )
      )
        wrong.push(`${file.name}: ${name}`)
    }
  expect(wrong).toEqual([])
})

test('inside the core, formats never import each other but for the material file that belongs to OBJ', () => {
  const wrong = files.flatMap((file) => {
    const own = /^core\/formats\/(\w+)\//.exec(file.name)?.[1]
    if (!own) return []
    return file.imports.filter((name) => {
      if (!name.startsWith('.')) return false
      const other = /^core\/formats\/(\w+)\//.exec(relative(src, resolve(dirname(file.path), name)))?.[1]
      return other && other !== own && !(own === 'obj' && other === 'mtl')
    })
  })
  expect(wrong).toEqual([])
})

test('what stands on scene, math and messages does not reach up', () => {
  const order = [
    'messages',
    'math',
    'bytes',
    'scene',
    'normals',
    'uv',
    'formats',
    'match',
    'traits',
    'reconcile',
    'standins',
    'demo',
  ]
  const base = new Set(['scene', 'math', 'messages', 'bytes'])
  const wrong = files.flatMap((file) => {
    const own = /^core\/(\w+)\//.exec(file.name)?.[1]
    if (!own || !base.has(own)) return []
    return file.imports
      .filter((name) => name.startsWith('.'))
      .map((name) => relative(src, resolve(dirname(file.path), name)).split('/')[1]!)
      .filter((target) => order.indexOf(target) > order.indexOf('scene'))
      .map((target) => `${file.name} imports ${target}`)
  })
  expect(wrong).toEqual([])
})

test('database rows never leave server/db: only it and the places that compose transactions know the tables', () => {
  const users = files
    .filter((file) => file.imports.some((name) => name.endsWith('/schema.ts')))
    .map((file) => dirname(file.name))
  expect([...new Set(users)].sort()).toEqual(['server', 'server/db', 'server/jobs', 'server/routes'])
})

test('no source file is longer than a reader holds in mind', () => {
  const long = files
    .map((file) => [file.name, readFileSync(file.path, 'utf8').split('\n').length] as const)
    .filter(([, lines]) => lines > 620)
  expect(long).toEqual([])
})
