import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { asDestination, type ListedDestination } from '../../contract/destinations.ts'
import type { Destination } from '../../core/trips/destinations/destination.ts'
import { api } from '../api.ts'

/** Destinations that ship, and the artist's own. Those that ship are there before the first view is. */
export const useDestinations = defineStore('destinations', () => {
  const listed = shallowRef<readonly ListedDestination[]>([])
  const all = computed<readonly Destination[]>(() => listed.value.map(asDestination))
  const shipped = computed(() => listed.value.filter((entry) => entry.shipped).map(asDestination))
  const own = computed(() => listed.value.filter((entry) => !entry.shipped).map(asDestination))
  const find = (id: string): Destination | null => all.value.find((entry) => entry.id === id) ?? null
  /** When an own one was last changed, as far as the page knows. */
  const changedAt = (id: string): string => listed.value.find((entry) => entry.id === id)?.updatedAt ?? ''
  const isShipped = (id: string): boolean => shipped.value.some((entry) => entry.id === id)
  /** The one that is chosen where none is. */
  const first = (): Destination => {
    const [entry] = all.value
    if (!entry) throw new Error('The destinations are not loaded.')
    return entry
  }

  async function refresh(): Promise<void> {
    listed.value = (await api.destinations()).destinations
  }
  return { all, own, shipped, find, first, isShipped, changedAt, refresh }
})
