/**
 * What is written down: nothing that is secret, and nothing of an artist's work, at the level that writes most. A real
 * server with a certificate of its own, and a real worker.
 */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { request } from 'node:https'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { addAccount } from '../../src/server/accounts/account-store.ts'
import { logDocument } from '../../src/server/plugins/log-document.ts'
import { LOG_LINES } from '../../src/server/plugins/log-lines.ts'
import { createLog, describeForLog } from '../../src/server/plugins/logging.ts'
import { startHarness, type Harness } from './harness.ts'

const PORT = 4998
const PASSWORD = 'secretpassword of the pier'
const WORDS = {
  password: 'secretpassword',
  wrong: 'wrongpassword of the pier',
  asset: 'secretasset',
  file: 'secretfile',
  content: 'secretcontent',
  query: 'secretquery',
  recipe: 'secretrecipe',
}
let folder: string
let harness: Harness
let written = ''
const children: ChildProcess[] = []

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'kelbo-log-'))
  const made = spawnSync('openssl', [
    ...'req -x509 -newkey ec -pkeyopt ec_paramgen_curve:prime256v1 -nodes -days 2 -subj /CN=127.0.0.1'.split(
      ' ',
    ),
    ...['-addext', 'subjectAltName=IP:127.0.0.1', '-keyout', join(folder, 'key.pem')],
    ...['-out', join(folder, 'cert.pem')],
  ])
  if (made.status !== 0) throw new Error(String(made.stderr))
  harness = await startHarness({ worker: false })
  await addAccount(harness.database.db, 'Ada', PASSWORD)
  const launch = (script: string, sign: string) =>
    new Promise<void>((resolve, reject) => {
      const child = spawn(process.execPath, [join(import.meta.dirname, '../../dist/server', script)], {
        env: {
          ...process.env,
          KELBO_DATABASE_URL: harness.url,
          KELBO_DEMO: 'off',
          KELBO_LOG: 'trace',
          KELBO_PORT: String(PORT),
          KELBO_ACCOUNTS: 'on',
          KELBO_CERTIFICATE: join(folder, 'cert.pem'),
          KELBO_CERTIFICATE_KEY: join(folder, 'key.pem'),
        },
        stdio: ['ignore', 'pipe', 'pipe'],
      })
      children.push(child)
      child.stderr.on('data', (text) => (written += String(text)))
      child.stdout.on('data', (text) => {
        written += String(text)
        if (String(text).includes(sign)) resolve()
      })
      child.once('exit', () => reject(new Error(`${script} ended:\n${written}`)))
    })
  await Promise.all([launch('main.js', 'server ready'), launch('worker-main.js', 'worker ready')])
})
afterAll(async () => {
  for (const child of children) {
    const gone = new Promise((resolve) => child.once('exit', resolve))
    if (child.kill()) await gone
  }
  await harness.close()
  rmSync(folder, { recursive: true })
})

interface Answer {
  status: number
  text: string
  headers: Record<string, string | string[] | undefined>
}
const ask = (
  method: string,
  path: string,
  body: string | null = null,
  headers: Record<string, string> = {},
): Promise<Answer> =>
  new Promise((resolve, reject) => {
    const asked = request(
      {
        host: '127.0.0.1',
        port: PORT,
        method,
        path: `/api${path}`,
        ca: readFileSync(join(folder, 'cert.pem')),
        headers: {
          ...(body === null ? {} : { 'content-type': 'application/json' }),
          ...headers,
        },
      },
      (answer) => {
        let text = ''
        answer.on('data', (piece) => (text += String(piece)))
        answer.on('end', () => resolve({ status: answer.statusCode!, text, headers: answer.headers }))
      },
    )
    asked.on('error', reject)
    asked.end(body ?? undefined)
  })
const upload = (name: string, content: string, cookie: string): Promise<Answer> =>
  ask(
    'POST',
    '/assets',
    `--b\r\ncontent-disposition: form-data; name="file"; filename="${name}"\r\n\r\n${content}\r\n--b--\r\n`,
    { cookie, 'content-type': 'multipart/form-data; boundary=b' },
  )

test('over HTTPS one signs in and works; of all that is written nothing is secret', async () => {
  const wrong = await ask('POST', '/session', JSON.stringify({ name: 'Ada', password: WORDS.wrong }))
  expect(wrong.status).toBe(401)
  const signedIn = await ask('POST', '/session', JSON.stringify({ name: 'Ada', password: PASSWORD }))
  expect(signedIn.status).toBe(200)
  expect(signedIn.headers['strict-transport-security']).toBe('max-age=15552000')
  const cookie = String(signedIn.headers['set-cookie']).split(';')[0]!
  const token = cookie.split('=')[1]!
  expect(token.length).toBeGreaterThan(40)

  const sound = await upload(
    `${WORDS.file}.obj`,
    `o ${WORDS.content}\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n`,
    cookie,
  )
  const broken = await upload(`${WORDS.file}.fbx`, `${WORDS.content} is no model`, cookie)
  const ids = [sound, broken].map(({ text }) => (JSON.parse(text) as { jobId: string }).jobId)
  const states = new Set<string>()
  for (const id of ids)
    for (;;) {
      const job = JSON.parse((await ask('GET', `/jobs/${id}`, null, { cookie })).text) as {
        state: string
        assetId: string
      }
      if (['queued', 'running'].includes(job.state)) continue
      states.add(job.state)
      if (job.state === 'done')
        await ask(
          'PATCH',
          `/assets/${job.assetId}`,
          JSON.stringify({ name: WORDS.asset, from: WORDS.file }),
          { cookie },
        )
      break
    }
  expect([...states].sort()).toEqual(['done', 'failed'])

  await ask('GET', `/assets/${WORDS.query}`, null, { cookie })
  await ask('GET', `/assets?name=${WORDS.query}`, null, { cookie })
  await ask('POST', '/recipes', `{"name":"${WORDS.recipe}"`, { cookie })
  await ask('POST', '/recipes', JSON.stringify({ name: WORDS.recipe, steps: [] }), { cookie })
  await ask('PUT', '/session/password', JSON.stringify({ password: PASSWORD, next: WORDS.password }), {
    cookie,
  })
  // queries that fail, with values in them
  const admin = new pg.Client({ connectionString: harness.url })
  await admin.connect()
  await admin.query('alter table assets rename to gone; alter table recipes rename column name to gone')
  for (const [method, path, body] of [
    ['PATCH', `/assets/00000000-0000-4000-8000-000000000000`, { name: WORDS.asset, from: WORDS.asset }],
    ['POST', '/recipes', { name: WORDS.recipe, steps: [{ step: 'to-floor', params: {} }] }],
  ] as const) {
    const answer = await ask(method, path, JSON.stringify(body), { cookie })
    expect([method, answer.status]).toEqual([method, 500])
  }
  await upload(`${WORDS.file}.obj`, 'v 0 0 0\n', cookie)
  await admin.query('alter table gone rename to assets; alter table recipes rename column gone to name')
  await admin.end()

  // it did write: requests, the one who could not sign in, both faults
  const lines = [...(['not-signed-in', 'signed-in', 'fault'] as const).map((line) => LOG_LINES[line].text), '"path":"/api/assets"'] // prettier-ignore
  for (let attempt = 0; attempt < 6000 && !lines.every((line) => written.includes(line)); attempt++)
    await new Promise((resolve) => setTimeout(resolve, 50))
  for (const line of lines) expect(written).toContain(line)
  const { rows } = await harness.database.pool.query<{ hash: string }>(
    'select password_hash as hash from accounts union all select token_hash from sessions',
  )
  const secrets = [
    ...Object.values(WORDS).filter((word) => word !== WORDS.query),
    `name=${WORDS.query}`,
    token,
    decodeURIComponent(token),
    ...rows.map((row) => row.hash),
    new URL(harness.url).password,
  ].filter(Boolean)
  expect(secrets.filter((secret) => written.includes(secret))).toEqual([])
})

test('an error is written without values: of queries, of rows, of files', () => {
  const cause = new pg.DatabaseError('invalid input syntax for type uuid: "hidden"', 40, 'error')
  cause.code = '22P02'
  cause.detail = 'Key (name)=(hidden) already exists.'
  cause.table = 'assets'
  const error = new Error('it broke', { cause })
  const told = describeForLog(error)
  expect(JSON.stringify(told)).not.toContain('hidden')
  expect(told).toMatchObject({
    type: 'Error',
    message: 'it broke',
    cause: { code: '22P02', table: 'assets' },
  })
  expect((told.at as string[])[0]).toMatch(/log\.test/)
  expect(describeForLog('hidden')).toEqual({ type: 'string' })
})

test('docs/log.md is the list, and only its lines are written', () => {
  const root = join(import.meta.dirname, '../..')
  expect(readFileSync(join(root, 'docs/log.md'), 'utf8').replace(/\s+/g, ' ')).toBe(
    logDocument().replace(/\s+/g, ' '),
  )
  const found = spawnSync(
    'grep',
    ['-rnE', String.raw`\blog\.(fatal|error|warn|info|debug|trace)\(`, 'src/server', 'src/host'],
    { cwd: root, encoding: 'utf8' },
  ).stdout
  expect(found).toBe('')
  expect(typeof createLog('test').warn).toBe('function')
})
