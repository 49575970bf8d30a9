import { api } from '../../api.ts'
import type { TripDocument } from '../../../contract/api.ts'
import { useAssets } from '../../stores/assets.ts'
import { useNotices } from '../../stores/notices.ts'

/** Ends a trip without a version, or has it waited for again; what the page shows follows. */
export function useClosing() {
  const assets = useAssets()
  const notices = useNotices()
  return async function setClosed(trip: TripDocument, closed: boolean): Promise<void> {
    try {
      await api.closeTrip(trip.id, closed, trip.returnedSceneId)
      notices.done(
        closed
          ? `Trip ${trip.number} is closed; it can be opened again.`
          : `Trip ${trip.number} is open again.`,
      )
    } catch (error) {
      notices.failed(error)
    }
    await Promise.all([assets.open(trip.assetId), assets.refresh()]).catch(notices.failed)
  }
}
