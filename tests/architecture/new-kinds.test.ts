/**
 * What a new format, trait, check, step, surface model or stand-in touches: a file (or folder) of its own and its line
 * in one registry. A copy of the source gets a tiny one of each, in just that way; then the rest is asked for them.
 */
import { spawnSync } from 'node:child_process'
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, join, resolve } from 'node:path'
import ts from 'typescript'
import { afterAll, beforeAll, expect, test } from 'vitest'

const root = resolve(import.meta.dirname, '../..')
mkdirSync(join(root, '.kelbo'), { recursive: true })
/** Beside the packages, so that they are found. */
const copy = mkdtempSync(join(root, '.kelbo', 'new-kinds-'))

interface Kind {
  readonly name: string
  readonly file: string
  readonly source: string
  readonly registry: string
  /** The import, and what is put into the list behind a line that is there. */
  readonly line: string
  readonly behind: string
  readonly entry: string
}

const KINDS: readonly Kind[] = [
  {
    name: 'format',
    file: 'core/formats/points/points.ts',
    source: `import { decodeUtf8, encodeUtf8 } from '../../base/bytes/text.ts'
import { EMPTY_SCENE, plainNode } from '../../scene/scene.ts'
import { EMPTY_MESH } from '../../scene/mesh.ts'
import type { FormatDescriptor } from '../descriptor.ts'

export const points: FormatDescriptor = {
  id: 'points', name: 'Point list', endings: ['.points'], besideEndings: [], hasTransforms: false,
  carries: ['points'], line: 'A point a line.',
  readOptions: [{ id: 'comma', title: 'Comma', kind: 'boolean', default: false }],
  writeOptions: [{ id: 'places', title: 'Places', kind: 'number', default: 3, min: 0, max: 9, place: 'how' }],
  messages: {},
  read: (file) => ({
    scene: {
      ...EMPTY_SCENE,
      nodes: [plainNode('cloud', { mesh: 0 })],
      meshes: [{ ...EMPTY_MESH, name: 'cloud', points: Float64Array.from((decodeUtf8(file.bytes) ?? '').split(/\\s+/).filter(Boolean).map(Number)) }],
    },
    findings: [],
  }),
  write: (scene, fileName, options) => ({
    files: [{ name: fileName, bytes: encodeUtf8([...scene.meshes[0]!.points].map((value) => value.toFixed(Number(options.places ?? 3))).join(' ')) }],
    findings: [],
    space: scene.space,
  }),
  readBack: () => ({}),
}
`,
    registry: 'core/formats/registry.ts',
    line: "import { points } from './points/points.ts'",
    behind: 'FORMATS: readonly FormatDescriptor[] = [',
    entry: 'points, ',
  },
  {
    name: 'trait',
    file: 'core/compare/traits/levels/levels.ts',
    source: `import { compared, type PartTraitDescriptor } from '../trait.ts'

export const levels: PartTraitDescriptor = {
  id: 'levels', title: 'levels', scope: 'part', ofThePart: true,
  notes: { 'levels-changed': { ledger: 'It came back with {count} levels.', forecast: 'It leaves with {count} levels.' } },
  fingerprint({ mesh }, hash) {
    hash.integer(mesh.subdivision.levels)
  },
  compare: ({ master, returned }) =>
    master.subdivision.levels === returned.subdivision.levels
      ? compared('same', 'same')
      : compared('changed', 'levels-changed', { parameters: { count: returned.subdivision.levels } }),
  carry: { kind: 'elements', carry: (target, source) => ({ ...target, subdivision: source.subdivision }) },
}
`,
    registry: 'core/compare/traits/registry.ts',
    line: "import { levels } from './levels/levels.ts'",
    behind: 'const REGISTRY = {',
    entry: '\n  levels,',
  },
  {
    name: 'check',
    file: 'core/checks/scene/short-names.ts',
    source: `import type { CheckDescriptor } from '../check.ts'

export const shortNames: CheckDescriptor = {
  id: 'short-names', area: 'scene', scope: 'scene', title: 'Short names', why: 'One letter says little.', reads: ['nodes'],
  problems: { short: { severity: 'info', text: '{count} [name|names] of one letter.' } },
  run({ scene }, report) {
    const nodes = scene.nodes.flatMap((node, index) => (node.name.length < 2 ? [index] : []))
    if (nodes.length) report({ problem: 'short', count: nodes.length, nodes, fix: { step: 'lengthen-names', params: {} } })
  },
}
`,
    registry: 'core/checks/registry.ts',
    line: "import { shortNames } from './scene/short-names.ts'",
    behind: 'CHECKS: readonly CheckDescriptor[] = [',
    entry: '\n  shortNames,',
  },
  {
    name: 'step',
    file: 'core/steps/parts/lengthen-names.ts',
    source: `import { outcome, type StepDescriptor } from '../step.ts'

export const lengthenNames: StepDescriptor = {
  id: 'lengthen-names', area: 'parts', title: 'Lengthen names', description: 'Says every name twice.', changes: ['names'],
  parameters: [{ id: 'between', title: 'Between', kind: 'text', default: '_', most: 5 }],
  run: ({ scene, text }) =>
    outcome({ ...scene, nodes: scene.nodes.map((node) => ({ ...node, name: node.name + text('between') + node.name })) }, scene.nodes.length, 'parts'),
}
`,
    registry: 'core/steps/registry.ts',
    line: "import { lengthenNames } from './parts/lengthen-names.ts'",
    behind: 'STEPS: readonly StepDescriptor[] = [',
    entry: '\n  lengthenNames,',
  },
  {
    name: 'surface model',
    file: 'core/surfaces/models/chalk.ts',
    source: `import { HUB_STANDARD } from '../hub.ts'
import type { SurfaceModel } from '../model.ts'
import { color, readerOf } from '../parameters.ts'

const parameters = [color('dust', [1, 1, 1], { slot: 'baseColor', mapName: 'dust_map' })]

export const chalk: SurfaceModel = {
  id: 'chalk', title: 'Chalk', source: 'made up for the test', materialModel: 'chalk', parameters,
  toHub: (values) => ({ ...HUB_STANDARD, baseColor: readerOf(parameters)(values).rgb('dust') }),
  fromHub: ({ baseColor }) => ({ dust: baseColor }),
}
`,
    registry: 'core/surfaces/registry.ts',
    line: "import { chalk } from './models/chalk.ts'",
    behind: 'SURFACE_MODELS: readonly SurfaceModel[] = [',
    entry: 'chalk, ',
  },
  {
    name: 'stand-in',
    file: 'core/practice/standins/idler.ts',
    source: `import type { StandInDescriptor } from './standin.ts'

export const idler: StandInDescriptor = {
  id: 'idler', name: 'The idler', description: 'Does nothing.', action: 'Idle', suffix: '_idled', reads: ['points'],
  parameters: [],
  run: (model) => ({ files: [{ ...model, name: 'idled.points' }], log: ['Nothing was done.'] }),
}
`,
    registry: 'core/practice/standins/registry.ts',
    line: "import { idler } from './idler.ts'",
    behind: 'STAND_INS: readonly StandInDescriptor[] = [',
    entry: 'idler, ',
  },
]

/** Asks the rest of the source for each, in a process of its own. */
const ASKING = `
import { describeKinds } from './app/descriptors.ts'
import { readPackage } from './core/formats/package/read-package.ts'
import { formatById } from './core/formats/registry.ts'
import { parseWriteOptionsFor } from './asking-options.ts'
import { compareScenes } from './core/compare/compare-scenes.ts'
import { noteText } from './core/compare/traits/registry.ts'
import { reconcile } from './core/reconcile/reconcile.ts'
import { findingText, runChecks } from './core/checks/run-checks.ts'
import { runStep } from './core/steps/run-steps.ts'
import { runStandIn, standInOf } from './core/practice/standins/registry.ts'
import { cubeOf, sceneOf } from './solids.ts'

const kinds = describeKinds()
const cloud = { name: 'cloud.points', bytes: new TextEncoder().encode('0 0 0 1 2 3') }
const { scene: read, models } = readPackage([cloud])
const format = formatById('points')!
const written = format.write(read, 'cloud.points', parseWriteOptionsFor(format, 'places=1'))
const cube = sceneOf([cubeOf()])
const finer = { ...cube, meshes: cube.meshes.map((mesh) => ({ ...mesh, subdivision: { scheme: 'catmull-clark' as const, levels: 3 } })) }
const ledger = compareScenes(cube, finer)
const cell = ledger.rows[0]!.cells.levels!
const taken = reconcile(cube, finer, { take: ['levels' as never] })
const short = { ...cube, nodes: cube.nodes.map((node) => ({ ...node, name: 'a' })) }
const finding = runChecks(short, {}).find(({ check }) => check === 'short-names')!
const stepped = runStep(short, { step: finding.fix!.step, params: { between: '-' } })
const idled = runStandIn(standInOf('idler')!, [cloud])
console.log(JSON.stringify({
  described: [kinds.formats, kinds.traits, kinds.checks, kinds.steps, kinds.surfaceModels, kinds.standIns].map((list) => list[0]!.id),
  models, points: [...read.meshes[0]!.points], written: new TextDecoder().decode(written.files[0]!.bytes),
  cell: [cell.state, noteText(cell.note, cell.parameters)], taken: taken.scene.meshes[0]!.subdivision.levels,
  finding: findingText(finding), stepped: stepped.scene.nodes[0]!.name, idled: idled.files[0]!.name,
}))
`

beforeAll(() => {
  for (const folder of ['core', 'app', 'contract', 'host'])
    cpSync(join(root, 'src', folder), join(copy, folder), { recursive: true })
  for (const { file, source, registry, line, behind, entry } of KINDS) {
    mkdirSync(dirname(join(copy, file)), { recursive: true })
    writeFileSync(join(copy, file), source)
    const text = readFileSync(join(copy, registry), 'utf8')
    if (!text.includes(behind)) throw new Error(`${registry} has no list “${behind}”`)
    const withEntry = text.replace(behind, () => behind + entry)
    const firstImport = withEntry.search(/^import /m)
    writeFileSync(
      join(copy, registry),
      `${withEntry.slice(0, firstImport)}${line}\n${withEntry.slice(firstImport)}`,
    )
  }
  const solids = readFileSync(join(root, 'tests/solids.ts'), 'utf8').replaceAll("'../src/", "'./")
  writeFileSync(join(copy, 'solids.ts'), solids)
  writeFileSync(
    join(copy, 'asking-options.ts'),
    `import { parseOption } from './core/base/options/check-options.ts'
import type { FormatDescriptor } from './core/formats/descriptor.ts'
export const parseWriteOptionsFor = (format: FormatDescriptor, text: string) => Object.fromEntries([parseOption(format.writeOptions, text)])
`,
  )
  writeFileSync(join(copy, 'asking.ts'), ASKING)
})
afterAll(() => rmSync(copy, { recursive: true, force: true }))

test('one of each kind is a file of its own and a line in its registry; everything else knows it', () => {
  const { stdout, stderr } = spawnSync(join(root, 'node_modules/.bin/tsx'), [join(copy, 'asking.ts')], {
    encoding: 'utf8',
  })
  expect(stderr).toBe('')
  expect(JSON.parse(stdout)).toEqual({
    described: ['points', 'levels', 'short-names', 'lengthen-names', 'chalk', 'idler'],
    models: ['cloud.points'],
    points: [0, 0, 0, 1, 2, 3],
    written: '0.0 0.0 0.0 1.0 2.0 3.0',
    cell: ['changed', 'It came back with 3 levels.'],
    taken: 3,
    finding: '1 name of one letter.',
    stepped: 'a-a',
    idled: 'idled.points',
  })
})

test('with them the core still compiles; a trait that does not say how it is carried does not', () => {
  const configured = (name: string): ts.CompilerOptions =>
    ts.parseConfigFileTextToJson(name, readFileSync(join(root, name), 'utf8')).config.compilerOptions
  const { options, fileNames, errors } = ts.parseJsonConfigFileContent(
    {
      compilerOptions: {
        ...configured('tsconfig.base.json'),
        ...configured('src/core/tsconfig.json'),
        composite: false,
        incremental: false,
        emitDeclarationOnly: false,
        noEmit: true,
      },
      include: ['core/**/*.ts'],
      exclude: ['**/*.test.ts'],
    },
    ts.sys,
    copy,
  )
  expect(errors).toEqual([])
  expect(fileNames.length).toBeGreaterThan(300)
  const wordsOf = (found: readonly ts.Diagnostic[]): string[] =>
    found.map(({ messageText }) => ts.flattenDiagnosticMessageText(messageText, ' '))
  const program = ts.createProgram(fileNames, options)
  // the new files, their registries, and whoever names one: nothing else can mind; all of it is judged by itself already
  const registries = KINDS.map(({ registry }) => join(copy, registry))
  const minding = program.getSourceFiles().filter((file) => {
    const { fileName } = file
    if (KINDS.some((kind) => fileName === join(copy, kind.file)) || registries.includes(fileName)) return true
    return file.statements.some(
      (statement) =>
        ts.isImportDeclaration(statement) &&
        registries.includes(join(dirname(fileName), (statement.moduleSpecifier as ts.StringLiteral).text)),
    )
  })
  expect(minding.length).toBeGreaterThan(KINDS.length * 3)
  expect(wordsOf(program.getOptionsDiagnostics())).toEqual([])
  expect(wordsOf(minding.flatMap((file) => [...program.getSyntacticDiagnostics(file), ...program.getSemanticDiagnostics(file)]))).toEqual([]) // prettier-ignore
  const levels = join(copy, 'core/compare/traits/levels/levels.ts')
  const source = readFileSync(levels, 'utf8')
  writeFileSync(levels, source.replace(/ {2}carry: .*\n/, ''))
  // the rest is as it was: only this file is read and judged again
  const again = ts.createProgram(fileNames, options, undefined, program)
  expect(wordsOf(again.getSemanticDiagnostics(again.getSourceFile(levels))).join()).toMatch(
    /Property 'carry' is missing/,
  )
  writeFileSync(levels, source)
})
