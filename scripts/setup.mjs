/** Installs what is lacking: Debian's packages, npm's, and the built program. */
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { capture, isRoot, node, root, run, workFolder } from './run.mjs'

/** Debian's packages by what they are needed for, with a file that tells that they are there. */
const PACKAGES = {
  postgresql: () => postgresFolder() !== null,
  chromium: () => existsSync('/usr/bin/chromium'),
  'libgl1-mesa-dri': () => existsSync('/usr/share/doc/libgl1-mesa-dri'),
  libegl1: () => existsSync('/usr/share/doc/libegl1'),
  'fonts-dejavu-core': () => existsSync('/usr/share/doc/fonts-dejavu-core'),
  'g++': () => existsSync('/usr/bin/g++'),
  'libosd-dev': () => existsSync('/usr/include/opensubdiv/far/topologyDescriptor.h'),
  'assimp-utils': () => existsSync('/usr/bin/assimp'),
  'poppler-utils': () => existsSync('/usr/bin/pdfinfo'),
  openssl: () => existsSync('/usr/bin/openssl'),
  'assimp-testmodels': () => existsSync('/usr/share/assimp/models/OBJ/box.obj'),
  'opencollada-tools': () => existsSync('/usr/lib/opencollada/collada_schema_1_4_1.xsd'),
  'libxml2-utils': () => existsSync('/usr/bin/xmllint'),
}
export const FOR_START = ['postgresql']
export const FOR_TESTS = [
  'postgresql',
  'chromium',
  'libgl1-mesa-dri',
  'libegl1',
  'fonts-dejavu-core',
  'assimp-utils',
  'assimp-testmodels',
  'opencollada-tools',
  'libxml2-utils',
  'openssl',
  'poppler-utils',
]

const postgresBase = '/usr/lib/postgresql'

/** Programs of a PostgreSQL by its first number, as 17; null where it is not installed. */
export function postgresFolderOf(version) {
  const folder = join(postgresBase, version, 'bin')
  return existsSync(join(folder, 'initdb')) ? folder : null
}

/** The newest PostgreSQL's programs; null where there is none. */
export function postgresFolder() {
  if (!existsSync(postgresBase)) return null
  const versions = readdirSync(postgresBase).filter((version) => postgresFolderOf(version))
  versions.sort((a, b) => Number(b) - Number(a))
  return versions.length ? postgresFolderOf(versions[0]) : null
}

/** @returns true when all wanted packages are there. */
export function installDebianPackages(wanted) {
  const lacking = wanted.filter((name) => !PACKAGES[name]())
  if (lacking.length === 0) return true
  const command = `apt-get install -y --no-install-recommends ${lacking.join(' ')}`
  if (!isRoot) {
    console.error(`These Debian packages are missing. Install them as root:\n  ${command}`)
    return false
  }
  console.log(`Installing ${lacking.join(', ')} ...`)
  // the packages' own start scripts must not start a database server of their own
  const options = {
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    stdio: ['ignore', 'ignore', 'inherit'],
  }
  run('apt-get', ['update', '-qq'], options)
  if (run('sh', ['-c', command], options) !== 0) {
    console.error(`Debian's packages could not be installed. Try: ${command}`)
    return false
  }
  return true
}

/** Installs npm's packages when the lock file is newer than what is installed. */
export function installPackages() {
  const stamp = join(root, 'node_modules', '.package-lock.json')
  const lock = join(root, 'package-lock.json')
  if (existsSync(stamp) && statSync(stamp).mtimeMs >= statSync(lock).mtimeMs) return true
  console.log('Installing packages with npm ...')
  return run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']) === 0
}

function sourceDigest() {
  const hash = createHash('sha256')
  const visit = (path) => {
    if (statSync(path).isDirectory()) for (const name of readdirSync(path).sort()) visit(join(path, name))
    else if (!path.endsWith('.test.ts')) hash.update(path).update(readFileSync(path))
  }
  for (const name of ['src', 'benchmarks', 'package-lock.json', 'vite.config.ts', 'vite.server.config.ts'])
    visit(join(root, name))
  return hash.digest('hex')
}

/** Builds page, server and command line when the sources have changed. */
export function build({ quiet = true } = {}) {
  mkdirSync(workFolder, { recursive: true })
  const stamp = join(workFolder, 'build-stamp')
  const digest = sourceDigest()
  if (existsSync(join(root, 'dist')) && existsSync(stamp) && readFileSync(stamp, 'utf8') === digest)
    return true
  console.error('Building ...')
  const vite = 'node_modules/vite/bin/vite.js'
  // what the build says belongs on standard error: standard output may be JSON for a pipeline
  const options = { stdio: ['ignore', quiet ? 'ignore' : 2, 2] }
  for (const config of ['vite.server.config.ts', 'vite.config.ts'])
    if (node(vite, ['build', '--config', config, '--logLevel', 'warn'], options) !== 0) return false
  writeFileSync(stamp, digest)
  return true
}

export const nodeIsRecent = () => {
  const [major, minor] = process.versions.node.split('.').map(Number)
  return major > 20 || (major === 20 && minor >= 11)
}

export const hasProgram = (name) => capture('sh', ['-c', `command -v ${name}`]).status === 0
