/** Loads the demo: three assets, one with a trip on its way and one whose trip has come back. */
import { eq, sql } from 'drizzle-orm'
import { DESTINATIONS } from '../core/trips/destinations/registry.ts'
import { TASKS, type Progress } from '../app/tasks.ts'
import { readBackOptions } from '../core/formats/registry.ts'
import { ZIP_LIMITS_DEFAULTS } from '../core/formats/package/read-zip.ts'
import { packScene, unpackScene } from '../core/scene/pack-scene.ts'
import { addTrip, addVersion, createAsset, keepTripBlobs } from './db/asset-store.ts'
import type { Database } from './db/database.ts'
import { putFile } from './db/files.ts'
import { putScene } from './db/scene-store.ts'
import { assets, trips } from './db/schema.ts'
import { storeLedger } from './jobs/ledger-document.ts'

const quiet: Progress = () => {}

/** @returns false where there are assets already. */
export async function loadDemo(database: Database): Promise<boolean> {
  const [existing] = await database.db.select({ id: assets.id }).from(assets).limit(1)
  if (existing) return false
  const sculpting = DESTINATIONS[0]!
  await database.db.transaction(async (tx) => {
    // the bollard has been nowhere yet: it is to be made ready first
    const bollard = TASKS.demo({ name: 'bollard' }, quiet)
    await addVersion(tx, {
      assetId: await createAsset(tx, 'Mooring bollard'),
      sceneId: await putScene(tx, bollard),
      note: 'Found on an old disk',
    })
    for (const [name, title, back] of [
      ['lantern', 'Storm lantern', false],
      ['heron', 'Courier heron', true],
    ] as const) {
      const scene = TASKS.demo({ name }, quiet)
      const assetId = await createAsset(tx, title)
      const version = await addVersion(tx, {
        assetId,
        sceneId: await putScene(tx, scene),
        note: 'Modelled for the harbour post office',
      })
      const sent = TASKS.send(
        {
          scene: scene.packed,
          assetName: title,
          versionNumber: 1,
          tripNumber: 1,
          destination: sculpting,
          options: {},
          withRecipe: true,
        },
        quiet,
      )
      const forecast = await storeLedger(tx, sent.forecast)
      const sentFileId = await putFile(tx, sent.file)
      const trip = await addTrip(
        tx,
        {
          assetId,
          destination: sculpting.id,
          destinationDocument: sculpting,
          versionId: version.id,
          options: {},
          space: sent.space,
          sentFileId,
          contents: sent.contents,
          forecast: forecast.document,
        },
        forecast.hashes,
      )
      if (!back) continue
      const readOptions = readBackOptions(sent.space, sculpting.writeOptions)
      const { files } = TASKS.practise(
        {
          standIn: 'sculptor',
          files: [sent.file],
          options: { strength: 0.012 },
          readOptions,
          limits: ZIP_LIMITS_DEFAULTS,
        },
        quiet,
      )
      const { returned, ledger } = TASKS.receive(
        {
          master: packScene(unpackScene(scene.packed)),
          files,
          options: readOptions,
          limits: ZIP_LIMITS_DEFAULTS,
        },
        quiet,
      )
      const stored = await storeLedger(tx, ledger)
      await keepTripBlobs(tx, trip.id, stored.hashes)
      await tx
        .update(trips)
        .set({
          state: 'back',
          returnedFileId: await putFile(tx, {
            ...files[0]!,
            name: files[0]!.name.replace('.obj', '_sculpted.obj'),
          }),
          returnedSceneId: await putScene(tx, returned),
          ledger: stored.document,
          returnedAt: sql`now()`,
        })
        .where(eq(trips.id, trip.id))
    }
  })
  return true
}
