// Mutation testing of one folder: `npm run mutants -- src/core/reconcile [--sample N] [--seed N] [--beside] [--left]`.
// Changes of one word are made, one at a time; those that leave every test of the folder green are listed. A sample takes
// random lines; --beside asks the tests elsewhere that name the folder too, --tests FILE those that are named. With
// --left only what the run before left is tried again: quick tests first, then the slow ones on the rest.
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { join, relative, resolve } from 'node:path'
import { parseArgs } from 'node:util'
import { chanceOf } from '../src/core/base/math/chance.ts'
import { root, run } from './run.mjs'

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    sample: { type: 'string' },
    seed: { type: 'string', default: '1' },
    beside: { type: 'boolean', default: false },
    left: { type: 'boolean', default: false },
    tests: { type: 'string', multiple: true },
  },
})
const folders = positionals.map((path) => relative(root, resolve(path)))
if (folders.length === 0 || folders.some((folder) => !folder.startsWith('src/'))) {
  console.error(
    'npm run mutants -- src/core/FOLDER ... [--sample N] [--seed N] [--beside] [--left] [--tests FILE ...]',
  )
  process.exit(2)
}

const walk = (path) =>
  statSync(path).isDirectory() ? readdirSync(path).flatMap((name) => walk(join(path, name))) : [path]
const files = folders.flatMap((folder) => walk(join(root, folder))).map((path) => relative(root, path))
const sources = files.filter((path) => path.endsWith('.ts') && !path.endsWith('.test.ts'))

/** Tests of the folder, and those beside the code that name a file of it. */
const own = files.filter((path) => path.endsWith('.test.ts'))
const beside = ['tests/core', 'src/core']
  .flatMap((folder) => walk(join(root, folder)))
  .map((path) => relative(root, path))
  .filter((path) => path.endsWith('.test.ts') && !own.includes(path))
  .filter((path) => {
    const text = readFileSync(join(root, path), 'utf8')
    return folders.some((folder) => text.includes(`${folder.replace(/^src\//, '')}/`))
  })
const tests = values.tests ?? [...own, ...(values.beside || own.length === 0 ? beside : [])]

/** Lines that hold something to change. */
const lines = sources.flatMap((path) => {
  let inComment = false
  return readFileSync(join(root, path), 'utf8')
    .split('\n')
    .flatMap((line, at) => {
      const text = line.trim()
      if (text.startsWith('/*')) inComment = true
      const skips =
        inComment || text === '' || text.startsWith('//') || /^(import|export type|\}|\)|\])/.test(text)
      if (text.includes('*/')) inComment = false
      return skips ? [] : [`${path}:${at + 1}-${at + 1}`]
    })
})
let mutate = sources
if (values.sample) {
  const next = chanceOf(Number(values.seed))
  const left = [...lines]
  mutate = []
  while (mutate.length < Number(values.sample) && left.length)
    mutate.push(left.splice(Math.floor(next() * left.length), 1)[0])
}

const folder = join(root, 'build/mutants')
const name = folders.join('-').replaceAll('/', '-')
const reportPath = join(folder, `${name}.json`)

/** What a report says of each change: by where it is and what it is, whether a test noticed. */
const noticedIn = (report) =>
  new Map(
    Object.entries(report.files).flatMap(([path, { mutants }]) =>
      mutants
        // words of sentences were never changed
        .filter(({ status }) => status !== 'Ignored')
        .map(({ location, mutatorName, replacement, status }) => [
          JSON.stringify([path, location, mutatorName, replacement]),
          { path, location, noticed: status === 'Killed' || status === 'Timeout' },
        ]),
    ),
  )
if (values.left && !existsSync(reportPath)) {
  console.error(`There is no run of ${folders.join(', ')} before this one.`)
  process.exit(2)
}
const before = values.left ? noticedIn(JSON.parse(readFileSync(reportPath, 'utf8'))) : null
if (before)
  mutate = [...before.values()]
    .filter(({ noticed }) => !noticed)
    .map(
      ({ path, location: { start, end } }) =>
        `${path}:${start.line}:${start.column - 1}-${end.line}:${end.column - 1}`,
    )
if (before && mutate.length === 0) {
  console.log('The run before left nothing.')
  process.exit(0)
}
rmSync(join(folder, 'sandbox'), { recursive: true, force: true })
rmSync(reportPath, { force: true })
mkdirSync(folder, { recursive: true })
writeFileSync(
  join(root, 'vitest.mutants.config.mjs'),
  // what is loaded stays: the tests are many and the files that they load more
  `import { keptAt } from './tests/core/approved/kept-at.ts'
export default {
  test: { include: ${JSON.stringify(tests)}, resolveSnapshotPath: keptAt, testTimeout: 60000, isolate: false },
}\n`,
)
const config = join(folder, 'stryker.json')
writeFileSync(
  config,
  JSON.stringify({
    testRunner: 'vitest',
    plugins: ['@stryker-mutator/vitest-runner'],
    vitest: { configFile: 'vitest.mutants.config.mjs', related: false },
    coverageAnalysis: 'perTest',
    mutate,
    // words of sentences are read by people
    mutator: { excludedMutations: ['StringLiteral'] },
    reporters: ['clear-text', 'json', 'progress-append-only'],
    clearTextReporter: { allowColor: false, logTests: false, reportTests: false, reportScoreTable: true },
    jsonReporter: { fileName: reportPath },
    tempDirName: 'build/mutants/sandbox',
    ignorePatterns: ['build', 'dist', 'docs/screenshots', 'test-results', '.ci', '.kelbo'],
    concurrency: 2,
    dryRunTimeoutMinutes: 30,
    timeoutMS: 20000,
    thresholds: { high: 80, low: 70, break: null },
    allowConsoleColors: false,
    checkers: [],
  }),
)
console.log(
  `${sources.length} files, ${tests.length} files of tests${values.sample ? `, ${mutate.length} lines` : ''}`,
)
try {
  process.exitCode = run(process.execPath, [
    join(root, 'node_modules/@stryker-mutator/core/bin/stryker.js'),
    'run',
    config,
  ])
} finally {
  rmSync(join(root, 'vitest.mutants.config.mjs'), { force: true })
}
if (existsSync(reportPath)) {
  const now = noticedIn(JSON.parse(readFileSync(reportPath, 'utf8')))
  const all = new Map(before ?? now)
  for (const [key, one] of now) if (all.has(key) && one.noticed) all.set(key, one)
  const noticed = [...all.values()].filter((one) => one.noticed).length
  console.log(
    `${noticed} of ${all.size} changes are noticed (${((100 * noticed) / Math.max(1, all.size)).toFixed(1)} %)`,
  )
}
