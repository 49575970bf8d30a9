/** Files as they came in or went out. */
import { readFile } from 'node:fs/promises'
import { eq, inArray } from 'drizzle-orm'
import type { PackageFile } from '../../core/formats/package/package-file.ts'
import type { Db, Tx } from '../db/connection.ts'
import { files } from '../db/schema.ts'
import { getBlob, packMissing, putContents } from './blob-store.ts'
import { createSpool } from './spool.ts'
import { hashesOf, packContent, type PackedContent } from './pack-content.ts'

/** An uploaded file, spooled to disk and packed while it streamed in. */
export interface SpooledFile {
  readonly name: string
  readonly path: string
  readonly content: PackedContent
}

/** A file made ready for the store before any connection is held. */
export interface PreparedFile {
  readonly name: string
  readonly byteLength: number
  readonly hash: string
  /** Null: the store had it already. */
  readonly content: PackedContent | null
  readonly packAgain: () => Promise<PackedContent>
}

export const prepareSpooledFile = ({ name, content }: SpooledFile): PreparedFile => ({
  name,
  byteLength: content.byteLength,
  hash: content.hash,
  content,
  packAgain: () => Promise.resolve(content),
})

export async function prepareFile(db: Db, { name, bytes }: PackageFile): Promise<PreparedFile> {
  const [hash] = (await hashesOf([bytes])) as [string]
  const [content] = await packMissing(db, [{ hash, bytes }])
  return {
    name,
    byteLength: bytes.length,
    hash,
    content: content ?? null,
    packAgain: () => packContent(hash, bytes),
  }
}

/** Stores a prepared file within a transaction. @returns its id. */
export async function putFile(tx: Tx, file: PreparedFile): Promise<string> {
  const missing = await putContents(tx, file.content ? [file.content] : [], [file.hash])
  if (missing.length) await putContents(tx, [await file.packAgain()])
  const [row] = await tx
    .insert(files)
    .values({ name: file.name, byteLength: file.byteLength, hash: file.hash })
    .returning({ id: files.id })
  return row!.id
}

export interface StoredFile {
  readonly id: string
  readonly name: string
  readonly byteLength: number
  readonly hash: string
}

export async function getFileRow(db: Db, id: string): Promise<StoredFile | null> {
  const [row] = await db.select().from(files).where(eq(files.id, id))
  return row ?? null
}

/** Files that have just been uploaded, for the worker on this machine that is going to read them. */
const uploads = createSpool('uploads')

/** Lets a worker on this machine have an uploaded file without asking the database for it. */
export const keepUpload = ({ content, path }: SpooledFile): Promise<void> => uploads.link(content.hash, path)

/**
 * The bytes of a file: those that were just uploaded, where they are still here. They were hashed as they came in, and
 * lie where nobody else writes under that hash.
 */
async function bytesOfFile(db: Db, { hash, byteLength }: StoredFile): Promise<Uint8Array> {
  const path = await uploads.find(hash)
  if (path) {
    const bytes = await readFile(path).catch(() => null)
    if (bytes?.length === byteLength) return bytes
  }
  return getBlob(db, hash)
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
    loaded.push({ name: row.name, bytes: await bytesOfFile(db, row) })
  }
  return loaded
}
