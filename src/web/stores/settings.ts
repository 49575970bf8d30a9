import { defineStore } from 'pinia'
import { ref, watchEffect } from 'vue'

const stored = (key: string): string | null => {
  try {
    return localStorage.getItem(`kelbo.${key}`)
  } catch {
    return null
  }
}

export const useSettings = defineStore('settings', () => {
  const dark = ref(stored('dark') === 'yes')
  watchEffect(() => {
    document.documentElement.classList.toggle('dark', dark.value)
    try {
      localStorage.setItem('kelbo.dark', dark.value ? 'yes' : 'no')
    } catch {
      // a browser that keeps nothing forgets the setting; nothing else depends on it
    }
  })
  return { dark }
})
