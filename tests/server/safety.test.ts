/** What a hostile file, a foreign page, a cancelled job or a killed process may not do. */
import { spawn } from 'node:child_process'
import { join } from 'node:path'
import { zipSync } from 'fflate'
import { afterAll, afterEach, beforeAll, describe, expect, test } from 'vitest'
import type { JobDocument } from '../../src/contract/api.ts'
import { startWorker } from '../../src/server/jobs/worker.ts'
import { countRows, HOST, importFiles, lanternZip, startHarness, type Harness } from './harness.ts'

const text = (name: string, content: string) => ({ name, bytes: Buffer.from(content) })
/** A grid of quads large enough that reading it takes a while. */
function grid(side: number): { name: string; bytes: Uint8Array } {
  const lines: string[] = []
  for (let j = 0; j <= side; j++) for (let i = 0; i <= side; i++) lines.push(`v ${i} ${Math.sin(i * j)} ${j}`)
  for (let j = 0; j < side; j++)
    for (let i = 0; i < side; i++) {
      const a = j * (side + 1) + i + 1
      lines.push(`f ${a} ${a + side + 1} ${a + side + 2} ${a + 1}`)
    }
  return text('grid.obj', lines.join('\n'))
}

describe('hostile files', () => {
  let harness: Harness
  beforeAll(async () => {
    harness = await startHarness()
    await importFiles(harness, [lanternZip()])
  })
  afterAll(() => harness.close())
  afterEach(() => {
    delete process.env.KELBO_ZIP_LIMIT
    delete process.env.KELBO_FILE_LIMIT
  })
  const failed = async (...files: { name: string; bytes: Uint8Array }[]) => {
    const job = await importFiles(harness, files)
    expect([
      job.state,
      await countRows(harness.database, 'assets'),
      await countRows(harness.database, 'scenes'),
    ]).toEqual(['failed', 1, 1])
    return job.error!
  }

  test.each([
    ['file.empty', text('empty.obj', '')],
    [
      'file.not-a-model',
      { name: 'noise.obj', bytes: Uint8Array.from({ length: 100000 }, (_v, i) => (i * 7919) % 256) },
    ],
    ['package.no-model', { name: 'only.zip', bytes: zipSync({ 'readme.txt': Uint8Array.of(1) }) }],
    ['zip.broken', { name: 'cut.zip', bytes: lanternZip().bytes.slice(0, 5000) }],
    ['file.unknown-format', text('notes.txt', 'hello')],
  ])('%s is said, nothing is saved and no other asset is touched', async (code, file) => {
    const error = await failed(file)
    expect(error.code).toBe(code)
    expect(error.message.length + error.advice.length).toBeGreaterThan(30)
    expect(error.message).not.toMatch(/Error|undefined| at /)
  })
  test('a ZIP bomb', async () => {
    process.env.KELBO_ZIP_LIMIT = '30000000'
    expect((await failed({ name: 'bomb.zip', bytes: zipSync({ 'a.obj': new Uint8Array(60e6) }) })).code).toBe(
      'zip.too-large',
    )
  })
  test('what can be read is read, and what was left out is said with its line', async () => {
    const job = await importFiles(harness, [
      text(
        'half.obj',
        'v 0 0 0\nv 1 0 0\nv 1 1 0\nmtllib ../../etc/passwd\nf 1 2 3\nf 1 2 99\nf 1\nf 0 1 2\nv nan 0 0\n',
      ),
    ])
    expect(job.state).toBe('done')
    const { rows } = await harness.database.pool.query<{
      inspection: { messages: { code: string; where: string }[] }
    }>('select inspection from scenes order by created_at desc limit 1')
    expect(rows[0]!.inspection.messages.map((message) => [message.code, message.where])).toEqual([
      ['obj.not-finite', 'half.obj, line 9'],
      ['obj.index-out-of-range', 'half.obj, line 6'],
      ['obj.short-face', 'half.obj, line 7'],
      ['obj.index-zero', 'half.obj, line 8'],
      ['obj.missing-mtl', 'half.obj, line 4'],
    ])
    await harness.call('DELETE', `/assets/${String(job.result!.assetId)}`)
  })
  test('a long single line of a polygon and of garbage', async () => {
    const polygon = 'v 0 0 0\nv 1 0 0\nv 1 1 0\nf' + ' 1 2 3'.repeat(200000)
    const job = await importFiles(harness, [text('line.obj', polygon)])
    expect(job.state).toBe('done')
    await harness.call('DELETE', `/assets/${String(job.result!.assetId)}`)
    expect((await failed(text('blob.obj', 'x'.repeat(5e6)))).code).toBe('file.not-a-model')
  })
})

describe('requests', () => {
  let harness: Harness
  beforeAll(async () => {
    process.env.KELBO_FILE_LIMIT = '2000000'
    harness = await startHarness({ worker: false })
    delete process.env.KELBO_FILE_LIMIT
  })
  afterAll(() => harness.close())

  test.each([
    ['another host', { host: 'evil.example' }, 403],
    ['another origin', { host: HOST, origin: 'http://evil.example' }, 403],
    ['an opaque origin', { host: HOST, origin: 'null' }, 403],
    ['another site’s page', { host: HOST, 'sec-fetch-site': 'cross-site' }, 403],
    ['its own page', { host: HOST, origin: `http://${HOST}`, 'sec-fetch-site': 'same-origin' }, 200],
  ])('from %s', async (_name, headers, status) => {
    expect((await harness.call('GET', '/assets', undefined, headers)).status).toBe(status)
  })
  test('carry a strict content security policy', async () => {
    const { headers } = await harness.call('GET', '/assets')
    const policy = String(headers['content-security-policy'])
    expect(policy).toContain("default-src 'none'")
    expect(policy).toContain("script-src 'self'")
    expect(policy).not.toMatch(/script-src[^;]*unsafe/)
    expect(headers['x-content-type-options']).toBe('nosniff')
  })
  test('a file over the limit is refused while it streams in, and leaves nothing', async () => {
    const { status, body } = await harness.upload('/assets', [text('big.obj', 'v 0 0 0\n'.repeat(400000))])
    expect([status, (body as { code: string }).code]).toEqual([413, 'file.too-large'])
    expect(await countRows(harness.database, 'files')).toBe(0)
  })
  test.each([
    ['GET', '/assets/not-an-id', undefined, 400],
    ['GET', '/assets/00000000-0000-4000-8000-000000000000', undefined, 404],
    ['GET', `/blobs/${'0'.repeat(64)}`, undefined, 404],
    ['GET', '/blobs/..%2f..%2fetc%2fpasswd', undefined, 400],
    ['POST', '/trips/00000000-0000-4000-8000-000000000000/reconcile', { take: ['points'], from: null }, 404],
    [
      'POST',
      '/trips/00000000-0000-4000-8000-000000000000/reconcile',
      { take: ['everything'], from: null },
      400,
    ],
    ['POST', '/jobs/00000000-0000-4000-8000-000000000000/cancel', undefined, 404],
  ])('%s %s', async (method, path, body, status) => {
    const answer = await harness.call(method, path, body)
    expect(answer.status).toBe(status)
    expect(Object.keys(answer.body as object).sort()).toEqual(['advice', 'code', 'message'])
  })
})

describe('jobs', () => {
  test('a waiting and a running job can be cancelled, and nothing of them is saved', async () => {
    const harness = await startHarness({ worker: false })
    const started = async (file: { name: string; bytes: Uint8Array }): Promise<string> =>
      ((await harness.upload('/assets', [file])).body as { jobId: string }).jobId
    const waiting = await started(grid(10))
    expect((await harness.call('POST', `/jobs/${waiting}/cancel`)).status).toBe(204)
    // what is over is over, and stays as it ended
    expect((await harness.call('POST', `/jobs/${waiting}/cancel`)).status).toBe(204)
    const running = await started(grid(500))
    const worker = await startWorker(harness.database)
    let job: JobDocument
    do {
      job = (await harness.call('GET', `/jobs/${running}`)).body as JobDocument
      await new Promise((resolve) => setTimeout(resolve, 5))
    } while (job.state === 'queued')
    expect((await harness.call('POST', `/jobs/${running}/cancel`)).status).toBe(204)
    const after = await importFiles(harness, [grid(5)])
    expect(after.state).toBe('done')
    expect((await harness.call('POST', `/jobs/${after.id}/cancel`)).status).toBe(204)
    expect((await harness.finished(after.id)).state).toBe('done')
    expect((await harness.finished(running)).state).toBe('cancelled')
    expect((await harness.finished(waiting)).error!.code).toBe('job.cancelled')
    expect(await countRows(harness.database, 'assets')).toBe(1)
    await worker.close()
    await harness.close()
  })

  test('a worker killed in the middle of an import: nothing half is left, and another worker does it', async () => {
    const harness = await startHarness({ worker: false })
    const script = join(import.meta.dirname, '../../dist/server/worker-main.js')
    const env = { ...process.env, KELBO_DATABASE_URL: harness.url, KELBO_LOST_AFTER: '2' }
    const victim = spawn(process.execPath, [script], { env, stdio: 'ignore' })
    const { body } = await harness.upload('/assets', [grid(600)])
    const { jobId } = body as { jobId: string }
    let state = ''
    do {
      state = ((await harness.call('GET', `/jobs/${jobId}`)).body as JobDocument).state
      await new Promise((resolve) => setTimeout(resolve, 5))
    } while (state === 'queued')
    victim.kill('SIGKILL')
    await new Promise((resolve) => victim.once('exit', resolve))
    expect(((await harness.call('GET', `/jobs/${jobId}`)).body as JobDocument).state).toBe('running')
    for (const table of ['assets', 'scenes', 'versions'])
      expect([table, await countRows(harness.database, table)]).toEqual([table, 0])
    const rescuer = await startWorker(harness.database, { lostAfterSeconds: 2 })
    const job = await harness.finished(jobId)
    expect([job.state, job.error]).toEqual(['done', null])
    for (const table of ['assets', 'scenes', 'versions'])
      expect([table, await countRows(harness.database, table)]).toEqual([table, 1])
    await rescuer.close()
    await harness.close()
  })

  test('a job whose worker died three times is given up as job.lost; a fault of our own is job.failed', async () => {
    const harness = await startHarness({ worker: false })
    const insert = async (attempts: number, state: string): Promise<string> => {
      const { rows } = await harness.database.pool.query<{ id: string }>(
        `insert into jobs (kind, title, state, input, attempts, heartbeat_at)
         values ('import', 'test', $1, '{"fileIds": ["00000000-0000-4000-8000-000000000000"], "name": "x", "options": {}}', $2, now() - interval '1 hour')
         returning id`,
        [state, attempts],
      )
      return rows[0]!.id
    }
    const lost = await insert(3, 'running')
    const again = await insert(2, 'running')
    const worker = await startWorker(harness.database, { lostAfterSeconds: 5 })
    expect((await harness.finished(lost)).error!.code).toBe('job.lost')
    // its file is gone, which no user's file can bring about
    const failed = await harness.finished(again)
    expect([failed.state, failed.error!.code]).toEqual(['failed', 'job.failed'])
    await worker.close()
    await harness.close()
  })

  test('two workers share the queue and each job is done once', async () => {
    const harness = await startHarness()
    const second = await startWorker(harness.database)
    const jobs = await Promise.all(Array.from({ length: 6 }, () => importFiles(harness, [grid(20)])))
    expect(jobs.map((job) => job.state)).toEqual(Array(6).fill('done'))
    expect(await countRows(harness.database, 'assets')).toBe(6)
    // the same arrays lie in the database once
    expect(await countRows(harness.database, 'scenes')).toBe(6)
    const { rows } = await harness.database.pool.query<{ uses: number }>(
      'select uses from blobs where hash not in (select hash from files)',
    )
    expect(rows.map(({ uses }) => uses)).toEqual([6, 6, 6])
    await second.close()
    await harness.close()
  })
})
