/**
 * Backups: one file with all that the database holds, as PostgreSQL's own dump between two lines that say what it is.
 * The first tells the form; the last tells its length and SHA-256, so that a file that is not whole is known.
 */
import { spawn } from 'node:child_process'
import { createHash } from 'node:crypto'
import { once } from 'node:events'
import {
  closeSync,
  createReadStream,
  createWriteStream,
  existsSync,
  fstatSync,
  openSync,
  readdirSync,
  readSync,
  renameSync,
  rmSync,
} from 'node:fs'
import { join, resolve } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { clusterFolder, dated, startDatabase } from './database.mjs'
import { capture, root } from './run.mjs'
import { postgresFolder } from './setup.mjs'
import { claimRunning, inTheWay } from './running.mjs'

const KIND = 'kelbo-backup'
/** Bytes at the end of the file within which its last line lies. */
const LAST_LINE_WITHIN = 512

/** How many changes of the tables this program knows: a backup of a later form can't be read by it. */
const knownForm = () =>
  readdirSync(join(root, 'src/server/db/migrations')).filter((name) => name.endsWith('.sql')).length

/** Who is signed in where is nobody's to keep: after a restore everybody signs in anew. */
const SIGNED_IN = ['--exclude-table-data=public.sessions']

/** The address without its password, which goes by the environment and not by a list of processes. */
function withoutPassword(address) {
  const url = new URL(address)
  const password = decodeURIComponent(url.password)
  url.password = ''
  return { address: url.href, env: { ...process.env, PGPASSWORD: password } }
}

function programOf(name, programs) {
  const path = join(programs ?? postgresFolder() ?? '', name)
  if (!existsSync(path)) throw new Error(`${name} is not installed (Debian package postgresql-client).`)
  return path
}

async function writeDump(databaseUrl, programs, path) {
  const { address, env } = withoutPassword(databaseUrl)
  const dump = spawn(
    programOf('pg_dump', programs),
    ['--format=custom', '--compress=1', '--no-owner', '--no-privileges', ...SIGNED_IN, address],
    { env, stdio: ['ignore', 'pipe', 'pipe'] },
  )
  let complaint = ''
  dump.stderr.on('data', (text) => (complaint += text))
  const ended = once(dump, 'exit')
  const half = `${path}.unfinished`
  const out = createWriteStream(half, { mode: 0o600 })
  const hash = createHash('sha256')
  let bytes = 0
  try {
    await once(out, 'open')
    out.write(
      `${JSON.stringify({ kind: KIND, version: 1, form: knownForm(), made: new Date().toISOString() })}\n`,
    )
    await pipeline(
      dump.stdout,
      async function* (source) {
        for await (const chunk of source) {
          hash.update(chunk)
          bytes += chunk.length
          yield chunk
        }
      },
      out,
      { end: false },
    )
    const [status] = await ended
    if (status !== 0) throw new Error(`The database could not be read:\n${complaint}`)
    out.end(`\n${JSON.stringify({ bytes, sha256: hash.digest('hex') })}\n`)
    await once(out, 'finish')
    renameSync(half, path)
  } catch (error) {
    dump.kill()
    out.destroy()
    rmSync(half, { force: true })
    throw error
  }
  return bytes
}

/**
 * Reads a backup's two lines and sees to it that what lies between them is whole.
 * @returns where the dump begins and how long it is.
 */
export async function checkBackup(path) {
  let file
  try {
    file = openSync(path)
  } catch (error) {
    throw new Error(`${path} can’t be opened (${error.code}).`)
  }
  try {
    const { size } = fstatSync(file)
    const head = Buffer.alloc(Math.min(size, LAST_LINE_WITHIN))
    readSync(file, head, 0, head.length, 0)
    const lineEnd = head.indexOf('\n')
    let first = null
    try {
      first = JSON.parse(head.toString('utf8', 0, lineEnd))
    } catch {
      // told below
    }
    if (lineEnd < 0 || first?.kind !== KIND) throw new Error(`${path} is not a backup of Kelbo.`)
    if (first.version !== 1 || first.form > knownForm())
      throw new Error(`${path} was made by a newer Kelbo than this one; restore it with that.`)
    const tail = Buffer.alloc(Math.min(size, LAST_LINE_WITHIN))
    readSync(file, tail, 0, tail.length, size - tail.length)
    const lines = tail.toString('latin1').split('\n')
    let last = null
    try {
      last = lines.at(-1) === '' ? JSON.parse(lines.at(-2)) : null
    } catch {
      // told below
    }
    const start = lineEnd + 1
    const lastLength = last ? Buffer.byteLength(lines.at(-2)) + 2 : 0
    if (!last || start + last.bytes + lastLength !== size)
      throw new Error(`${path} is not whole: it ends too early. Nothing was changed.`)
    const hash = createHash('sha256')
    for await (const chunk of createReadStream(path, { start, end: start + last.bytes - 1 }))
      hash.update(chunk)
    if (hash.digest('hex') !== last.sha256)
      throw new Error(`${path} was changed since it was made, or the disk has a fault. Nothing was changed.`)
    return { start, bytes: last.bytes, made: first.made }
  } finally {
    closeSync(file)
  }
}

async function readDump(databaseUrl, programs, path, { start, bytes }) {
  const { address, env } = withoutPassword(databaseUrl)
  const restore = spawn(
    programOf('pg_restore', programs),
    ['--single-transaction', '--exit-on-error', '--no-owner', '--no-privileges', '--dbname', address],
    { env, stdio: ['pipe', 'ignore', 'pipe'] },
  )
  let complaint = ''
  restore.stderr.on('data', (text) => (complaint += text))
  const ended = once(restore, 'exit')
  await pipeline(createReadStream(path, { start, end: start + bytes - 1 }), restore.stdin).catch(
    () => undefined,
  )
  const [status] = await ended
  if (status !== 0) throw new Error(`The backup could not be put back:\n${complaint}`)
}

/** Every content by its hash, every array that is named. @returns what was counted. */
function checkDatabase(databaseUrl) {
  const { status, output } = capture(process.execPath, [join(root, 'dist/server/check-main.js')], {
    env: { ...process.env, KELBO_DATABASE_URL: databaseUrl, KELBO_LOG: 'error' },
    maxBuffer: 2 ** 28,
  })
  let found = null
  try {
    found = JSON.parse(output.trim().split('\n').at(-1))
  } catch {
    throw new Error(`What was put back could not be checked:\n${output}`)
  }
  if (status !== 0)
    throw new Error(`What was put back is not whole: ${found.problems.slice(0, 5).join('; ')}.`)
  return found
}

const counted = ({ assets, versions, trips, contents }) =>
  `${assets} assets, ${versions} versions, ${trips} trips, ${contents} contents`

/** Writes a backup of the database that is used here, running or not. */
export async function backup(file) {
  const path = resolve(file)
  const own = !process.env.KELBO_DATABASE_URL
  if (own && !existsSync(join(clusterFolder(), 'PG_VERSION')))
    throw new Error('There is no database here yet; there is nothing to back up.')
  // of a start that runs the database is used; else nobody else may begin meanwhile
  const other = own ? claimRunning({ doing: 'a backup' }) : null
  if (other && !other.address) throw new Error(inTheWay(other))
  const runs = Boolean(other)
  const database = own ? await startDatabase('postgres', { shared: runs }) : null
  try {
    const bytes = await writeDump(database?.url ?? process.env.KELBO_DATABASE_URL, database?.programs, path)
    console.log(`${path} holds all of it: ${(bytes / 1e6).toFixed(1)} MB.`)
  } finally {
    if (!runs) database?.stop()
  }
}

/** Puts a backup in the place of what is there, which is set aside. */
export async function restore(file) {
  const path = resolve(file)
  const found = await checkBackup(path)
  if (process.env.KELBO_DATABASE_URL) {
    await readDump(process.env.KELBO_DATABASE_URL, null, path, found)
    console.log(`Put back and checked: ${counted(checkDatabase(process.env.KELBO_DATABASE_URL))}.`)
    return
  }
  const other = claimRunning({ doing: 'a restore' })
  if (other) throw new Error(inTheWay(other))
  const data = clusterFolder()
  const aside = existsSync(join(data, 'PG_VERSION')) ? `${data}-before-restore-${dated()}` : null
  if (existsSync(join(data, 'postmaster.pid'))) (await startDatabase()).stop()
  if (aside) renameSync(data, aside)
  let database = null
  try {
    database = await startDatabase()
    await readDump(database.url, database.programs, path, found)
    const sound = checkDatabase(database.url)
    database.stop()
    console.log(`Put back and checked: ${counted(sound)}, as of ${found.made}.`)
    if (aside) console.log(`What was there before lies in ${aside}; remove it when you no longer need it.`)
  } catch (error) {
    database?.stop()
    rmSync(data, { recursive: true, force: true })
    if (aside) renameSync(aside, data)
    throw error
  }
}
