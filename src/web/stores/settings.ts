import { defineStore } from 'pinia'
import { ref, watchEffect } from 'vue'
import { remember, remembered } from '../kit/memory.ts'

export const useSettings = defineStore('settings', () => {
  const dark = ref(remembered('dark', (value) => typeof value === 'boolean') ?? false)
  watchEffect(() => {
    document.documentElement.classList.toggle('dark', dark.value)
    remember('dark', dark.value)
  })
  return { dark }
})
