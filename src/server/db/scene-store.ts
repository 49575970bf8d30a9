import { eq } from 'drizzle-orm'
import { arrayFromBytes, arrayTypeOf, type ArrayType, type PackedScene } from '../../core/scene/pack-scene.ts'
import type { SceneInspection } from '../../core/inspect/inspect-scene.ts'
import type { DescribedScene } from '../../app/tasks.ts'
import type { SceneDocument } from '../../contract/api.ts'
import { getBlobs, putBlob } from './blob-store.ts'
import type { Db, Tx } from './database.ts'
import { sceneBlobs, scenes } from './schema.ts'

interface StoredArray {
  hash: string
  type: ArrayType
  length: number
}

/** Stores a scene within a transaction; arrays that lie there already are shared. @returns its id. */
export async function putScene(tx: Tx, scene: DescribedScene): Promise<string> {
  const arrays: StoredArray[] = []
  for (const array of scene.packed.arrays) {
    const hash = await putBlob(tx, new Uint8Array(array.buffer, array.byteOffset, array.byteLength))
    arrays.push({ hash, type: arrayTypeOf(array), length: array.length })
  }
  const [row] = await tx
    .insert(scenes)
    .values({
      document: scene.packed.document,
      arrays,
      inspection: scene.inspection,
      fingerprints: scene.fingerprints,
    })
    .returning({ id: scenes.id })
  const hashes = [...new Set(arrays.map((array) => array.hash))]
  for (let at = 0; at < hashes.length; at += 1000)
    await tx
      .insert(sceneBlobs)
      .values(hashes.slice(at, at + 1000).map((hash) => ({ sceneId: row!.id, hash })))
  return row!.id
}

/** A scene's document with the hashes of its arrays; null where there is none. */
export async function getSceneDocument(db: Db | Tx, id: string): Promise<SceneDocument | null> {
  const [row] = await db.select().from(scenes).where(eq(scenes.id, id))
  if (!row) return null
  return {
    id: row.id,
    document: row.document,
    arrays: row.arrays as StoredArray[],
    inspection: row.inspection as SceneInspection,
  }
}

/** A whole scene with its arrays. */
export async function getScene(db: Db | Tx, id: string): Promise<PackedScene> {
  const stored = await getSceneDocument(db, id)
  if (!stored) throw new Error(`no scene ${id}`)
  const loaded = await getBlobs(
    db,
    stored.arrays.map(({ hash }) => hash),
  )
  return {
    document: stored.document,
    arrays: stored.arrays.map(({ hash, type }) => arrayFromBytes(type, loaded.get(hash)!)),
  }
}
