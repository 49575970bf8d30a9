/** What lies in the database: at scale, carried over from before, and swept. */
import { randomBytes } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { gunzipSync } from 'node:zlib'
import pg from 'pg'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { describeScene } from '../../src/app/describe.ts'
import { assetSchema, assetsSchema, tripDetailSchema } from '../../src/contract/api.ts'
import { fingerprintScene } from '../../src/core/compare/fingerprint.ts'
import { completeIds } from '../../src/core/scene/ids.ts'
import { unpackScene } from '../../src/core/scene/pack-scene.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { accessOf } from '../../src/server/accounts/access.ts'
import { buildApp } from '../../src/server/app.ts'
import { addVersion, createAsset } from '../../src/server/assets/asset-store.ts'
import { putBytes } from '../../src/server/content/blob-store.ts'
import { prepareFile, putFile } from '../../src/server/content/file-store.ts'
import { decodeManifest, encodeManifest } from '../../src/server/content/manifest.ts'
import { getScene, prepareScene, putScene } from '../../src/server/content/scene-store.ts'
import { sweepUnused } from '../../src/server/content/sweep.ts'
import { openDatabase, type Database } from '../../src/server/db/connection.ts'
import { migrateDatabase } from '../../src/server/db/migrate.ts'
import { startWorker } from '../../src/server/jobs/worker.ts'
import { gridOf, sceneOf } from '../solids.ts'
import { countRows, HOST, importFiles, lanternZip, PORT, startHarness, type Harness } from './harness.ts'

/** Parts of a hundred polygons, no two alike. */
const manyParts = (count: number): Scene =>
  sceneOf(
    Array.from({ length: count }, (_part, at) =>
      gridOf(10, 10, { name: `part ${at}` }, (x, z) => Math.sin(x * at + z)),
    ),
  )

/** Statements that a piece of work sends to the database. */
async function statementsOf(work: () => Promise<unknown>): Promise<string[]> {
  const sent: string[] = []
  const query = pg.Client.prototype.query as (...args: unknown[]) => unknown
  pg.Client.prototype.query = function (this: pg.Client, ...args: unknown[]) {
    const [first] = args
    sent.push(typeof first === 'string' ? first : ((first as { text?: string }).text ?? '?'))
    return query.apply(this, args)
  } as never
  try {
    await work()
  } finally {
    pg.Client.prototype.query = query as never
  }
  return sent
}

describe('two thousand parts', () => {
  let harness: Harness
  const scene = manyParts(2000)
  const described = describeScene(scene)
  let sceneId = ''
  beforeAll(async () => {
    harness = await startHarness({ worker: false })
  })
  afterAll(() => harness.close())
  const store = async (): Promise<string> => {
    const { db } = harness.database
    const prepared = await prepareScene(db, described)
    return db.transaction(async (tx) => {
      const id = await putScene(tx, prepared)
      await addVersion(tx, {
        assetId: await createAsset(tx, 'Many'),
        sceneId: id,
        note: 'x',
        madeBy: null,
        basedOn: null,
      })
      return id
    })
  }

  test('are stored with at most 40 statements, and stored again with fewer', async () => {
    const first = await statementsOf(async () => (sceneId = await store()))
    expect(first.length).toBeLessThanOrEqual(40)
    const blobs = await countRows(harness.database, 'blobs')
    const again = await statementsOf(store)
    expect(again.length).toBeLessThan(first.length)
    expect(await countRows(harness.database, 'blobs')).toBe(blobs)
    const { rows } = await harness.database.pool.query<{ uses: number; hashes: string }>(
      'select uses, count(*) as hashes from blobs group by uses',
    )
    expect(rows).toEqual([{ uses: 2, hashes: String(blobs) }])
  })
  test('come back as they were, with few statements', async () => {
    let loaded: Scene | null = null
    const sent = await statementsOf(async () => {
      loaded = unpackScene(await getScene(harness.database.db, sceneId))
    })
    expect(fingerprintScene(loaded!)).toEqual(fingerprintScene(scene))
    expect(sent.length).toBeLessThanOrEqual(10)
  })
  test('are listed by columns alone', async () => {
    const sent = await statementsOf(async () => {
      const { assets } = assetsSchema.parse((await harness.call('GET', '/assets')).body)
      expect(assets.map(({ master }) => [master.parts, master.polygons, master.vertices])).toEqual([
        [2000, 200000, 242000],
        [2000, 200000, 242000],
      ])
    })
    for (const statement of sent) expect(statement).not.toMatch(/inspection|scenes"."document|fingerprints/)
  })
})

test('a manifest holds what it was made of, in forty bytes an array', () => {
  const arrays = [
    { hash: 'ab'.repeat(32), type: 'f64', length: 3 },
    { hash: '0f'.repeat(32), type: 'u8', length: 4294967295 },
    { hash: '00'.repeat(32), type: 'i32', length: 0 },
  ] as const
  expect(encodeManifest(arrays)).toHaveLength(120)
  expect(decodeManifest(encodeManifest(arrays))).toEqual(arrays)
})

describe('what nothing names any more', () => {
  let harness: Harness
  beforeAll(async () => {
    harness = await startHarness({ worker: false })
  })
  afterAll(() => harness.close())
  const blobCount = () => countRows(harness.database, 'blobs')

  test('is swept at any number', async () => {
    const { pool, db } = harness.database
    await pool.query(`
      insert into blobs (hash, byte_length, chunk_count)
      select encode(sha256(at::text::bytea), 'hex'), 1, 1 from generate_series(1, 70000) at`)
    await pool.query(
      `insert into blob_chunks (hash, place, packing, bytes) select hash, 0, 'plain', 'x' from blobs`,
    )
    expect(await sweepUnused(db, 0)).toBe(70000)
    expect([await blobCount(), await countRows(harness.database, 'blob_chunks')]).toEqual([0, 0])
  })
  test('stays as long as one of several names it, and goes with the last', async () => {
    const { db, pool } = harness.database
    const shared = Buffer.from('shared by a file and a file')
    const ids: string[] = []
    for (let copy = 0; copy < 2; copy++) {
      const prepared = await prepareFile(db, { name: `${copy}.bin`, bytes: shared })
      ids.push(await db.transaction((tx) => putFile(tx, prepared)))
    }
    expect((await pool.query<{ uses: number }>('select uses from blobs')).rows).toEqual([{ uses: 2 }])
    await pool.query('delete from files where id = $1', [ids[0]])
    await sweepUnused(db, 1000)
    expect(await blobCount()).toBe(1)
    await pool.query('delete from files where id = $1', [ids[1]])
    expect(await sweepUnused(db, 1000)).toBe(1)
    expect(await blobCount()).toBe(0)
  })
  test('is not taken from under a transaction that is about to name it', async () => {
    const { db } = harness.database
    const bytes = randomBytes(100)
    await db.transaction((tx) => putBytes(tx, [bytes]))
    // nobody names it yet, and someone is going to
    await db.transaction(async (tx) => {
      const [hash] = await putBytes(tx, [bytes])
      await sweepUnused(db, 0)
      await tx.execute(sql`insert into files (name, byte_length, hash) values ('x', 100, ${hash})`)
    })
    await sweepUnused(db, 1000)
    expect(await blobCount()).toBe(1)
    await db.execute(sql`delete from files`)
    await sweepUnused(db, 1000)
  })
  test('content that is packed and swept before it is stored is stored all the same', async () => {
    const { db } = harness.database
    const scene = completeIds(sceneOf([gridOf(2, 2)]))
    await db.transaction(async (tx) => putScene(tx, await prepareScene(db, describeScene(scene))))
    // looked for and found: nothing is packed; then it goes
    const prepared = await prepareScene(db, describeScene(scene))
    expect(prepared.arrays.contents).toEqual([])
    await sweepUnused(db, 0)
    expect(await blobCount()).toBe(0)
    const id = await db.transaction((tx) => putScene(tx, prepared))
    expect(fingerprintScene(unpackScene(await getScene(db, id)))).toEqual(fingerprintScene(scene))
  })
  test('a scene that names what is not stored can’t be stored', async () => {
    const { pool } = harness.database
    await expect(
      pool.query(
        `insert into scenes (document, manifest, inspection, fingerprints, vertex_count, polygon_count, part_count)
         values ('{}', $1, '{}', '{}', 0, 0, 0)`,
        [encodeManifest([{ hash: 'aa'.repeat(32), type: 'u8', length: 1 }])],
      ),
    ).rejects.toThrow(/content that is named is not stored/)
  })
  test('a ledger that is replaced frees its arrays', async () => {
    const worker = await startWorker(harness.database)
    const job = await importFiles(harness, [lanternZip()])
    const assetId = String(job.result!.assetId)
    const start = async (path: string, body: unknown) =>
      harness.finished(((await harness.call('POST', path, body)).body as { jobId: string }).jobId)
    const [version] = assetSchema.parse((await harness.call('GET', `/assets/${assetId}`)).body).versions
    const sent = await start(`/assets/${assetId}/trips`, {
      versionId: version!.id,
      destination: 'sculpting',
      options: {},
    })
    const tripId = String(sent.result!.tripId)
    const counts: number[] = []
    for (const strength of [0.01, 0.02, 0.03]) {
      const practised = await start(`/trips/${tripId}/practise`, {
        from: await harness.returnOf(tripId),
        standIn: 'sculptor',
        options: { strength },
      })
      await harness.finished(String(practised.result!.nextJob))
      await sweepUnused(harness.database.db, 0)
      counts.push(await blobCount())
    }
    expect(new Set(counts).size).toBe(1)
    await worker.close()
  })
  test('an asset is gone though the sweep behind it fails', async () => {
    const worker = await startWorker(harness.database)
    const job = await importFiles(harness, [lanternZip()])
    await worker.close()
    await harness.database.pool.query(
      `create function fail() returns trigger language plpgsql as $$ begin raise exception 'no'; end $$;
       create trigger fail before delete on blobs for each statement execute function fail()`,
    )
    expect((await harness.call('DELETE', `/assets/${String(job.result!.assetId)}`)).status).toBe(204)
    await harness.database.pool.query('drop trigger fail on blobs; drop function fail')
  })
})

describe('a database from before there were manifests and ids', () => {
  const DUMP = join(import.meta.dirname, 'dumps/before-manifests.sql.gz')
  let database: Database
  let app: Awaited<ReturnType<typeof buildApp>>
  let worker: Awaited<ReturnType<typeof startWorker>>
  beforeAll(async () => {
    const base = process.env.KELBO_DATABASE_URL!
    const name = `test_${randomBytes(6).toString('hex')}`
    const admin = new pg.Client({ connectionString: base })
    await admin.connect()
    await admin.query(`create database ${name}`)
    await admin.end()
    const url = base.replace(/\/[^/]*$/, `/${name}`)
    const client = new pg.Client({ connectionString: url })
    await client.connect()
    // lines that begin with a backslash are for the dump's own program
    await client.query(
      gunzipSync(readFileSync(DUMP))
        .toString('utf8')
        .replace(/^\\.*$/gm, ''),
    )
    await client.end()
    database = openDatabase(url)
    // the first start ends half-way, when the scenes are carried over and the marks are not
    await database.db.execute(sql`
      create function refuse() returns trigger language plpgsql as $$ begin raise 'ended'; end $$`)
    await database.db.execute(sql`
      create trigger refuse before update on assets for each row execute function refuse()`)
    await expect(migrateDatabase(database)).rejects.toThrow()
    const { rows } = await database.db.execute(
      sql`select 1 from scenes where inspection -> 'nodes' -> 0 ? 'id'`,
    )
    expect(rows).toEqual([])
    await database.db.execute(sql`drop trigger refuse on assets`)
    await migrateDatabase(database)
    app = await buildApp(database, null, accessOf({ KELBO_PORT: String(PORT) }))
    worker = await startWorker(database)
  })
  afterAll(async () => {
    await worker.close()
    await app.close()
    await database.close()
  })
  const get = async (path: string): Promise<unknown> =>
    (await app.server.inject({ method: 'GET', url: `/api${path}`, headers: { host: HOST } })).json()
  const start = async (path: string, payload: object) => {
    const answer = await app.server.inject({
      method: 'POST',
      url: `/api${path}`,
      headers: { host: HOST },
      payload,
    })
    const { jobId } = answer.json<{ jobId: string }>()
    for (;;) {
      const job = (await get(`/jobs/${jobId}`)) as {
        state: string
        error: unknown
        result: Record<string, unknown>
      }
      if (!['queued', 'running'].includes(job.state)) return job
      await new Promise((resolve) => setTimeout(resolve, 50))
    }
  }
  const theAsset = async () => {
    const { assets } = assetsSchema.parse(await get('/assets'))
    return assetSchema.parse(await get(`/assets/${assets[0]!.id}`))
  }

  test('is listed as it was', async () => {
    const asset = await theAsset()
    expect(asset.name).toBe('Ship bell')
    expect(
      asset.versions.map(({ number, parts, vertices, polygons, note }) => [
        number,
        parts,
        vertices,
        polygons,
        note,
      ]),
    ).toEqual([
      [1, 3, 24, 18, 'Imported bell.obj, bell.mtl, brass_base.png'],
      [2, 3, 24, 18, 'Trip 1: took points'],
      [3, 3, 24, 18, 'Onto the floor: 1 step on version 2'],
    ])
    expect(
      asset.trips.map(({ number, state, destination, returnedFileName, resultVersionNumber }) => [
        number,
        state,
        destination.name,
        returnedFileName,
        resultVersionNumber,
      ]),
    ).toEqual([
      [1, 'settled', 'Sculpting tool', 'ship_bell_v1_sculpted.obj', 2],
      [2, 'back', 'The workshop', 'ship_bell_v3_modelled.fbx', null],
      [3, 'out', 'Real-time engine', null, null],
    ])
  })
  test('its parts have ids, the same ones in every version, and their marks go by them', async () => {
    const asset = await theAsset()
    const ids: string[][] = []
    for (const { sceneId } of asset.versions) {
      const { inspection } = (await get(`/scenes/${sceneId}`)) as {
        inspection: { nodes: { id: string; name: string }[] }
      }
      ids.push(inspection.nodes.map((node) => node.id))
      // what pages read and what is unpacked agree
      expect(unpackScene(await getScene(database.db, sceneId)).nodes.map((node) => node.id)).toEqual(
        ids.at(-1),
      )
    }
    expect(ids[1]).toEqual(ids[0])
    expect(ids[2]).toEqual(ids[0])
    expect(new Set(ids[0]).size).toBe(3)
    const [post, leaf, secondLeaf] = ids[0]!
    expect(asset.partMarks).toEqual({
      [post!]: { role: 'reference', label: 'teal' },
      // both were called so, and both were meant
      [leaf!]: { role: 'travels', label: 'rose' },
      [secondLeaf!]: { role: 'travels', label: 'rose' },
    })
  })
  test('its ledgers and places are there', async () => {
    const { trips } = await theAsset()
    const detail = tripDetailSchema.parse(await get(`/trips/${trips[0]!.id}`))
    const [post] = detail.ledger!.rows
    expect([post!.cells.points!.state, post!.cells.smoothing!.state, post!.cells.uvs!.state]).toEqual([
      'changed',
      'lost',
      'same',
    ])
    const answer = await app.server.inject({
      method: 'GET',
      url: `/api/blobs/${post!.cells.points!.places!.master!}`,
      headers: { host: HOST },
    })
    expect(answer.rawPayload.length).toBe(4 * post!.cells.points!.changedCount)
    expect(detail.contents.map(({ name }) => name)).toEqual([
      'ship_bell_v1.obj',
      'ship_bell_v1.mtl',
      'brass_base.png',
    ])
  })
  test('nothing of it is swept, and every content is counted', async () => {
    const before = await countRows(database, 'blobs')
    await sweepUnused(database.db, 0)
    // arrays of ledgers that were replaced before are all that may go
    const { rows } = await database.pool.query<{ hash: string }>('select hash from blobs where uses = 0')
    expect(rows).toEqual([])
    expect(await countRows(database, 'blobs')).toBeGreaterThan(before * 0.9)
    const asset = await theAsset()
    for (const { sceneId } of asset.versions)
      expect(unpackScene(await getScene(database.db, sceneId)).meshes).toHaveLength(3)
  })
  test('what waits is reconciled, though its matching was not kept', async () => {
    const asset = await theAsset()
    const job = await start(`/trips/${asset.trips[1]!.id}/reconcile`, {
      from: asset.trips[1]!.returnedSceneId,
      take: ['points'],
    })
    expect([job.state, job.error]).toEqual(['done', null])
  })
  test('a step goes to the one of two parts of one name that it is meant for', async () => {
    const asset = await theAsset()
    const { inspection } = (await get(`/scenes/${asset.versions[2]!.sceneId}`)) as {
      inspection: { nodes: { id: string }[] }
    }
    const job = await start(`/assets/${asset.id}/prepare`, {
      versionId: asset.versions.at(-1)!.id,
      recipe: { name: 'x', steps: [{ step: 'triangulate', params: {}, nodes: [inspection.nodes[1]!.id] }] },
    })
    expect(job.state).toBe('done')
    const made = (await theAsset()).versions.at(-1)!
    const scene = unpackScene(await getScene(database.db, made.sceneId))
    expect(scene.nodes.map((node) => scene.meshes[node.mesh]!.faceOffsets.length - 1)).toEqual([6, 12, 6])
  })
  test('it is sent from', async () => {
    const asset = await theAsset()
    const job = await start(`/assets/${asset.id}/trips`, {
      versionId: asset.versions[2]!.id,
      destination: 'modelling',
      options: {},
    })
    expect([job.state, job.error]).toEqual(['done', null])
  })
})
