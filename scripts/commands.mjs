import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { addressOf, keepRunning, startApplication } from './application.mjs'
import { startDatabase } from './database.mjs'
import { node, root, run } from './run.mjs'
import { claimRunning, inTheWay } from './running.mjs'
import { overview } from './usage.mjs'
import {
  build,
  FOR_START,
  FOR_TESTS,
  installDebianPackages,
  installPackages,
  nodeIsRecent,
} from './setup.mjs'

const fail = (text) => {
  console.error(text)
  return 2
}

/** Packages and build for everything that runs the program. */
function prepare() {
  if (!nodeIsRecent()) return fail(`Kelbo needs Node 20.11 or newer; this is ${process.versions.node}.`)
  if (!installPackages()) return fail('npm could not install the packages.')
  if (!build()) return fail('The build failed.')
  return 0
}

/** A database process that is gone is started again, at the same address. */
function keepDatabase(database, say) {
  const lived = () => ({
    ended: new Promise((resolve) => {
      const timer = setInterval(() => {
        if (database.isAlive()) return
        clearInterval(timer)
        resolve('ended')
      }, 500)
      timer.unref()
    }),
  })
  return keepRunning(
    'database',
    lived(),
    async () => {
      database.startAgain()
      return lived()
    },
    say,
  )
}

async function startCommand() {
  const ownDatabase = !process.env.KELBO_DATABASE_URL
  const port = Number(process.env.KELBO_PORT ?? 4780)
  if (ownDatabase) {
    const other = claimRunning({ address: addressOf(port) })
    if (other) return fail(inTheWay(other))
  }
  if (ownDatabase && !installDebianPackages(FOR_START))
    return fail(
      'Kelbo goes on when PostgreSQL is there, or with KELBO_DATABASE_URL set to a server’s address.',
    )
  const prepared = prepare()
  if (prepared) return prepared
  let database = { url: process.env.KELBO_DATABASE_URL, stop: () => {} }
  let application = null
  let stopKeeping = () => {}
  let ending = false
  const end = async () => {
    if (ending) return
    ending = true
    stopKeeping()
    await application?.stop()
    database.stop()
  }
  let finish
  const finished = new Promise((resolve) => (finish = resolve))
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => void end().then(() => finish(0)))
  const say = (text) => console.error(`${new Date().toISOString().slice(11, 19)}  ${text}`)
  try {
    if (ownDatabase) {
      database = await startDatabase('postgres', { say })
      stopKeeping = keepDatabase(database, say)
    }
    application = await startApplication({
      databaseUrl: database.url,
      port,
      workers: Number(process.env.KELBO_WORKERS ?? 2),
      say,
    })
  } catch (error) {
    await end()
    return fail(error.message)
  }
  console.log(`Kelbo is at ${application.address}  (Ctrl-C stops it)`)
  const status = await finished
  // what still holds the process up has nothing to say any more
  process.exit(status)
}

/** `./kelbo backup FILE`, `./kelbo restore FILE` */
const keeping = (name) => async (args) => {
  const [, file, ...more] = args
  if (!file || more.length) return fail(`Say which file: ./kelbo ${name} FILE`)
  const prepared = prepare()
  if (prepared) return prepared
  const commands = await import('./backup.mjs')
  try {
    await commands[name](file)
    return 0
  } catch (error) {
    // a mistake of our own is shown as one
    if (error instanceof TypeError || error instanceof ReferenceError) throw error
    return fail(error.message)
  }
}

/** `./kelbo accounts [add | password | remove NAME]` */
async function accountsCommand([, ...words]) {
  const prepared = prepare()
  if (prepared) return prepared
  const { accounts } = await import('./accounts.mjs')
  try {
    return await accounts(words)
  } catch (error) {
    if (error instanceof TypeError || error instanceof ReferenceError) throw error
    return fail(error.message)
  }
}

async function testCommand(args) {
  if (!installDebianPackages(FOR_TESTS)) return fail('The tests need these packages.')
  const prepared = prepare()
  if (prepared) return prepared
  if (args[1] === '--long') return longTests(args.slice(2))
  const { runTests } = await import('./test.mjs')
  // what still runs is ended by the keeper
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => process.exit(130))
  return runTests(args.slice(1))
}

/**
 * `./kelbo test --long [--kills N] [--seed N]`: kills while people work, models of others, tests with random cases over
 * many of them, then damaged files by seeds.
 */
function longTests(args) {
  const kills = run(process.execPath, ['--import', 'tsx', join(root, 'tests/long/kills.ts'), ...args])
  if (kills === 2) return kills
  const models = run(process.execPath, ['--import', 'tsx', join(root, 'tests/long/models.ts')])
  const cases = manyCases()
  const fuzz = fuzzCommand(['fuzz'])
  return kills || models || cases || fuzz
}

/** The tests of the core that go through more random cases in the long run: see tests/how-many.ts. */
function manyCases() {
  const files = ['src/core', 'tests/core'].flatMap((folder) =>
    readdirSync(join(root, folder), { recursive: true })
      .map((name) => join(folder, name))
      .filter((path) => path.endsWith('.test.ts'))
      .filter((path) => readFileSync(join(root, path), 'utf8').includes('/how-many.ts')),
  )
  return run(
    process.execPath,
    [
      join(root, 'node_modules/vitest/vitest.mjs'),
      'run',
      '--project',
      'core',
      '--testTimeout',
      '7200000',
      ...files,
    ],
    { env: { ...process.env, KELBO_LONG: '1' } },
  )
}

/** Damaged files by seeds, as many as one likes; goes on where the last run ended. */
function fuzzCommand(args) {
  if (!nodeIsRecent()) return fail(`Kelbo needs Node 20.11 or newer; this is ${process.versions.node}.`)
  if (!installPackages()) return fail('npm could not install the packages.')
  if (!installDebianPackages(FOR_TESTS)) return fail('The files to begin with are those of the tests.')
  return run(process.execPath, ['--import', 'tsx', join(root, 'tests/fuzz/watch.ts'), ...args.slice(1)])
}

async function benchmarkCommand(args) {
  installDebianPackages([
    'g++',
    'libosd-dev',
    'assimp-utils',
    'postgresql',
    'chromium',
    'libgl1-mesa-dri',
    'libegl1',
  ])
  const prepared = prepare()
  if (prepared) return prepared
  const { benchmarkPage } = await import('./benchmark-page.mjs')
  if (!args.includes('--page')) {
    const status = run(process.execPath, [join(root, 'dist/server/benchmark.js'), ...args.slice(1)])
    // one kind of figure alone is asked for
    if (
      status !== 0 ||
      ['--fbx', '--interchange', '--returns', '--surfaces', '--uvs'].some((flag) => args.includes(flag))
    )
      return status
  }
  await benchmarkPage()
  return 0
}

function commandLine(args) {
  if (!existsSync(join(root, 'node_modules')) || !existsSync(join(root, 'dist/server/cli.js'))) {
    const prepared = prepare()
    if (prepared) return prepared
  } else if (!build()) return fail('The build failed.')
  if (args.length === 0) console.error(`${overview()}\n`)
  // paths are those of who calls
  return node('dist/server/cli.js', args, { cwd: process.cwd() })
}

export const commands = {
  start: startCommand,
  backup: keeping('backup'),
  restore: keeping('restore'),
  test: testCommand,
  benchmark: benchmarkCommand,
  accounts: accountsCommand,
  fuzz: fuzzCommand,
  build: () => (installPackages() && build() ? 0 : 1),
  commandLine,
}
