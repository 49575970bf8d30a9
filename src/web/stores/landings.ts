import { defineStore } from 'pinia'
import { ref, watch } from 'vue'
import type { LandingDocument, OpenTripDocument } from '../../contract/api.ts'
import { api } from '../api.ts'
import { useJobs } from './jobs.ts'

/** What landed in the hand-off folder and waits for somebody to say whose it is. */
export const useLandings = defineStore('landings', () => {
  const jobs = useJobs()
  /** Where the folder lies on the server's disk; null: there is none. */
  const root = ref<string | null>(null)
  const landings = ref<LandingDocument[]>([])
  /** Trips that it may be of. */
  const trips = ref<OpenTripDocument[]>([])

  async function refresh(): Promise<void> {
    const found = await api.landings()
    root.value = found.root
    landings.value = found.landings
    trips.value = found.trips
  }
  // what is looked at, or taken back, may ask something when that is over
  watch(
    () => jobs.jobs.filter(({ kind, finishedAt }) => kind === 'land' && finishedAt).length,
    () => void refresh().catch(() => undefined),
  )
  return { root, landings, trips, refresh }
})
