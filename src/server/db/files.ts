/** Files as they came in or went out. */
import { createReadStream } from 'node:fs'
import { eq, inArray } from 'drizzle-orm'
import type { PackageFile } from '../../core/formats/package/package-file.ts'
import { getBlob, putBlob, putBlobPieces } from './blob-store.ts'
import type { Db, Tx } from './database.ts'
import { files } from './schema.ts'

/** An uploaded file, spooled to disk and hashed while it streamed in. */
export interface SpooledFile {
  readonly name: string
  readonly path: string
  readonly byteLength: number
  readonly hash: string
}

export async function putSpooledFile(tx: Tx, spooled: SpooledFile): Promise<string> {
  await putBlobPieces(
    tx,
    spooled.hash,
    spooled.byteLength,
    createReadStream(spooled.path, { highWaterMark: 2 ** 20 }),
  )
  const [row] = await tx
    .insert(files)
    .values({ name: spooled.name, byteLength: spooled.byteLength, hash: spooled.hash })
    .returning({ id: files.id })
  return row!.id
}

export async function putFile(tx: Tx, file: PackageFile): Promise<string> {
  const hash = await putBlob(tx, file.bytes)
  const [row] = await tx
    .insert(files)
    .values({ name: file.name, byteLength: file.bytes.length, hash })
    .returning({ id: files.id })
  return row!.id
}

export async function getFileRow(db: Db, id: string): Promise<typeof files.$inferSelect | null> {
  const [row] = await db.select().from(files).where(eq(files.id, id))
  return row ?? null
}

/** Files with their bytes, in the order of the ids. */
export async function getFiles(db: Db, ids: readonly string[]): Promise<PackageFile[]> {
  const rows = await db
    .select()
    .from(files)
    .where(inArray(files.id, [...ids]))
  const loaded: PackageFile[] = []
  for (const id of ids) {
    const row = rows.find((candidate) => candidate.id === id)
    if (!row) throw new Error(`no file ${id}`)
    loaded.push({ name: row.name, bytes: await getBlob(db, row.hash) })
  }
  return loaded
}
