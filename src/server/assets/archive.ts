/**
 * An asset with all its versions and trips as one file, and back.
 *
 * Lines of JSON: what it is; the rows; then for each content a line with its hash and chunks, followed by the chunks'
 * bytes as they are stored; at the end how many contents there were. Ids are new ones where it is brought in, so that
 * it may stand beside the asset that it came from.
 */
import { createHash, randomUUID } from 'node:crypto'
import { open, type FileHandle } from 'node:fs/promises'
import { eq, sql } from 'drizzle-orm'
import { z } from 'zod'
import { assetSchema, tripDetailSchema } from '../../contract/api.ts'
import { KelboError } from '../../core/base/messages/collector.ts'
import { unpackScene } from '../../core/scene/pack-scene.ts'
import { knownContents, putContents } from '../content/blob-store.ts'
import { decodeManifest } from '../content/manifest.ts'
import type { PackedContent } from '../content/pack-content.ts'
import { CHUNK_BYTES, unpackForeign } from '../content/packing.ts'
import { getScene } from '../content/scene-store.ts'
import type { Db, Tx } from '../db/connection.ts'
import { assets, blobChunks, PACKINGS, scenes, trips } from '../db/schema.ts'
import { getTripDetail } from '../trips/trip-store.ts'
import { getAsset } from './asset-store.ts'

const KIND = 'kelbo-asset'
/** How names of such files end. */
export const ARCHIVE_ENDING = '.kelbo-asset'

/** Tables in the order in which their rows can be put back, with the columns that have manifests. */
const TABLES = ['assets', 'files', 'scenes', 'versions', 'trips'] as const
const MANIFESTS = ['manifest', 'forecast_manifest', 'ledger_manifest', 'matching_manifest']

type Row = Record<string, unknown>
type Rows = Record<(typeof TABLES)[number], Row[]>

const headSchema = z.object({ kind: z.literal(KIND), version: z.union([z.literal(1), z.literal(2)]) })
const rowsSchema = z.object(
  Object.fromEntries(TABLES.map((table) => [table, z.array(z.record(z.string(), z.unknown()))])),
)
const lengthSchema = z
  .number()
  .int()
  .min(0)
  .max(2 * CHUNK_BYTES)
const contentSchema = z.object({
  hash: z.string().regex(/^[0-9a-f]{64}$/),
  byteLength: z.number().int().nonnegative(),
  chunks: z.array(
    z.union([
      z.object({ packing: z.enum(PACKINGS), length: lengthSchema }),
      // version 1
      z.object({ deflated: z.boolean(), length: lengthSchema }).transform(({ deflated, length }) => ({
        packing: deflated ? ('deflate' as const) : ('plain' as const),
        length,
      })),
    ]),
  ),
})

/** Longest line of JSON: documents of some thousand parts and hundreds of versions. */
const MOST_LINE_BYTES = 2 ** 29

async function rowsOf(db: Tx, assetId: string): Promise<Rows> {
  const some = async (query: ReturnType<typeof sql>): Promise<Row[]> =>
    (await db.execute<{ row: Row }>(query)).rows.map(({ row }) => row)
  return {
    assets: await some(sql`select to_jsonb(t) as row from assets t where id = ${assetId}`),
    versions: await some(
      sql`select to_jsonb(t) as row from versions t where asset_id = ${assetId} order by number`,
    ),
    trips: await some(
      sql`select to_jsonb(t) as row from trips t where asset_id = ${assetId} order by number`,
    ),
    scenes: await some(sql`select to_jsonb(t) as row from scenes t where id in (
      select scene_id from versions where asset_id = ${assetId}
      union select sent_scene_id from trips where asset_id = ${assetId}
      union select returned_scene_id from trips where asset_id = ${assetId})`),
    files: await some(sql`select to_jsonb(t) as row from files t where id in (
      select sent_file_id from trips where asset_id = ${assetId}
      union select unnest(returned_file_ids) from trips where asset_id = ${assetId})`),
  }
}

/** Hashes that rows name: files by themselves, arrays by manifests. */
function hashesOf(rows: Rows): string[] {
  const hashes = new Set<string>()
  for (const { hash } of rows.files) hashes.add(String(hash))
  for (const row of [...rows.scenes, ...rows.trips])
    for (const column of MANIFESTS)
      if (typeof row[column] === 'string')
        for (const { hash } of decodeManifest(Buffer.from(row[column].slice(2), 'hex'))) hashes.add(hash)
  return [...hashes]
}

const line = (value: unknown): Buffer => Buffer.from(`${JSON.stringify(value)}\n`)

/**
 * An asset's archive, piece by piece, of one moment whatever is written meanwhile.
 * @returns null where there is no such asset.
 */
export async function exportAsset(
  db: Db,
  assetId: string,
): Promise<{ name: string; bytes: AsyncGenerator<Buffer> } | null> {
  const [asset] = await db.select({ name: assets.name }).from(assets).where(eq(assets.id, assetId))
  if (!asset) return null
  const rows = await db.transaction((tx) => rowsOf(tx, assetId), { isolationLevel: 'repeatable read' })
  async function* pieces(): AsyncGenerator<Buffer> {
    yield line({ kind: KIND, version: 2, name: asset!.name, made: new Date().toISOString() })
    yield line(rows)
    const hashes = hashesOf(rows)
    const lengths = await knownContents(db, hashes)
    for (const hash of hashes) {
      const chunks = await db
        .select({ packing: blobChunks.packing, length: sql<number>`length(${blobChunks.bytes})` })
        .from(blobChunks)
        .where(eq(blobChunks.hash, hash))
        .orderBy(blobChunks.place)
      if (!lengths.has(hash)) throw new Error(`no content ${hash}`)
      yield line({ hash, byteLength: lengths.get(hash), chunks })
      for (let place = 0; place < chunks.length; place++) {
        const [chunk] = await db
          .select({ bytes: blobChunks.bytes })
          .from(blobChunks)
          .where(sql`${blobChunks.hash} = ${hash} and ${blobChunks.place} = ${place}`)
        yield chunk!.bytes
      }
    }
    yield line({ contents: hashes.length })
  }
  return { name: asset.name, bytes: pieces() }
}

/** Reads lines and bytes of a file one after the other. @throws KelboError `archive.broken` at its end. */
function createReader(file: FileHandle) {
  let held: Buffer = Buffer.alloc(0)
  let ended = false
  const more = async (): Promise<void> => {
    const piece = Buffer.allocUnsafe(2 ** 20)
    const { bytesRead } = await file.read(piece, 0, piece.length)
    if (bytesRead === 0) ended = true
    else held = Buffer.concat([held, piece.subarray(0, bytesRead)])
  }
  return {
    async line(): Promise<unknown> {
      const pieces: Buffer[] = []
      let length = 0
      for (;;) {
        const at = held.indexOf(10)
        const taken = at < 0 ? held.length : at
        pieces.push(held.subarray(0, taken))
        length += taken
        held = held.subarray(at < 0 ? taken : at + 1)
        if (at >= 0) break
        if (ended || length > MOST_LINE_BYTES) throw new KelboError('archive.broken')
        await more()
      }
      try {
        return JSON.parse(Buffer.concat(pieces).toString('utf8'))
      } catch {
        throw new KelboError('archive.broken')
      }
    },
    async bytes(length: number): Promise<Buffer> {
      while (held.length < length) {
        if (ended) throw new KelboError('archive.broken')
        await more()
      }
      const taken = Buffer.from(held.subarray(0, length))
      held = held.subarray(length)
      return taken
    },
  }
}

const parsed = <Schema extends z.ZodType>(schema: Schema, value: unknown): z.output<Schema> => {
  const result = schema.safeParse(value)
  if (!result.success) throw new KelboError('archive.broken')
  return result.data
}

/** Its chunks, unpacked and held against the hash. */
async function readContent(
  reader: ReturnType<typeof createReader>,
  head: z.output<typeof contentSchema>,
): Promise<PackedContent> {
  const digest = createHash('sha256')
  const chunks: PackedContent['chunks'][number][] = []
  let byteLength = 0
  for (const { packing, length } of head.chunks) {
    const bytes = await reader.bytes(length)
    let plain: Buffer
    try {
      plain = unpackForeign({ packing, bytes })
    } catch {
      throw new KelboError('archive.broken')
    }
    digest.update(plain)
    byteLength += plain.length
    chunks.push({ packing, bytes })
  }
  if (byteLength !== head.byteLength || digest.digest('hex') !== head.hash)
    throw new KelboError('archive.broken')
  return { hash: head.hash, byteLength, chunks }
}

/** The same rows under new ids. */
function withNewIds(rows: Rows): Rows {
  const fresh = new Map<string, string>()
  for (const table of TABLES) for (const { id } of rows[table]) fresh.set(String(id), randomUUID())
  const text = JSON.stringify(rows).replace(
    /[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}/g,
    (id) => fresh.get(id) ?? id,
  )
  return JSON.parse(text) as Rows
}

async function putRows(tx: Tx, table: string, rows: readonly Row[]): Promise<void> {
  const { rows: known } = await tx.execute<{ column_name: string }>(
    sql`select column_name from information_schema.columns where table_schema = current_schema() and table_name = ${table}`,
  )
  const columns = new Set(known.map(({ column_name: name }) => name))
  for (const row of rows) {
    const names = Object.keys(row)
    // one of a later form than this program knows
    if (!names.every((name) => columns.has(name))) throw new KelboError('archive.newer')
    const list = sql.join(
      names.map((name) => sql.identifier(name)),
      sql`, `,
    )
    await tx.execute(
      sql`insert into ${sql.identifier(table)} (${list}) select ${list} from jsonb_populate_record(null::${sql.identifier(table)}, ${JSON.stringify(row)}::jsonb)`,
    )
  }
}

/**
 * Brings an archive in as a new asset, all of it or nothing.
 * @param path of the uploaded file.
 * @throws KelboError `archive.broken`, `archive.newer`.
 */
export async function importAsset(db: Db, path: string): Promise<string> {
  const file = await open(path)
  try {
    const reader = createReader(file)
    const head = await reader.line()
    if (!headSchema.safeParse(head).success)
      throw new KelboError(
        (head as { kind?: unknown } | null)?.kind === KIND ? 'archive.newer' : 'archive.broken',
      )
    const rows = withNewIds(parsed(rowsSchema, await reader.line()) as Rows)
    const [asset, ...others] = rows.assets
    if (!asset || others.length) throw new KelboError('archive.broken')
    const named = hashesOf(rows)
    return await db.transaction(async (tx) => {
      const lacking = new Set(named)
      for (;;) {
        const next = (await reader.line()) as { contents?: unknown }
        if (typeof next?.contents === 'number') break
        const content = await readContent(reader, parsed(contentSchema, next))
        await putContents(tx, [content])
        lacking.delete(content.hash)
      }
      if (lacking.size) throw new KelboError('archive.broken')
      try {
        for (const table of TABLES) await putRows(tx, table, rows[table])
        await holdSound(tx, String(asset.id))
      } catch (error) {
        if (error instanceof KelboError || !isOfTheFile(error)) throw error
        throw new KelboError('archive.broken')
      }
      return String(asset.id)
    })
  } finally {
    await file.close()
  }
}

/** A row that the tables refuse (class 22 and 23 of PostgreSQL's codes), or a document that is none. */
function isOfTheFile(error: unknown): boolean {
  for (let at = error; at instanceof Error; at = at.cause) {
    const { code } = at as { code?: unknown }
    if (typeof code === 'string' && /^2[23]/.test(code)) return true
    if (at instanceof z.ZodError || at instanceof TypeError || at instanceof RangeError) return true
  }
  return false
}

/** What was brought in can be listed and opened. */
async function holdSound(tx: Tx, assetId: string): Promise<void> {
  const asset = assetSchema.parse(await getAsset(tx, assetId))
  if (asset.versions.length === 0) throw new KelboError('archive.broken')
  for (const { id } of asset.trips) tripDetailSchema.parse(await getTripDetail(tx, id))
  const travelled = await tx
    .select({ sent: trips.sentSceneId, returned: trips.returnedSceneId })
    .from(trips)
    .where(eq(trips.assetId, assetId))
  const sceneIds = [
    ...asset.versions.map(({ sceneId }) => sceneId),
    ...travelled.flatMap(({ sent, returned }) => [sent ?? [], returned ?? []].flat()),
  ]
  for (const id of new Set(sceneIds)) {
    const [row] = await tx.select({ id: scenes.id }).from(scenes).where(eq(scenes.id, id))
    if (!row) throw new KelboError('archive.broken')
    unpackScene(await getScene(tx, id))
  }
}
