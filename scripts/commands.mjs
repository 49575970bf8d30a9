import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { startApplication } from './application.mjs'
import { startDatabase } from './database.mjs'
import { node, root, run } from './run.mjs'
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

async function startCommand() {
  const ownDatabase = !process.env.KELBO_DATABASE_URL
  if (ownDatabase && !installDebianPackages(FOR_START))
    return fail(
      'Kelbo goes on when PostgreSQL is there, or with KELBO_DATABASE_URL set to a server’s address.',
    )
  const prepared = prepare()
  if (prepared) return prepared
  let database = { url: process.env.KELBO_DATABASE_URL, stop: () => {} }
  let application = null
  let ending = false
  const end = async () => {
    if (ending) return
    ending = true
    await application?.stop()
    database.stop()
  }
  let finish
  const finished = new Promise((resolve) => (finish = resolve))
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => void end().then(() => finish(0)))
  try {
    if (ownDatabase) database = await startDatabase()
    application = await startApplication({
      databaseUrl: database.url,
      port: Number(process.env.KELBO_PORT ?? 4780),
      workers: Number(process.env.KELBO_WORKERS ?? 1),
    })
  } catch (error) {
    await end()
    return fail(error.message)
  }
  for (const child of application.children)
    child.once('exit', () => {
      if (ending) return
      console.error('A part of Kelbo ended unexpectedly; stopping the rest.')
      void end().then(() => finish(1))
    })
  console.log(`Kelbo is at ${application.address}  (Ctrl-C stops it)`)
  return finished
}

async function testCommand(args) {
  if (!installDebianPackages(FOR_TESTS)) return fail('The tests need these packages.')
  const prepared = prepare()
  if (prepared) return prepared
  const { runTests } = await import('./test.mjs')
  return runTests(args.slice(1))
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
    if (status !== 0) return status
  }
  await benchmarkPage()
  return 0
}

function commandLine(args) {
  if (!existsSync(join(root, 'node_modules')) || !existsSync(join(root, 'dist/server/cli.js'))) {
    const prepared = prepare()
    if (prepared) return prepared
  } else if (!build()) return fail('The build failed.')
  if (args.length === 0)
    console.error(
      '  ./kelbo start       run the application with its demo\n  ./kelbo test        run all tests\n  ./kelbo benchmark   figures beside other libraries\n',
    )
  return node('dist/server/cli.js', args)
}

export const commands = {
  start: startCommand,
  test: testCommand,
  benchmark: benchmarkCommand,
  build: () => (installPackages() && build() ? 0 : 1),
  commandLine,
}
