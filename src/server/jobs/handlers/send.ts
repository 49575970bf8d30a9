import { writeZip } from '../../../core/formats/package/write-zip.ts'
import { packageFolder, packageName } from '../../../core/trips/deliver.ts'
import { prepareFile, putFile } from '../../content/file-store.ts'
import { prepareScene, putArrays, putScene } from '../../content/scene-store.ts'
import { prepareLedger } from '../../trips/ledger-store.ts'
import { addTrip, nextTripNumber } from '../../trips/trip-store.ts'
import type { JobInputs } from '../inputs.ts'
import { finishJob } from '../job-store.ts'
import { writeDelivery } from './delivery.ts'
import type { Handler } from './handler.ts'

/** The files that the forecast measured leave as a trip. */
export const send: Handler<JobInputs['send']> = async (context, input) => {
  const { db, job } = context
  const { version, assetName, delivery } = await writeDelivery(context, input)
  context.progress(0.95, 'Packing')
  const ledger = await prepareLedger(db, delivery.forecast)
  const zipOf = (tripNumber: number) => {
    const folder = packageFolder(assetName, input.destination, tripNumber)
    return prepareFile(db, {
      name: packageName(folder),
      bytes: writeZip(delivery.files.map((file) => ({ ...file, name: `${folder}/${file.name}` }))),
    })
  }
  // the folder inside carries the trip's number; it is made before the transaction, and again where another trip
  // of the asset was sent meanwhile
  const expected = await nextTripNumber(db, version.assetId)
  const zip = await zipOf(expected)
  context.progress(0.98, 'Saving')
  const sent = delivery.sent && (await prepareScene(db, delivery.sent))
  await db.transaction(async (tx) => {
    const forecastManifest = ledger.arrays && (await putArrays(tx, ledger.arrays))
    const trip = await addTrip(
      tx,
      {
        assetId: version.assetId,
        destination: input.destination,
        versionId: version.id,
        options: input.options,
        selection: input.selection ?? null,
        space: delivery.space,
        sentSceneId: sent && (await putScene(tx, sent)),
        contents: delivery.contents,
        forecast: ledger.document,
        forecastManifest,
        sentBy: job.askedBy,
      },
      async (tripNumber) => putFile(tx, tripNumber === expected ? zip : await zipOf(tripNumber)),
    )
    await finishJob(
      tx,
      job,
      {
        tripId: trip.id,
        fileId: trip.sentFileId,
        folder: packageFolder(assetName, input.destination, trip.number),
      },
      { tripId: trip.id },
    )
  })
}
