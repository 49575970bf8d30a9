/** Content by hash: each once, in compressed chunks, whatever number of versions share it. */
import { and, asc, eq, inArray, sql } from 'drizzle-orm'
import type { Db, Tx } from '../db/connection.ts'
import { blobChunks, blobs } from '../db/schema.ts'
import { hashOf, packContent, type PackedContent } from './pack-content.ts'
import { CHUNK_BYTES, unpackChunk } from './packing.ts'

/** Rows and bytes of one statement. */
const ROWS_AT_ONCE = 5000
const BYTES_AT_ONCE = 16 * 2 ** 20

/** Which of the hashes lie in the store, with their lengths in bytes. */
export async function knownContents(db: Db | Tx, hashes: readonly string[]): Promise<Map<string, number>> {
  const known = new Map<string, number>()
  const wanted = [...new Set(hashes)]
  if (wanted.length === 0) return known
  const { rows } = await db.execute<{ hash: string; byte_length: string }>(
    sql`select hash, byte_length from blobs where hash = any(${sql.param(wanted)}::text[])`,
  )
  for (const row of rows) known.set(row.hash, Number(row.byte_length))
  return known
}

/** Packs what the store doesn't have; no connection is held meanwhile. */
export async function packMissing(
  db: Db,
  contents: readonly { readonly hash: string; readonly bytes: Uint8Array }[],
): Promise<PackedContent[]> {
  const known = await knownContents(
    db,
    contents.map(({ hash }) => hash),
  )
  const packed: PackedContent[] = []
  const seen = new Set(known.keys())
  for (const { hash, bytes } of contents) {
    if (seen.has(hash)) continue
    seen.add(hash)
    packed.push(await packContent(hash, bytes))
  }
  return packed
}

/**
 * Stores packed contents that are not there yet, in a few statements, and holds all named ones until the transaction
 * ends, so that no sweep takes one away before it is counted as used.
 *
 * @param named every hash that the transaction is going to name.
 * @returns hashes that are neither stored nor among the packed ones: they were swept between packing and now.
 */
export async function putContents(
  tx: Tx,
  packed: readonly PackedContent[],
  named: readonly string[] = packed.map(({ hash }) => hash),
): Promise<string[]> {
  // in one order, so that two writers of the same contents don't wait for each other
  const ordered = [...packed].sort((a, b) => (a.hash < b.hash ? -1 : 1))
  const fresh = new Set<string>()
  for (let at = 0; at < ordered.length; at += ROWS_AT_ONCE) {
    const some = ordered.slice(at, at + ROWS_AT_ONCE)
    const { rows } = await tx.execute<{ hash: string }>(sql`
      insert into blobs (hash, byte_length, chunk_count)
      select * from unnest(
        ${sql.param(some.map(({ hash }) => hash))}::text[],
        ${sql.param(some.map(({ byteLength }) => byteLength))}::bigint[],
        ${sql.param(some.map(({ chunks }) => chunks.length))}::integer[])
      on conflict do nothing returning hash`)
    for (const row of rows) fresh.add(row.hash)
  }
  let batch: (typeof blobChunks.$inferInsert)[] = []
  let batchBytes = 0
  const flush = async (): Promise<void> => {
    if (batch.length) await tx.insert(blobChunks).values(batch)
    batch = []
    batchBytes = 0
  }
  for (const { hash, chunks } of ordered) {
    if (!fresh.has(hash)) continue
    for (const [place, chunk] of chunks.entries()) {
      if (batch.length >= ROWS_AT_ONCE || batchBytes + chunk.bytes.length > BYTES_AT_ONCE) await flush()
      batch.push({ hash, place, ...chunk })
      batchBytes += chunk.bytes.length
    }
  }
  await flush()
  const wanted = [...new Set(named)]
  if (wanted.length === 0) return []
  const { rows } = await tx.execute<{ hash: string }>(
    sql`select hash from blobs where hash = any(${sql.param(wanted)}::text[]) order by hash for key share`,
  )
  const held = new Set(rows.map((row) => row.hash))
  return wanted.filter((hash) => !held.has(hash))
}

/**
 * Stores contents within a transaction; those that lie there already are shared.
 * @returns the hash of each.
 */
export async function putBytes(
  tx: Tx,
  contents: readonly Uint8Array[],
  packed: readonly PackedContent[] | null = null,
): Promise<string[]> {
  const hashes = contents.map(hashOf)
  const missing = new Set(
    await putContents(
      tx,
      packed ?? (await Promise.all(contents.map((bytes, at) => packContent(hashes[at]!, bytes)))),
      hashes,
    ),
  )
  // swept since they were looked for
  if (missing.size) {
    const again = contents.flatMap((bytes, at) =>
      missing.has(hashes[at]!) ? [{ bytes, hash: hashes[at]! }] : [],
    )
    await putContents(tx, await Promise.all(again.map(({ hash, bytes }) => packContent(hash, bytes))))
  }
  return hashes
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
    yield await unpackChunk(chunk)
  }
}

/** Chunks that are fetched and unpacked side by side. */
const CHUNKS_AT_ONCE = 4

/** All bytes of a blob, in memory of their own. */
export async function getBlob(db: Tx | Db, hash: string): Promise<Uint8Array> {
  const [row] = await db.select().from(blobs).where(eq(blobs.hash, hash))
  if (!row) throw new Error(`no content ${hash}`)
  const bytes = new Uint8Array(row.byteLength)
  let filled = 0
  const fetchOne = async (place: number): Promise<void> => {
    const [chunk] = await db
      .select()
      .from(blobChunks)
      .where(and(eq(blobChunks.hash, hash), eq(blobChunks.place, place)))
    if (!chunk) throw new Error(`content ${hash} lacks chunk ${place}`)
    const plain = await unpackChunk(chunk)
    // all but the last are of one size
    bytes.set(plain, place * CHUNK_BYTES)
    filled += plain.length
  }
  let next = 0
  const fetchSome = async (): Promise<void> => {
    while (next < row.chunkCount) await fetchOne(next++)
  }
  await Promise.all(Array.from({ length: Math.min(CHUNKS_AT_ONCE, row.chunkCount) }, fetchSome))
  if (filled !== row.byteLength) throw new Error(`content ${hash} is not whole`)
  return bytes
}

/**
 * Contents in the order in which they are asked for, each in memory of its own, as few queries as their size allows.
 * The caller takes one batch before the next is fetched.
 */
export async function* streamBlobs(
  db: Tx | Db,
  wanted: readonly { readonly hash: string; readonly byteLength: number }[],
): AsyncGenerator<{ hash: string; bytes: Uint8Array }[]> {
  let at = 0
  const met = new Set<string>()
  while (at < wanted.length) {
    const some: { hash: string; byteLength: number }[] = []
    let bytes = 0
    while (at < wanted.length && some.length < ROWS_AT_ONCE) {
      const next = wanted[at]!
      if (some.length && bytes + next.byteLength > BYTES_AT_ONCE) break
      at++
      if (met.has(next.hash)) continue
      met.add(next.hash)
      some.push(next)
      bytes += next.byteLength
    }
    const [only] = some
    if (some.length === 1 && only!.byteLength > CHUNK_BYTES) {
      yield [{ hash: only!.hash, bytes: await getBlob(db, only!.hash) }]
      continue
    }
    if (some.length === 0) continue
    const rows = await db
      .select()
      .from(blobChunks)
      .where(
        inArray(
          blobChunks.hash,
          some.map(({ hash }) => hash),
        ),
      )
      .orderBy(asc(blobChunks.hash), asc(blobChunks.place))
    const plain = await Promise.all(rows.map(unpackChunk))
    const pieces = new Map<string, Buffer[]>()
    rows.forEach(({ hash }, index) => {
      const held = pieces.get(hash)
      if (held) held.push(plain[index]!)
      else pieces.set(hash, [plain[index]!])
    })
    yield some.map(({ hash, byteLength }) => {
      const own = new Uint8Array(byteLength)
      let offset = 0
      for (const piece of pieces.get(hash) ?? []) {
        own.set(piece, offset)
        offset += piece.length
      }
      if (offset !== byteLength) throw new Error(`content ${hash} is not whole`)
      return { hash, bytes: own }
    })
  }
}

/** All bytes of many contents, each in memory of its own. */
export async function getBlobs(
  db: Tx | Db,
  hashes: readonly string[],
): Promise<ReadonlyMap<string, Uint8Array>> {
  const known = await knownContents(db, hashes)
  const lacking = hashes.find((hash) => !known.has(hash))
  if (lacking !== undefined) throw new Error(`no content ${lacking}`)
  const loaded = new Map<string, Uint8Array>()
  const wanted = [...known].map(([hash, byteLength]) => ({ hash, byteLength }))
  for await (const batch of streamBlobs(db, wanted))
    for (const { hash, bytes } of batch) loaded.set(hash, bytes)
  return loaded
}
