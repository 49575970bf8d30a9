/**
 * What SQL can't do of a migration: documents stored before nodes, meshes and materials had ids get them where pages
 * read them, and marks of parts go from their paths to their ids. Arrays are not touched; a scene's own document gets
 * its ids each time it is unpacked, the same ones as here.
 */
import { eq, sql } from 'drizzle-orm'
import type { SceneInspection } from '../../core/inspect/inspect-scene.ts'
import { completeIds } from '../../core/scene/ids.ts'
import { unpackPlain } from '../../core/scene/pack-scene.ts'
import type { Scene } from '../../core/scene/scene.ts'
import { nodePaths } from '../../core/scene/world.ts'
import type { Database, Tx } from './connection.ts'
import { assets, scenes, versions, withoutIds } from './schema.ts'

/** The scene without its arrays: names and hierarchy are all that ids are made from. */
const skeletonOf = (document: unknown): Scene => completeIds(unpackPlain<Scene>({ document, arrays: [] }))

const withIds = (inspection: SceneInspection, { nodes, meshes, materials }: Scene): SceneInspection => ({
  ...inspection,
  nodes: inspection.nodes.map((node, index) => ({ ...node, id: nodes[index]!.id })),
  meshes: inspection.meshes.map((mesh, index) => ({ ...mesh, id: meshes[index]!.id })),
  materials: inspection.materials.map((material, index) => ({ ...material, id: materials[index]!.id })),
})

/**
 * All in one transaction: marks are carried by the paths that scenes without ids still have, so that a process that ends
 * half-way must leave both as they were.
 *
 * @returns how many scenes and assets were carried over.
 */
export const carryOver = ({ db }: Database): Promise<{ scenes: number; assets: number }> =>
  db.transaction(carryAll)

async function carryAll(db: Tx): Promise<{ scenes: number; assets: number }> {
  const done = { scenes: 0, assets: 0 }
  const waiting = await db.select({ id: scenes.id }).from(scenes).where(withoutIds(scenes.inspection))
  for (const { id } of waiting) {
    const [row] = await db
      .select({ document: scenes.document, inspection: scenes.inspection })
      .from(scenes)
      .where(eq(scenes.id, id))
    if (!row) continue
    const inspection = withIds(row.inspection as SceneInspection, skeletonOf(row.document))
    await db.update(scenes).set({ inspection }).where(eq(scenes.id, id))
    done.scenes++
  }
  if (waiting.length === 0) return done
  const marked = await db
    .select({ id: assets.id, partMarks: assets.partMarks })
    .from(assets)
    .where(sql`${assets.partMarks} <> '{}'::jsonb`)
  for (const asset of marked) {
    // of all versions, so that a part that a later version has no more keeps its mark as well
    const documents = await db
      .select({ document: scenes.document })
      .from(versions)
      .innerJoin(scenes, eq(scenes.id, versions.sceneId))
      .where(eq(versions.assetId, asset.id))
    const byPath = asset.partMarks as Record<string, unknown>
    const marks: Record<string, unknown> = {}
    for (const { document } of documents) {
      const scene = skeletonOf(document)
      const paths = nodePaths(scene)
      scene.nodes.forEach((node, index) => {
        if (Object.hasOwn(byPath, paths[index]!)) marks[node.id] = byPath[paths[index]!]
      })
    }
    await db.update(assets).set({ partMarks: marks }).where(eq(assets.id, asset.id))
    done.assets++
  }
  return done
}
