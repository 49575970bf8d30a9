import { eq, sql } from 'drizzle-orm'
import type { DescribedScene } from '../../app/describe.ts'
import type { SceneDocument } from '../../contract/api.ts'
import { encodeArrayHead, encodeHead } from '../../contract/scene-stream.ts'
import type { Box } from '../../core/base/math/box.ts'
import type { SceneInspection } from '../../core/inspect/inspect-scene.ts'
import {
  arrayFromBytes,
  arrayTypeOf,
  type PackedArray,
  type PackedScene,
} from '../../core/scene/pack-scene.ts'
import type { Db, Tx } from '../db/connection.ts'
import { scenes } from '../db/schema.ts'
import { getBlobs, packMissing, putContents, streamBlobs } from './blob-store.ts'
import { byteLengthOf, decodeManifest, encodeManifest, type ManifestArray } from './manifest.ts'
import { bytesOf, hashesOf, packContent, type PackedContent } from './pack-content.ts'
import { viewOrder } from './view-order.ts'

/** Arrays made ready for the store, with what names them. */
export interface PreparedArrays {
  readonly manifest: readonly ManifestArray[]
  readonly contents: readonly PackedContent[]
  /** For those that are swept between looking and storing. */
  readonly bytesOf: (hash: string) => Uint8Array
}

/** Hashes arrays and packs those that the store doesn't have; no connection is held meanwhile. */
export async function prepareArrays(db: Db, arrays: readonly PackedArray[]): Promise<PreparedArrays> {
  const byHash = new Map<string, Uint8Array>()
  const hashes = await hashesOf(arrays.map(bytesOf))
  const manifest = arrays.map((array, at): ManifestArray => {
    const hash = hashes[at]!
    byHash.set(hash, bytesOf(array))
    return { hash, type: arrayTypeOf(array), length: array.length }
  })
  const contents = await packMissing(
    db,
    [...byHash].map(([hash, bytes]) => ({ hash, bytes })),
  )
  return { manifest, contents, bytesOf: (hash) => byHash.get(hash)! }
}

/** Stores prepared arrays. @returns the manifest that names them. */
export async function putArrays(
  tx: Tx,
  { manifest, contents, bytesOf: own }: PreparedArrays,
): Promise<Buffer> {
  const missing = await putContents(
    tx,
    contents,
    manifest.map(({ hash }) => hash),
  )
  if (missing.length)
    await putContents(tx, await Promise.all(missing.map((hash) => packContent(hash, own(hash)))))
  return encodeManifest(manifest)
}

/** A scene with its arrays made ready for the store. */
export interface PreparedScene {
  readonly scene: DescribedScene
  readonly arrays: PreparedArrays
}

export const prepareScene = async (db: Db, scene: DescribedScene): Promise<PreparedScene> => ({
  scene,
  arrays: await prepareArrays(db, scene.packed.arrays),
})

/** What lists show of a scene. */
export function countScene({ nodes, meshes }: SceneInspection): {
  vertexCount: number
  polygonCount: number
  partCount: number
} {
  let vertexCount = 0
  let polygonCount = 0
  let partCount = 0
  for (const node of nodes) {
    if (node.mesh === null) continue
    const { vertices, faces } = meshes[node.mesh]!
    vertexCount += vertices
    polygonCount += faces['3'] + faces['4'] + faces.n
    partCount++
  }
  return { vertexCount, polygonCount, partCount }
}

/** Stores a prepared scene within a transaction; arrays that lie there already are shared. @returns its id. */
export async function putScene(tx: Tx, { scene, arrays }: PreparedScene): Promise<string> {
  const manifest = await putArrays(tx, arrays)
  const [row] = await tx
    .insert(scenes)
    .values({
      document: scene.packed.document,
      manifest,
      inspection: scene.inspection,
      fingerprints: scene.fingerprints,
      picture: scene.picture && Buffer.from(scene.picture),
      ...countScene(scene.inspection),
    })
    .returning({ id: scenes.id })
  return row!.id
}

/** What pages show of a scene before its arrays have come; null where there is none. */
export async function getSceneDocument(db: Db | Tx, id: string): Promise<SceneDocument | null> {
  const [row] = await db.select({ inspection: scenes.inspection }).from(scenes).where(eq(scenes.id, id))
  return row ? { id, inspection: row.inspection as SceneInspection } : null
}

/** The picture of a scene; null where it has none (nothing of it is seen), undefined where there is no such scene. */
export async function getPicture(db: Db, id: string): Promise<Buffer | null | undefined> {
  const [row] = await db.select({ picture: scenes.picture }).from(scenes).where(eq(scenes.id, id))
  return row?.picture
}

async function sceneRow(db: Db | Tx, id: string) {
  const [row] = await db
    .select({
      document: scenes.document,
      manifest: scenes.manifest,
      bounds: sql<Box | null>`${scenes.inspection} -> 'bounds'`,
    })
    .from(scenes)
    .where(eq(scenes.id, id))
  return row ?? null
}

/** A scene with its arrays, as it was stored. */
export async function getScene(db: Db | Tx, id: string): Promise<PackedScene> {
  const row = await sceneRow(db, id)
  if (!row) throw new Error(`no scene ${id}`)
  return getPacked(db, row.document, row.manifest)
}

/** Packed data whose arrays stand in a manifest. */
export async function getPacked(db: Db | Tx, document: unknown, manifest: Buffer): Promise<PackedScene> {
  const arrays = decodeManifest(manifest)
  const loaded = await getBlobs(
    db,
    arrays.map(({ hash }) => hash),
  )
  return { document, arrays: arrays.map(({ hash, type }) => arrayFromBytes(type, loaded.get(hash)!)) }
}

/** A scene as one stream, in the order in which its parts are looked at; null where there is none. */
export async function streamScene(db: Db, id: string): Promise<AsyncGenerator<Uint8Array> | null> {
  const row = await sceneRow(db, id)
  if (!row) return null
  const manifest = decodeManifest(row.manifest)
  return stream()

  async function* stream(): AsyncGenerator<Uint8Array> {
    yield encodeHead({
      document: row!.document,
      bounds: row!.bounds,
      arrays: manifest.map(({ type, length }) => ({ type, length })),
    })
    const order = viewOrder(row!.document, manifest.length)
    const placesOf = new Map<string, number[]>()
    for (const place of order) {
      const { hash } = manifest[place]!
      const held = placesOf.get(hash)
      if (held) held.push(place)
      else placesOf.set(hash, [place])
    }
    const wanted = order.map((place) => ({
      hash: manifest[place]!.hash,
      byteLength: byteLengthOf(manifest[place]!),
    }))
    for await (const batch of streamBlobs(db, wanted)) {
      const pieces: Uint8Array[] = []
      for (const { hash, bytes } of batch)
        // a content that several arrays share is sent for each: they may be laid out on their own
        for (const place of placesOf.get(hash)!) pieces.push(encodeArrayHead(place, bytes.length), bytes)
      yield Buffer.concat(pieces)
    }
  }
}
