import { asDestination } from '../../../contract/destinations.ts'
import type { ReadOptions } from '../../../core/formats/descriptor.ts'
import { readBackOptions } from '../../../core/formats/registry.ts'
import { getFiles } from '../../content/file-store.ts'
import { getScene, prepareArrays, prepareScene, putArrays, putScene } from '../../content/scene-store.ts'
import { prepareLedger } from '../../trips/ledger-store.ts'
import { getTrip, holdReturn, setReturn, type TripRow } from '../../trips/trip-store.ts'
import type { JobInputs } from '../inputs.ts'
import { finishJob } from '../job-store.ts'
import { missing, zipLimits, type Handler } from './handler.ts'

/** What is assumed of files of a trip: how it was sent, and how its destination's files are understood. */
export function returnOptions(trip: TripRow): ReadOptions {
  const destination = asDestination(trip.destination)
  return {
    ...readBackOptions(trip.space, { ...destination.writeOptions, ...trip.options }),
    ...destination.readOptions,
  }
}

/** What came back from a trip is held against the version that left. */
export const receive: Handler<JobInputs['receive']> = async (context, input) => {
  const { db, job, progress, signal } = context
  const trip = await getTrip(db, input.tripId)
  if (!trip) throw missing('the trip')
  progress(0.01, 'Fetching the files')
  const files = await getFiles(db, input.fileIds)
  const { returned, ledger, matching } = await context.runTask(
    'receive',
    {
      master: await getScene(db, trip.sceneId),
      files,
      options: { ...returnOptions(trip), ...input.options },
      limits: zipLimits(),
      naming: trip.destination.naming,
      selection: trip.selection,
      undoWhole: input.undoWhole === true,
      pairs: input.pairs ?? [],
    },
    (share, stage) => progress(share * 0.9, stage),
    signal,
  )
  progress(0.91, 'Saving')
  const [scene, places, kept] = await Promise.all([
    prepareScene(db, returned),
    prepareLedger(db, ledger),
    prepareArrays(db, matching.arrays),
  ])
  await db.transaction(async (tx) => {
    // a job from before this was noted takes the place of whatever there is, as it did then
    if (input.from !== undefined) await holdReturn(tx, trip.id, input.from)
    const sceneId = await putScene(tx, scene)
    await setReturn(tx, trip.id, {
      fileIds: input.fileIds,
      options: input.options,
      log: input.log ?? [],
      sceneId,
      ledger: places.document,
      ledgerManifest: places.arrays && (await putArrays(tx, places.arrays)),
      matching: matching.document,
      matchingManifest: await putArrays(tx, kept),
      returnedBy: job.askedBy,
    })
    await finishJob(tx, job, { tripId: trip.id })
  })
}
