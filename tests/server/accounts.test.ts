/** Who is not signed in gets nothing; who is, is named beside what they made. */
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import type { AssetDocument } from '../../src/contract/api.ts'
import {
  addAccount,
  findAccount,
  listAccounts,
  removeAccount,
} from '../../src/server/accounts/account-store.ts'
import { sweepSessions } from '../../src/server/accounts/session-store.ts'
import { countRows, HOST, lanternZip, startHarness, type Harness } from './harness.ts'

const PASSWORD = 'nine gulls on a rope'
const ORIGIN = { origin: `https://${HOST}` }
let harness: Harness
beforeAll(async () => {
  harness = await startHarness({ environment: { KELBO_ACCOUNTS: 'on' } })
  await addAccount(harness.database.db, 'Ada', PASSWORD)
  await addAccount(harness.database.db, 'Bo', `${PASSWORD} too`)
})
afterAll(() => harness.close())

let address = 0
/** Tries are counted by address: each test has its own. */
const from = () => `192.0.2.${++address}`
async function signIn(name: string, password = PASSWORD, remoteAddress = from()) {
  const answer = await harness.app.server.inject({
    method: 'POST',
    url: '/api/session',
    headers: { host: HOST },
    payload: { name, password },
    remoteAddress,
  })
  const line = String(answer.headers['set-cookie'] ?? '')
  return { status: answer.statusCode, body: answer.json(), line, cookie: line.split(';')[0]! }
}

/** Every route of the interface, as the server itself lists them. */
function allRoutes(): [string, string][] {
  const above: string[] = []
  return harness.app.server
    .printRoutes({ commonPrefix: false })
    .split('\n')
    .flatMap((line) => {
      const found = /^([│ ]*)[├└]── (\S+) \(([A-Z, ]+)\)$/.exec(line)
      if (!found) return []
      const depth = found[1]!.length / 4
      above.splice(depth, Infinity, found[2]!)
      return found[3]!.split(', ').map((method): [string, string] => [method, above.join('')])
    })
}

test('nothing is answered to whoever is not signed in, whatever is asked', async () => {
  const open = ['GET /api/session', 'HEAD /api/session', 'POST /api/session', 'DELETE /api/session']
  const routes = allRoutes().filter(
    ([method, url]) => !open.includes(`${method} ${url}`) && !/health$/.test(url),
  )
  expect(routes.length).toBeGreaterThan(45)
  const id = '00000000-0000-4000-8000-000000000000'
  for (const [method, url] of routes) {
    const path = url.replace('/api', '').replace(':id', id).replace(':hash', 'a'.repeat(64))
    for (const cookie of ['', '__Host-kelbo=', '__Host-kelbo=AAAA', `__Host-kelbo=${'%00'.repeat(9)}`]) {
      const answer = await harness.call(method, path, undefined, { cookie })
      expect([method, url, answer.status]).toEqual([method, url, 401])
      if (method !== 'HEAD') expect((answer.body as { code: string }).code).toBe('http.not-signed-in')
    }
  }
  expect((await harness.call('GET', '/session')).body).toEqual({ needed: true, name: null })
  expect((await harness.call('GET', '/health')).body).toEqual({ ready: true })
})

test('the cookie is for this server alone, away from scripts, and the table has no more than its hash', async () => {
  const { status, body, line, cookie } = await signIn('ada')
  expect([status, body]).toEqual([200, { needed: true, name: 'Ada' }])
  for (const part of ['__Host-kelbo=', 'Path=/', 'Secure', 'HttpOnly', 'SameSite=Strict', 'Max-Age=7776000'])
    expect(line).toContain(part)
  expect(line).not.toContain('Domain')
  const { rows } = await harness.database.pool.query<{ all: string }>(
    'select to_jsonb(s)::text as all from sessions s union all select to_jsonb(a)::text from accounts a',
  )
  const stored = rows.map((row) => row.all).join('\n')
  expect(stored).not.toContain(cookie.split('=')[1]!)
  expect(stored).not.toContain(PASSWORD)
  expect((await harness.call('GET', '/assets', undefined, { cookie })).status).toBe(200)
})

test('a foreign page gets nothing in the name of who is signed in', async () => {
  const { cookie } = await signIn('Ada')
  const answer = await harness.call('GET', '/assets', undefined, {
    cookie,
    origin: 'https://elsewhere.example',
  })
  expect(answer.status).toBe(403)
  expect((await harness.call('GET', '/assets', undefined, { cookie, ...ORIGIN })).status).toBe(200)
})

test('signing out ends it, on this browser alone', async () => {
  const first = await signIn('Ada')
  const second = await signIn('Ada')
  const out = await harness.call('DELETE', '/session', undefined, { cookie: first.cookie })
  expect(out.status).toBe(204)
  expect(String(out.headers['set-cookie'])).toContain('__Host-kelbo=;')
  expect((await harness.call('GET', '/assets', undefined, { cookie: first.cookie })).status).toBe(401)
  expect((await harness.call('GET', '/assets', undefined, { cookie: second.cookie })).status).toBe(200)
})

test('a name without an account and a wrong password are answered alike', async () => {
  const nobody = await signIn('Nobody')
  const wrong = await signIn('Ada', 'another password altogether')
  expect([nobody.status, nobody.body]).toEqual([401, wrong.body])
  expect([wrong.status, wrong.line]).toEqual([401, ''])
})

describe('tries to sign in', () => {
  test('are held up by address', async () => {
    const here = from()
    for (let attempt = 0; attempt < 10; attempt++)
      expect((await signIn(`Guess ${attempt}`, 'x', here)).status).toBe(401)
    const refused = await signIn('Ada', PASSWORD, here)
    expect([refused.status, refused.body.code]).toEqual([429, 'http.too-many-tries'])
    expect(refused.body.advice).toMatch(/Wait \d+ seconds/)
    expect((await signIn('Ada')).status).toBe(200)
  })
  test('and by name, from however many addresses', async () => {
    for (let attempt = 0; attempt < 30; attempt++) expect((await signIn('Cy', 'x')).status).toBe(401)
    expect((await signIn('cy', 'x')).status).toBe(429)
    expect((await signIn('Bo', `${PASSWORD} too`)).status).toBe(200)
  })
})

describe('a new password', () => {
  const change = (cookie: string, password: string, next: string) =>
    harness.call('PUT', '/session/password', { password, next }, { cookie })
  test('needs the present one, and may not be weak', async () => {
    const { cookie } = await signIn('Bo', `${PASSWORD} too`)
    expect((await change(cookie, 'wrong', 'a long enough password')).status).toBe(422)
    const weak = await change(cookie, `${PASSWORD} too`, 'short')
    expect([weak.status, (weak.body as { code: string }).code]).toEqual([422, 'http.weak-password'])
  })
  test('signs out every other browser', async () => {
    const here = await signIn('Bo', `${PASSWORD} too`)
    const there = await signIn('Bo', `${PASSWORD} too`)
    expect((await change(here.cookie, `${PASSWORD} too`, 'eleven crates of rope')).status).toBe(204)
    expect((await harness.call('GET', '/assets', undefined, { cookie: here.cookie })).status).toBe(200)
    expect((await harness.call('GET', '/assets', undefined, { cookie: there.cookie })).status).toBe(401)
    expect((await signIn('Bo', `${PASSWORD} too`)).status).toBe(401)
    expect((await signIn('Bo', 'eleven crates of rope')).status).toBe(200)
  })
})

describe('time', () => {
  const age = (column: string, days: number) =>
    harness.database.pool.query(`update sessions set ${column} = now() - make_interval(days => ${days})`)
  beforeEach(() => harness.database.pool.query('delete from sessions'))
  test.each([
    ['seen_at', 13, 200],
    ['seen_at', 15, 401],
    ['created_at', 89, 200],
    ['created_at', 91, 401],
  ])('%s %d days ago: %d', async (column, days, status) => {
    const { cookie } = await signIn('Ada')
    await age(column, days)
    expect((await harness.call('GET', '/assets', undefined, { cookie })).status).toBe(status)
    await sweepSessions(harness.database.db)
    expect(await countRows(harness.database, 'sessions')).toBe(status === 200 ? 1 : 0)
  })
  test('a visit is noted, so that who comes every day stays signed in', async () => {
    const { cookie } = await signIn('Ada')
    await age('seen_at', 13)
    await harness.call('GET', '/assets', undefined, { cookie })
    const { rows } = await harness.database.pool.query<{ days: number }>(
      'select extract(day from now() - seen_at)::int as days from sessions',
    )
    expect(rows).toEqual([{ days: 0 }])
  })
})

test('accounts: one a name in whatever capitals; who is removed is out at once', async () => {
  const { db } = harness.database
  expect(await addAccount(db, 'Dee', PASSWORD)).toBe(true)
  expect(await addAccount(db, 'DEE', PASSWORD)).toBe(false)
  expect((await findAccount(db, 'dee'))!.name).toBe('Dee')
  const { cookie } = await signIn('Dee')
  expect((await listAccounts(db)).map(({ name, seenAt }) => [name, seenAt instanceof Date])).toContainEqual([
    'Dee',
    true,
  ])
  expect(await removeAccount(db, 'dee')).toBe(true)
  expect(await removeAccount(db, 'dee')).toBe(false)
  expect((await harness.call('GET', '/assets', undefined, { cookie })).status).toBe(401)
})

test('versions, trips, returns and jobs tell who made them, also when the account is gone', async () => {
  const ada = await signIn('Ada')
  await addAccount(harness.database.db, 'Eve', PASSWORD)
  const eve = await signIn('Eve')
  const as = (cookie: string): Harness => ({
    ...harness,
    call: (method, path, body, headers) => harness.call(method, path, body, { cookie, ...headers }),
  })
  const finish = async (who: { cookie: string }, answer: { body: unknown }) => {
    for (;;) {
      const { body } = await as(who.cookie).call('GET', `/jobs/${(answer.body as { jobId: string }).jobId}`)
      const job = body as { state: string; askedBy: string; result: Record<string, string>; error: unknown }
      if (job.state === 'done') return job
      if (job.state === 'failed') throw new Error(JSON.stringify(job.error))
      await new Promise((resolve) => setTimeout(resolve, 30))
    }
  }
  const boundary = 'b'
  const file = lanternZip()
  const imported = await as(ada.cookie).call(
    'POST',
    '/assets',
    Buffer.concat([
      Buffer.from(
        `--${boundary}\r\ncontent-disposition: form-data; name="options"\r\n\r\n{"unitMeters":0.01}\r\n`,
      ),
      Buffer.from(
        `--${boundary}\r\ncontent-disposition: form-data; name="file"; filename="${file.name}"\r\n\r\n`,
      ),
      Buffer.from(file.bytes),
      Buffer.from(`\r\n--${boundary}--\r\n`),
    ]),
    { 'content-type': `multipart/form-data; boundary=${boundary}` },
  )
  const first = await finish(ada, imported)
  expect(first.askedBy).toBe('Ada')
  const { assetId, versionId } = first.result as { assetId: string; versionId: string }
  const sent = await finish(
    eve,
    await as(eve.cookie).call('POST', `/assets/${assetId}/trips`, {
      versionId,
      destination: 'sculpting',
      options: {},
    }),
  )
  const practised = await finish(
    ada,
    await as(ada.cookie).call('POST', `/trips/${sent.result.tripId}/practise`, {
      standIn: 'sculptor',
      options: {},
      from: null,
    }),
  )
  await finish(ada, { body: { jobId: practised.result.nextJob } })
  const detail = (await as(eve.cookie).call('GET', `/trips/${sent.result.tripId}`)).body as {
    returnedSceneId: string
  }
  await finish(
    eve,
    await as(eve.cookie).call('POST', `/trips/${sent.result.tripId}/reconcile`, {
      take: ['points'],
      from: detail.returnedSceneId,
    }),
  )
  await removeAccount(harness.database.db, 'Eve')
  const asset = (await as(ada.cookie).call('GET', `/assets/${assetId}`)).body as AssetDocument
  expect(asset.versions.map((version) => version.madeBy)).toEqual(['Ada', 'Eve'])
  expect(asset.trips.map((trip) => [trip.sentBy, trip.returnedBy])).toEqual([['Eve', 'Ada']])
})

test('without accounts nobody signs in, and nothing is named', async () => {
  const open = await startHarness({ worker: false })
  expect((await open.call('GET', '/session')).body).toEqual({ needed: false, name: null })
  expect((await open.call('GET', '/assets')).status).toBe(200)
  expect((await open.call('POST', '/session', { name: 'Ada', password: PASSWORD })).status).toBe(404)
  await open.close()
})
