/** All tests, with a database of their own; ends with a line that counts. */
import { closeSync, existsSync, mkdirSync, openSync, readFileSync, rmSync } from 'node:fs'
import { join, relative } from 'node:path'
import { removeDatabase, startDatabase } from './database.mjs'
import { startApplication } from './application.mjs'
import { nodeKept } from './keep.mjs'
import { root, workFolder } from './run.mjs'

const results = join(workFolder, 'test-results')

/** Where what runs beside something else prints, until it has ended: two at once would be read by nobody. */
async function printedLater(name, work) {
  const path = join(results, `${name}.txt`)
  const file = openSync(path, 'w')
  try {
    await work(['ignore', file, file])
  } finally {
    closeSync(file)
    process.stdout.write(readFileSync(path))
  }
}
const SHOWN = ['ignore', 'inherit', 'inherit']

export async function runTests(only) {
  rmSync(results, { recursive: true, force: true })
  mkdirSync(results, { recursive: true })
  const counts = { passed: 0, failed: 0 }
  const failed = []
  const wanted = (name) => only.length === 0 || only.includes(name)
  const count = (name, passed) => {
    counts[passed ? 'passed' : 'failed']++
    console.log(`${passed ? 'ok  ' : 'FAIL'} ${name}`)
  }
  const judges = {
    format: ['node_modules/prettier/bin/prettier.cjs', ['--check', '--log-level', 'warn', '.']],
    lint: ['node_modules/eslint/bin/eslint.js', ['--max-warnings', '0', '.']],
    types: ['node_modules/vue-tsc/bin/vue-tsc.js', ['-b']],
  }
  const judge = (stdio) =>
    Promise.all(
      Object.entries(judges)
        .filter(([name]) => wanted(name))
        .map(async ([name, [script, words]]) =>
          count(name, (await nodeKept(script, words, { stdio, isIdle: true })) === 0),
        ),
    )

  const vitest = async (project, { env, ...options }) => {
    const output = join(results, `${project}.json`)
    const status = await nodeKept(
      'node_modules/vitest/vitest.mjs',
      [
        'run',
        '--project',
        project,
        '--reporter',
        'default',
        '--reporter',
        'json',
        '--outputFile.json',
        output,
      ],
      { env: { ...process.env, ...env }, ...options },
    )
    if (!existsSync(output)) return count(`${project} tests ran`, false)
    const report = JSON.parse(readFileSync(output, 'utf8'))
    counts.passed += report.numPassedTests
    counts.failed += report.numFailedTests
    failed.push(...failedOfVitest(report))
    // a file that could not even be loaded has no tests to count
    if (status !== 0 && report.numFailedTests === 0) count(`${project} tests ran to their end`, false)
  }
  // What only computes takes what is left of the processors: a browser and processes that are ended and started again
  // wait for most of their time, and are not to wait for those.
  const computes = async () => {
    if (wanted('core')) await vitest('core', { stdio: SHOWN, isIdle: true })
    await judge(SHOWN)
  }
  const server = (stdio) =>
    withDatabase('test-postgres', (url) => vitest('server', { env: { KELBO_DATABASE_URL: url }, stdio }))
  const browser = (stdio) =>
    withDatabase('test-postgres-browser', (url) => browserTests(url, { counts, count, failed }, stdio))
  // whatever becomes of the one, the others are waited for
  const ended = await Promise.allSettled([
    computes(),
    wanted('server') && printedLater('server', server),
    wanted('server') && printedLater('life', (stdio) => vitest('life', { stdio })),
    wanted('browser') && printedLater('browser', browser),
  ])
  for (const { reason } of ended) if (reason) throw reason
  // once more at the end: what ran beside each other printed it somewhere above
  if (failed.length > 0) console.log(`\nWhat failed:\n${failed.join('\n')}\n`)
  console.log(`${counts.passed} passed, ${counts.failed} failed`)
  return counts.failed === 0 && counts.passed > 0 ? 0 : 1
}

const MOST_LINES = 25
const told = (file, name, message = '') => {
  const lines = message.replace(/\u001b\[[0-9;]*m/g, '').split('\n')
  return [
    `- ${relative(root, file)}: ${name}`,
    ...lines.slice(0, MOST_LINES).map((line) => `    ${line}`),
  ].join('\n')
}

/** @returns a paragraph for each test that failed, and for each file that could not be loaded. */
function failedOfVitest({ testResults }) {
  return testResults.flatMap(({ name: file, status, message, assertionResults }) => {
    const failed = assertionResults.filter((test) => test.status === 'failed')
    if (failed.length === 0 && status === 'failed') return [told(file, 'could not be run', message)]
    return failed.map((test) => told(file, test.fullName, test.failureMessages.join('\n')))
  })
}

/** As {@link failedOfVitest}, of the browser's: suites lie in suites, and a test has a result for each try. */
function failedOfBrowser({ suites, errors, config }) {
  const of = (suite) => [
    ...(suite.suites ?? []).flatMap(of),
    ...(suite.specs ?? [])
      .filter((spec) => !spec.ok)
      .map((spec) => {
        const messages = spec.tests.flatMap((test) => test.results.map(({ error }) => error?.message ?? ''))
        return told(join(config.rootDir, spec.file), spec.title, messages.join('\n'))
      }),
  ]
  return [...suites.flatMap(of), ...errors.map((error) => told(config.rootDir, 'browser', error.message))]
}

/** A database that is made for this and removed after it. */
async function withDatabase(name, use) {
  removeDatabase(name)
  const database = await startDatabase(name, { fast: true })
  try {
    await use(database.url)
  } finally {
    database.stop()
    removeDatabase(name)
  }
}

async function browserTests(databaseUrl, { counts, count, failed }, stdio) {
  const port = 4870 + (process.pid % 100)
  const handOff = join(workFolder, 'test-hand-off')
  rmSync(handOff, { recursive: true, force: true })
  const application = await startApplication({
    databaseUrl,
    port,
    environment: { KELBO_ZIP_LIMIT: '200000000', KELBO_HANDOFF: handOff, KELBO_HANDOFF_QUIET: '1' },
  })
  const output = join(results, 'browser.json')
  try {
    const status = await nodeKept('node_modules/@playwright/test/cli.js', ['test'], {
      stdio,
      env: {
        ...process.env,
        KELBO_ADDRESS: application.address,
        // for those that start a server of their own beside it
        KELBO_DATABASE_URL: databaseUrl,
        KELBO_HANDOFF: handOff,
        PLAYWRIGHT_JSON_OUTPUT_NAME: output,
      },
    })
    if (!existsSync(output)) return count('browser tests ran', false)
    const report = JSON.parse(readFileSync(output, 'utf8'))
    const { stats } = report
    failed.push(...failedOfBrowser(report))
    counts.passed += stats.expected + stats.flaky
    counts.failed += stats.unexpected
    if (stats.flaky > 0) console.log(`browser: ${stats.flaky} of them passed at the second try only`)
    if (status !== 0 && stats.unexpected === 0) count('browser tests ran to their end', false)
  } finally {
    await application.stop()
    rmSync(handOff, { recursive: true, force: true })
  }
}
