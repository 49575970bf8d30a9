/** All tests, with a database of their own; ends with a line that counts. */
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { removeDatabase, startDatabase } from './database.mjs'
import { startApplication } from './application.mjs'
import { nodeKept } from './keep.mjs'
import { node, workFolder } from './run.mjs'

const results = join(workFolder, 'test-results')

export async function runTests(only) {
  rmSync(results, { recursive: true, force: true })
  mkdirSync(results, { recursive: true })
  const counts = { passed: 0, failed: 0 }
  const wanted = (name) => only.length === 0 || only.includes(name)
  const count = (name, passed) => {
    counts[passed ? 'passed' : 'failed']++
    console.log(`${passed ? 'ok  ' : 'FAIL'} ${name}`)
  }
  if (wanted('format'))
    count(
      'format',
      node('node_modules/prettier/bin/prettier.cjs', ['--check', '--log-level', 'warn', '.']) === 0,
    )
  if (wanted('lint'))
    count('lint', node('node_modules/eslint/bin/eslint.js', ['--max-warnings', '0', '.']) === 0)
  if (wanted('types')) count('types', node('node_modules/vue-tsc/bin/vue-tsc.js', ['-b']) === 0)

  const vitest = async (project, env) => {
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
      { env: { ...process.env, ...env } },
    )
    if (!existsSync(output)) return count(`${project} tests ran`, false)
    const report = JSON.parse(readFileSync(output, 'utf8'))
    counts.passed += report.numPassedTests
    counts.failed += report.numFailedTests
    // a file that could not even be loaded has no tests to count
    if (status !== 0 && report.numFailedTests === 0) count(`${project} tests ran to their end`, false)
  }
  if (wanted('core')) await vitest('core', {})

  if (wanted('server') || wanted('browser')) {
    removeDatabase('test-postgres')
    const database = await startDatabase('test-postgres', { fast: true })
    try {
      if (wanted('server')) await vitest('server', { KELBO_DATABASE_URL: database.url })
      if (wanted('browser')) await browserTests(database.url, counts, count)
    } finally {
      database.stop()
      removeDatabase('test-postgres')
    }
  }
  console.log(`${counts.passed} passed, ${counts.failed} failed`)
  return counts.failed === 0 && counts.passed > 0 ? 0 : 1
}

async function browserTests(databaseUrl, counts, count) {
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
    const { stats } = JSON.parse(readFileSync(output, 'utf8'))
    counts.passed += stats.expected + stats.flaky
    counts.failed += stats.unexpected
    if (stats.flaky > 0) console.log(`browser: ${stats.flaky} of them passed at the second try only`)
    if (status !== 0 && stats.unexpected === 0) count('browser tests ran to their end', false)
  } finally {
    await application.stop()
    rmSync(handOff, { recursive: true, force: true })
  }
}
