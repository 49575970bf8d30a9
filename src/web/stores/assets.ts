import { defineStore } from 'pinia'
import { ref } from 'vue'
import type { AssetDocument } from '../../contract/api.ts'
import { api } from '../api.ts'

export const useAssets = defineStore('assets', () => {
  const assets = ref<AssetDocument[]>([])
  const loaded = ref(false)

  async function refresh(): Promise<void> {
    assets.value = (await api.assets()).assets
    loaded.value = true
  }

  async function refreshOne(id: string): Promise<AssetDocument> {
    const asset = await api.asset(id)
    const place = assets.value.findIndex((known) => known.id === id)
    if (place < 0) assets.value.unshift(asset)
    else assets.value[place] = asset
    return asset
  }

  const find = (id: string): AssetDocument | null => assets.value.find((asset) => asset.id === id) ?? null
  return { assets, loaded, refresh, refreshOne, find }
})
