import { standInOf } from '../../../core/practice/standins/registry.ts'
import { getFiles, prepareFile, putFile } from '../../content/file-store.ts'
import { getTrip } from '../../trips/trip-store.ts'
import type { JobInputs } from '../inputs.ts'
import { createJob, finishJob } from '../job-store.ts'
import { missing, zipLimits, type Handler } from './handler.ts'
import { returnOptions } from './receive.ts'

/** A stand-in works on what a trip sent; what it makes is taken back by a job of its own. */
export const practise: Handler<JobInputs['practise']> = async (context, input) => {
  const { db, job, progress, signal } = context
  const trip = await getTrip(db, input.tripId)
  if (!trip) throw missing('the trip')
  const { files: made, log } = await context.runTask(
    'practise',
    {
      standIn: input.standIn,
      files: await getFiles(db, [trip.sentFileId]),
      options: input.options,
      readOptions: returnOptions(trip),
      limits: zipLimits(),
    },
    progress,
    signal,
  )
  const standIn = standInOf(input.standIn)!
  const prepared = await Promise.all(
    made.map((file, at) =>
      prepareFile(
        db,
        at === 0 ? { ...file, name: file.name.replace(/(\.\w+)$/, `${standIn.suffix}$1`) } : file,
      ),
    ),
  )
  await db.transaction(async (tx) => {
    const fileIds: string[] = []
    for (const file of prepared) fileIds.push(await putFile(tx, file))
    const nextJob = await createJob(tx, {
      kind: 'receive',
      title: `Take back from ${standIn.name.toLowerCase()}`,
      assetId: trip.assetId,
      tripId: trip.id,
      askedBy: job.askedBy,
      input: {
        tripId: trip.id,
        fileIds,
        options: {},
        log: [...log],
        from: input.from ?? null,
      } satisfies JobInputs['receive'],
    })
    await finishJob(tx, job, { fileId: fileIds[0]!, tripId: trip.id, nextJob, log })
  })
}
