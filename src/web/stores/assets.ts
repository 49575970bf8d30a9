import { defineStore } from 'pinia'
import { ref } from 'vue'
import type { AssetDocument, AssetSummary } from '../../contract/api.ts'
import { api } from '../api.ts'

/** Assets as the list shows them, and in whole those that have been opened. */
export const useAssets = defineStore('assets', () => {
  const assets = ref<AssetSummary[]>([])
  const opened = ref<Record<string, AssetDocument>>({})
  const loaded = ref(false)

  async function refresh(): Promise<void> {
    assets.value = (await api.assets()).assets
    loaded.value = true
  }

  /** An asset with all its versions and trips. */
  async function open(id: string): Promise<AssetDocument> {
    const asset = await api.asset(id)
    opened.value = { ...opened.value, [id]: asset }
    return asset
  }

  /** Something came back from a trip, brought by whomever; an open asset that doesn't show it yet is fetched anew. */
  async function cameBack(assetId: string, tripId: string): Promise<void> {
    await refresh()
    if (find(assetId)?.trips.some(({ id, state }) => id === tripId && state === 'out')) await open(assetId)
  }

  const find = (id: string): AssetDocument | null => opened.value[id] ?? null
  return { assets, loaded, refresh, open, find, cameBack }
})
