/** A server and a worker against a fresh database of the PostgreSQL that KELBO_DATABASE_URL names. */
import { randomBytes } from 'node:crypto'
import pg from 'pg'
import { writeObj } from '../../src/core/formats/obj/write-obj.ts'
import { writeZip } from '../../src/core/formats/package/write-zip.ts'
import { buildStormLantern } from '../../src/core/practice/demo/storm-lantern.ts'
import type { JobDocument, TripDetail } from '../../src/contract/api.ts'
import { accessOf } from '../../src/server/accounts/access.ts'
import { buildApp, type App } from '../../src/server/app.ts'
import { openDatabase, type Database } from '../../src/server/db/connection.ts'
import { migrateDatabase } from '../../src/server/db/migrate.ts'
import { startWorker } from '../../src/server/jobs/worker.ts'

export const PORT = 4999
export const HOST = `127.0.0.1:${PORT}`

export interface Harness {
  readonly database: Database
  readonly app: App
  readonly url: string
  call(
    method: string,
    path: string,
    body?: unknown,
    headers?: Record<string, string>,
  ): Promise<{ status: number; body: unknown; headers: Record<string, unknown>; raw: Buffer }>
  upload(
    path: string,
    files: readonly { name: string; bytes: Uint8Array }[],
    fields?: Record<string, string>,
  ): ReturnType<Harness['call']>
  finished(jobId: string): Promise<JobDocument>
  /** What came back from a trip, as far as anyone knows; who writes says so. */
  returnOf(tripId: string): Promise<string | null>
  close(): Promise<void>
}

export async function startHarness({
  worker = true,
  lostAfterSeconds = 30,
  stalledAfterSeconds = 600,
  environment = {} as Readonly<Record<string, string>>,
} = {}): Promise<Harness> {
  const base = process.env.KELBO_DATABASE_URL
  if (!base)
    throw new Error('KELBO_DATABASE_URL must name a PostgreSQL for the tests; ./kelbo test starts one.')
  const name = `test_${randomBytes(6).toString('hex')}`
  const admin = new pg.Client({ connectionString: base })
  await admin.connect()
  await admin.query(`create database ${name}`)
  await admin.end()
  const url = base.replace(/\/[^/]*$/, `/${name}`)
  const database = openDatabase(url)
  await migrateDatabase(database)
  const app = await buildApp(database, null, accessOf({ KELBO_PORT: String(PORT), ...environment }))
  const running = worker ? await startWorker(database, { lostAfterSeconds, stalledAfterSeconds }) : null
  const call: Harness['call'] = async (method, path, body, headers = {}) => {
    const answer = await app.server.inject({
      method: method as 'GET',
      url: `/api${path}`,
      headers: { host: HOST, ...headers },
      ...(body === undefined ? {} : { payload: body as object }),
    })
    let parsed: unknown = null
    try {
      parsed = answer.json()
    } catch {
      // not every answer is JSON
    }
    return { status: answer.statusCode, body: parsed, headers: answer.headers, raw: answer.rawPayload }
  }
  return {
    database,
    app,
    url,
    call,
    upload(path, files, fields = {}) {
      const boundary = 'kelbo-test-boundary'
      const pieces: Buffer[] = []
      for (const [field, value] of Object.entries(fields))
        pieces.push(
          Buffer.from(`--${boundary}\r\ncontent-disposition: form-data; name="${field}"\r\n\r\n${value}\r\n`),
        )
      for (const file of files)
        pieces.push(
          Buffer.from(
            `--${boundary}\r\ncontent-disposition: form-data; name="file"; filename="${file.name}"\r\ncontent-type: application/octet-stream\r\n\r\n`,
          ),
          Buffer.from(file.bytes),
          Buffer.from('\r\n'),
        )
      pieces.push(Buffer.from(`--${boundary}--\r\n`))
      return call('POST', path, Buffer.concat(pieces), {
        'content-type': `multipart/form-data; boundary=${boundary}`,
      })
    },
    async finished(jobId) {
      for (let attempt = 0; attempt < 6000; attempt++) {
        const { body } = await call('GET', `/jobs/${jobId}`)
        const job = body as JobDocument
        if (!['queued', 'running'].includes(job.state)) return job
        await new Promise((resolve) => setTimeout(resolve, 50))
      }
      throw new Error(`job ${jobId} did not end`)
    },
    async returnOf(tripId) {
      const { body } = await call('GET', `/trips/${tripId}`)
      return (body as TripDetail).returnedSceneId
    },
    async close() {
      await running?.close()
      await app.close()
      await database.close()
    },
  }
}

export const lanternZip = (): { name: string; bytes: Uint8Array } => ({
  name: 'storm_lantern.zip',
  bytes: writeZip(writeObj(buildStormLantern(), 'storm_lantern.obj').files),
})

/** Imports files and waits. @returns the finished job. */
export async function importFiles(
  harness: Harness,
  files: readonly { name: string; bytes: Uint8Array }[],
  options: object = { unitMeters: 0.01 },
): Promise<JobDocument> {
  const { status, body } = await harness.upload('/assets', files, { options: JSON.stringify(options) })
  if (status !== 202) throw new Error(`import was answered ${status}: ${JSON.stringify(body)}`)
  return harness.finished((body as { jobId: string }).jobId)
}

export async function countRows(database: Database, table: string): Promise<number> {
  const { rows } = await database.pool.query<{ count: string }>(`select count(*) from ${table}`)
  return Number(rows[0]!.count)
}
