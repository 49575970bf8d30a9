import type { Tx } from '../db/connection.ts'
import type { JobInputs } from '../jobs/inputs.ts'
import { createJob } from '../jobs/job-store.ts'
import type { TripRow } from '../trips/trip-store.ts'
import { settleLanding, type LandingRow } from './landing-store.ts'

/** What landed is taken back as the return of a trip. @returns the job's id. */
export async function receiveLanding(
  tx: Tx,
  landing: Pick<LandingRow, 'id' | 'place'>,
  fileIds: readonly string[],
  trip: TripRow,
  askedBy: string | null,
): Promise<string> {
  const jobId = await createJob(tx, {
    kind: 'receive',
    title: `Take back ${landing.place.split('/').at(-1)!}`,
    assetId: trip.assetId,
    tripId: trip.id,
    askedBy,
    input: {
      tripId: trip.id,
      fileIds: [...fileIds],
      options: {},
      from: trip.returnedSceneId,
    } satisfies JobInputs['receive'],
  })
  await settleLanding(tx, landing.id, { state: 'taken', jobId, fileIds })
  return jobId
}
