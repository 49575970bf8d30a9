import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { asDestination, type ListedDestination } from '../../contract/destinations.ts'
import type { Destination } from '../../core/trips/destinations/destination.ts'
import { DESTINATIONS } from '../../core/trips/destinations/registry.ts'
import { api } from '../api.ts'

/** Destinations that ship, and the artist's own. Those that ship are there before the server has answered. */
export const useDestinations = defineStore('destinations', () => {
  const own = ref<ListedDestination[]>([])
  const all = computed<readonly Destination[]>(() => [...DESTINATIONS, ...own.value.map(asDestination)])
  const find = (id: string): Destination | null => all.value.find((entry) => entry.id === id) ?? null
  const isShipped = (id: string): boolean => DESTINATIONS.some((entry) => entry.id === id)

  async function refresh(): Promise<void> {
    own.value = (await api.destinations()).destinations.filter((entry) => !entry.shipped)
  }
  return { all, own, find, isShipped, refresh }
})
