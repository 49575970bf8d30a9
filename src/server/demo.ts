/** Loads the demo: four assets, one with a trip on its way and one whose trip has come back. */
import { QUIET } from '../app/host.ts'
import { TASKS } from '../app/tasks.ts'
import { sendVersion, type SendRequest } from '../app/send-version.ts'
import { readBackOptions } from '../core/formats/registry.ts'
import { ZIP_LIMITS_DEFAULTS } from '../core/formats/package/read-zip.ts'
import { writeZip } from '../core/formats/package/write-zip.ts'
import { packScene, unpackScene } from '../core/scene/pack-scene.ts'
import { packageFolder, packageName } from '../core/trips/deliver.ts'
import { DESTINATIONS } from '../core/trips/destinations/registry.ts'
import { addVersion, createAsset, hasAssets } from './assets/asset-store.ts'
import { prepareFile, putFile } from './content/file-store.ts'
import { prepareArrays, prepareScene, putArrays, putScene } from './content/scene-store.ts'
import type { Database, Tx } from './db/connection.ts'
import { prepareLedger } from './trips/ledger-store.ts'
import { addTrip, setReturn } from './trips/trip-store.ts'

/** @returns false where there are assets already. */
export async function loadDemo({ db }: Database): Promise<boolean> {
  if (await hasAssets(db)) return false
  const sculpting = DESTINATIONS.find((destination) => destination.id === 'sculpting')!
  await db.transaction(async (tx) => {
    // the bollard has been nowhere yet: it is to be made ready first
    await addVersion(tx, {
      assetId: await createAsset(tx, 'Mooring bollard'),
      sceneId: await putScene(tx, await prepareScene(db, TASKS.demo({ name: 'bollard' }, QUIET))),
      note: 'Found on an old disk',
      madeBy: null,
      basedOn: null,
    })
    // the kite's maps lie in four UV sets: they are to become one
    await addVersion(tx, {
      assetId: await createAsset(tx, 'Signal kite'),
      sceneId: await putScene(tx, await prepareScene(db, TASKS.demo({ name: 'kite' }, QUIET))),
      note: 'Sewn from four panels',
      madeBy: null,
      basedOn: null,
    })
    await sendOut(tx, 'lantern', 'Storm lantern', false)
    await sendOut(tx, 'heron', 'Courier heron', true)
  })
  return true

  async function sendOut(tx: Tx, name: 'lantern' | 'heron', title: string, back: boolean): Promise<void> {
    const described = TASKS.demo({ name }, QUIET)
    const scene = unpackScene(described.packed)
    const assetId = await createAsset(tx, title)
    const version = await addVersion(tx, {
      assetId,
      sceneId: await putScene(tx, await prepareScene(db, described)),
      note: 'Modelled for the harbour post office',
      madeBy: null,
      basedOn: null,
    })
    const request: SendRequest = {
      assetName: title,
      versionNumber: 1,
      destination: sculpting,
      options: {},
      selection: null,
      withRecipe: true,
    }
    const delivery = await sendVersion(scene, request)
    const ledger = await prepareLedger(db, delivery.forecast)
    const folder = packageFolder(title, sculpting, 1)
    const sent = {
      name: packageName(folder),
      bytes: writeZip(delivery.files.map((file) => ({ ...file, name: `${folder}/${file.name}` }))),
    }
    const trip = await addTrip(
      tx,
      {
        assetId,
        destination: sculpting,
        versionId: version.id,
        options: {},
        selection: null,
        space: delivery.space,
        sentSceneId: null,
        contents: delivery.contents,
        forecast: ledger.document,
        sentBy: null,
        forecastManifest: ledger.arrays && (await putArrays(tx, ledger.arrays)),
      },
      async () => putFile(tx, await prepareFile(db, sent)),
    )
    if (!back) return
    const readOptions = readBackOptions(delivery.space, sculpting.writeOptions)
    const { files } = TASKS.practise(
      {
        standIn: 'sculptor',
        files: [sent],
        options: { strength: 0.012 },
        readOptions,
        limits: ZIP_LIMITS_DEFAULTS,
      },
      QUIET,
    )
    const came = TASKS.receive({ master: packScene(scene), files, options: readOptions }, QUIET)
    const places = await prepareLedger(db, came.ledger)
    const [model] = files
    await setReturn(tx, trip.id, {
      options: {},
      fileIds: [
        await putFile(
          tx,
          await prepareFile(db, { ...model!, name: model!.name.replace(/(\.\w+)$/, '_sculpted$1') }),
        ),
      ],
      log: [],
      returnedBy: null,
      sceneId: await putScene(tx, await prepareScene(db, came.returned)),
      ledger: places.document,
      ledgerManifest: places.arrays && (await putArrays(tx, places.arrays)),
      matching: came.matching.document,
      matchingManifest: await putArrays(tx, await prepareArrays(db, came.matching.arrays)),
    })
  }
}
