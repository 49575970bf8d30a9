/** What goes wrong around a job: the database ends a connection, a worker is stopped, work hangs, the disk is full. */
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { isConnectionLost, isDiskFull } from '../../src/server/db/faults.ts'
import { openDatabase } from '../../src/server/db/connection.ts'
import { createJob, getJob, takeJob } from '../../src/server/jobs/job-store.ts'
import { startWorker } from '../../src/server/jobs/worker.ts'
import { describeError } from '../../src/server/plugins/error-documents.ts'
import { HANDLERS } from '../../src/server/jobs/handlers/registry.ts'
import { accessOf } from '../../src/server/accounts/access.ts'
import { buildApp } from '../../src/server/app.ts'
import { HOST, importFiles, lanternZip, PORT, startHarness, type Harness } from './harness.ts'

type Handlers = Record<string, (typeof HANDLERS)[keyof typeof HANDLERS]>

/** Another handler for a kind, while `during` runs. */
async function withHandler(kind: string, handler: unknown, during: () => Promise<void>): Promise<void> {
  const handlers = HANDLERS as unknown as Handlers
  const kept = handlers[kind]!
  handlers[kind] = handler as typeof kept
  try {
    await during()
  } finally {
    handlers[kind] = kept
  }
}
let harness: Harness
beforeAll(async () => {
  harness = await startHarness({ worker: false })
})
afterAll(() => harness.close())
const newJob = (kind = 'prepare') =>
  createJob(harness.database.db, { kind: kind as 'prepare', title: 'Work', input: {}, askedBy: null })
const until = async (id: string, holds: (state: string, attempts: number) => boolean): Promise<void> => {
  for (let attempt = 0; attempt < 6000; attempt++) {
    const { rows } = await harness.database.pool.query<{ state: string; attempts: number }>(
      'select state, attempts from jobs where id = $1',
      [id],
    )
    if (holds(rows[0]!.state, rows[0]!.attempts)) return
    await new Promise((resolve) => setTimeout(resolve, 50))
  }
  throw new Error('it did not come to that')
}
const attemptsOf = async (id: string): Promise<number> =>
  (await harness.database.pool.query<{ attempts: number }>('select attempts from jobs where id = $1', [id]))
    .rows[0]!.attempts

describe('a database connection that ends inside a transaction', () => {
  test('ends neither worker nor job: it is tried again', async () => {
    const worker = await startWorker(harness.database)
    let tries = 0
    try {
      await withHandler(
        'prepare',
        async ({ db, job }: { db: typeof harness.database.db; job: { id: string; attempt: number } }) => {
          tries++
          await db.transaction(async (tx) => {
            if (tries === 1) {
              const { rows } = await tx.execute<{ pid: number }>('select pg_backend_pid() as pid')
              await harness.database.pool.query('select pg_terminate_backend($1)', [rows[0]!.pid])
              await new Promise((resolve) => setTimeout(resolve, 100))
            }
            await tx.execute(`update jobs set state = 'done', finished_at = now() where id = '${job.id}'`)
          })
        },
        async () => {
          const id = await newJob()
          await until(id, (state) => state === 'done')
          expect(tries).toBe(2)
        },
      )
    } finally {
      await worker.close()
    }
  })
  test('three times: the job fails, and says that it was the database', async () => {
    const worker = await startWorker(harness.database)
    try {
      await withHandler(
        'prepare',
        async ({ db }: { db: typeof harness.database.db }) => {
          await db.transaction(async (tx) => {
            await tx.execute('select pg_terminate_backend(pg_backend_pid())')
          })
        },
        async () => {
          const id = await newJob()
          await until(id, (state) => state === 'failed')
          expect((await getJob(harness.database.db, id))!.error!.code).toBe('job.no-database')
          expect(await attemptsOf(id)).toBe(3)
        },
      )
    } finally {
      await worker.close()
    }
  })
  test('a request is answered 503 in words where there is no database', async () => {
    const gone = openDatabase('postgres://nobody@127.0.0.1:1/none')
    const app = await buildApp(gone, null, accessOf({ KELBO_PORT: String(PORT) }))
    for (const url of ['/api/assets', '/api/jobs', '/api/recipes']) {
      const answer = await app.server.inject({ url, headers: { host: HOST } })
      expect(answer.statusCode).toBe(503)
      expect(answer.json<{ code: string }>().code).toBe('http.no-database')
    }
    await app.close()
    await gone.close()
  })
})

describe('a worker that is asked to stop', () => {
  /** Stops so many workers one after the other, each when `before` says; the work itself never ends. */
  const stopped = (times: number, before: (id: string, time: number) => Promise<unknown>) =>
    withHandler(
      'prepare',
      () => new Promise(() => undefined),
      async () => {
        const id = await newJob()
        for (let time = 0; time < times; time++) {
          const worker = await startWorker(harness.database)
          await before(id, time)
          // a stop that waited for the work would not end either
          await worker.close()
          expect((await getJob(harness.database.db, id))!.state).toBe('queued')
          expect(await attemptsOf(id)).toBe(0)
        }
        await harness.database.pool.query('delete from jobs where id = $1', [id])
      },
    )
  test('gives its job back at once, however often, and that is no failed try', () =>
    stopped(4, (id) => until(id, (state) => state === 'running')))
  test('at any moment, also while it takes the job, stops and leaves it as it was', () =>
    stopped(40, (_id, time) => new Promise((resolve) => setTimeout(resolve, time / 2))))
})

describe('work that shows no progress', () => {
  test('is ended with words, and what waits behind it is done', async () => {
    const worker = await startWorker(harness.database, { stalledAfterSeconds: 1 })
    try {
      await withHandler(
        'prepare',
        () => new Promise(() => undefined),
        async () => {
          const id = await newJob()
          const behind = await newJob()
          await until(id, (state) => state === 'failed')
          expect((await getJob(harness.database.db, id))!.error!.code).toBe('job.stalled')
          await until(behind, (state) => state !== 'queued')
          await until(behind, (state) => state === 'failed')
        },
      )
    } finally {
      await worker.close()
    }
  })
})

describe('two lanes', () => {
  test('a worker for short work leaves long jobs to others', async () => {
    const { db, pool } = harness.database
    const long = await newJob()
    await pool.query('update jobs set long = true where id = $1', [long])
    expect(await takeJob(db, true)).toBeNull()
    const short = await newJob()
    expect((await takeJob(db, true))?.id).toBe(short)
    expect((await takeJob(db))?.id).toBe(long)
    await pool.query('delete from jobs')
  })
  test('what there is to read makes a job long', async () => {
    const { db, pool } = harness.database
    const { rows } = await pool
      .query<{ id: string }>(
        `insert into blobs (hash, byte_length, chunk_count) values (repeat('a', 64), 30000000, 0);
       insert into files (name, byte_length, hash) values ('large.obj', 30000000, repeat('a', 64)) returning id`,
      )
      .then((results) => (results as unknown as { rows: { id: string }[] }[])[1]!)
    const longOf = async (fileIds: string[]): Promise<boolean> => {
      const id = await createJob(db, { kind: 'import', title: 'x', input: { fileIds }, askedBy: null })
      return (await pool.query<{ long: boolean }>('select long from jobs where id = $1', [id])).rows[0]!.long
    }
    expect(await longOf([rows[0]!.id])).toBe(true)
    expect(await longOf([])).toBe(false)
    await pool.query('delete from jobs; delete from files; delete from blobs')
  })
})

test('faults of the disk and of connections are known by their codes, wherever they are in the chain', () => {
  const coded = (code: string): Error => Object.assign(new Error('x'), { code })
  expect(isDiskFull(new Error('failed query', { cause: coded('53100') }))).toBe(true)
  expect(isDiskFull(coded('ENOSPC'))).toBe(true)
  expect(describeError(coded('ENOSPC')).code).toBe('store.disk-full')
  expect(isDiskFull(coded('23505'))).toBe(false)
  expect(isConnectionLost(new Error('failed query', { cause: coded('57P01') }))).toBe(true)
  expect(isConnectionLost(new Error('Connection terminated unexpectedly'))).toBe(true)
  expect(isConnectionLost(coded('23505'))).toBe(false)
})

test('an import is whole after all that', async () => {
  const worker = await startWorker(harness.database)
  expect((await importFiles(harness, [lanternZip()])).state).toBe('done')
  await worker.close()
})
