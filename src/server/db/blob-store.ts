/** Content by hash: each once, in compressed chunks, whatever number of versions share it. */
import { createHash } from 'node:crypto'
import { promisify } from 'node:util'
import { deflateRaw, inflateRaw } from 'node:zlib'
import { and, eq, inArray, lte, sql } from 'drizzle-orm'
import type { Db, Tx } from './database.ts'
import { blobChunks, blobs } from './schema.ts'

const deflate = promisify(deflateRaw)
const inflate = promisify(inflateRaw)

const CHUNK_BYTES = 4 * 2 ** 20
/** Chunks compressed side by side; each holds its memory meanwhile. */
const CHUNKS_AT_ONCE = 4

/** Writers of content hold this together, a sweep alone: content must not go while it is being named. */
const BLOB_LOCK = 5127302

export const hashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex')

/** Pieces of at most `CHUNK_BYTES`, whatever sizes come in. */
async function* inChunks(pieces: AsyncIterable<Uint8Array> | Iterable<Uint8Array>): AsyncGenerator<Buffer> {
  let held: Uint8Array[] = []
  let heldBytes = 0
  for await (const piece of pieces) {
    let rest = piece
    while (heldBytes + rest.length >= CHUNK_BYTES) {
      const take = CHUNK_BYTES - heldBytes
      yield Buffer.concat([...held, rest.subarray(0, take)])
      rest = rest.subarray(take)
      held = []
      heldBytes = 0
    }
    if (rest.length) held.push(rest)
    heldBytes += rest.length
  }
  if (heldBytes) yield Buffer.concat(held)
}

/** Stores content that comes in pieces under its hash, unless it lies there already. */
export async function putBlobPieces(
  tx: Tx,
  hash: string,
  byteLength: number,
  pieces: AsyncIterable<Uint8Array> | Iterable<Uint8Array>,
): Promise<void> {
  await tx.execute(sql`select pg_advisory_xact_lock_shared(${BLOB_LOCK})`)
  // a second writer of the same content waits here for the first one's transaction
  const inserted = await tx
    .insert(blobs)
    .values({ hash, byteLength, chunkCount: Math.ceil(byteLength / CHUNK_BYTES) })
    .onConflictDoNothing()
    .returning({ hash: blobs.hash })
  if (inserted.length === 0) return
  let place = 0
  let batch: Promise<{ deflated: boolean; bytes: Buffer }>[] = []
  const flush = async (): Promise<void> => {
    for (const chunk of await Promise.all(batch))
      await tx.insert(blobChunks).values({ hash, place: place++, ...chunk })
    batch = []
  }
  for await (const plain of inChunks(pieces)) {
    batch.push(
      deflate(plain, { level: 1 }).then((small) =>
        small.length < plain.length * 0.95
          ? { deflated: true, bytes: small }
          : { deflated: false, bytes: plain },
      ),
    )
    if (batch.length === CHUNKS_AT_ONCE) await flush()
  }
  await flush()
}

/** Stores bytes under their hash. @returns the hash. */
export async function putBlob(tx: Tx, bytes: Uint8Array): Promise<string> {
  const hash = hashOf(bytes)
  await putBlobPieces(tx, hash, bytes.length, [bytes])
  return hash
}

export async function blobExists(db: Tx | Db, hash: string): Promise<number | null> {
  const [row] = await db.select({ byteLength: blobs.byteLength }).from(blobs).where(eq(blobs.hash, hash))
  return row?.byteLength ?? null
}

/** The chunks of a blob in order, unpacked, one query each, so that memory holds one at a time. */
export async function* readBlobChunks(db: Tx | Db, hash: string): AsyncGenerator<Buffer> {
  const [row] = await db.select().from(blobs).where(eq(blobs.hash, hash))
  if (!row) throw new Error(`no content ${hash}`)
  for (let place = 0; place < row.chunkCount; place++) {
    const [chunk] = await db
      .select()
      .from(blobChunks)
      .where(and(eq(blobChunks.hash, hash), eq(blobChunks.place, place)))
    if (!chunk) throw new Error(`content ${hash} lacks chunk ${place}`)
    yield chunk.deflated ? await inflate(chunk.bytes) : chunk.bytes
  }
}

/** All bytes of a blob, in memory of their own. */
export async function getBlob(db: Tx | Db, hash: string): Promise<Uint8Array> {
  const byteLength = await blobExists(db, hash)
  if (byteLength === null) throw new Error(`no content ${hash}`)
  const bytes = new Uint8Array(byteLength)
  let at = 0
  for await (const chunk of readBlobChunks(db, hash)) {
    bytes.set(chunk, at)
    at += chunk.length
  }
  return bytes
}

/** Blobs of at most this size come many to a query. */
const SMALL_BYTES = 2 ** 18
const SMALL_AT_ONCE = 100

/** All bytes of many blobs, each in memory of its own. A model of many parts has hundreds of small ones. */
export async function getBlobs(
  db: Tx | Db,
  hashes: readonly string[],
): Promise<ReadonlyMap<string, Uint8Array>> {
  const loaded = new Map<string, Uint8Array>()
  const wanted = [...new Set(hashes)]
  for (let at = 0; at < wanted.length; at += SMALL_AT_ONCE) {
    const some = wanted.slice(at, at + SMALL_AT_ONCE)
    const rows = await db
      .select({ hash: blobs.hash, deflated: blobChunks.deflated, bytes: blobChunks.bytes })
      .from(blobs)
      .innerJoin(blobChunks, eq(blobChunks.hash, blobs.hash))
      .where(and(inArray(blobs.hash, some), lte(blobs.byteLength, SMALL_BYTES)))
    await Promise.all(
      rows.map(async ({ hash, deflated, bytes }) =>
        loaded.set(hash, Uint8Array.from(deflated ? await inflate(bytes) : bytes)),
      ),
    )
  }
  for (const hash of wanted) if (!loaded.has(hash)) loaded.set(hash, await getBlob(db, hash))
  return loaded
}

/** Waits for all transactions that store content, and holds new ones off until this transaction ends. */
export const lockBlobsForSweeping = (tx: Tx): Promise<unknown> =>
  tx.execute(sql`select pg_advisory_xact_lock(${BLOB_LOCK})`)

/** Removes content that no scene, trip or file names; the sweep's lock must be held. @returns how many. */
export async function sweepBlobs(db: Tx): Promise<number> {
  const orphans = await db.execute<{ hash: string }>(sql`
    select hash from blobs b
    where not exists (select 1 from scene_blobs s where s.hash = b.hash)
      and not exists (select 1 from trip_blobs t where t.hash = b.hash)
      and not exists (select 1 from files f where f.hash = b.hash)`)
  const hashes = orphans.rows.map((row) => row.hash)
  if (hashes.length) await db.delete(blobs).where(inArray(blobs.hash, hashes))
  return hashes.length
}
