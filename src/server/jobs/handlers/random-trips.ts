import { getScene } from '../../content/scene-store.ts'
import { getTrip } from '../../trips/trip-store.ts'
import type { JobInputs } from '../inputs.ts'
import { finishJob } from '../job-store.ts'
import { missing, type Handler } from './handler.ts'

/** Random trips of what a trip sent, to see how many of its points are found again; nothing of them is kept. */
export const randomTrips: Handler<JobInputs['random-trips']> = async (
  { db, job, progress, signal, runTask },
  input,
) => {
  const trip = await getTrip(db, input.tripId)
  if (!trip) throw missing('the trip')
  const trips = await runTask(
    'randomTrips',
    { scene: await getScene(db, trip.sceneId), count: input.count, seed: input.seed },
    progress,
    signal,
  )
  await db.transaction((tx) => finishJob(tx, job, { trips }))
}
