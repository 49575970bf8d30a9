import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

/** Images that were dropped anywhere on an asset's page, until the view of its surfaces takes them. */
export const useDroppedMaps = defineStore('dropped-maps', () => {
  const waiting = shallowRef<File[]>([])
  const offer = (files: File[]): void => {
    waiting.value = files
  }
  const takeAll = (): File[] => {
    const files = waiting.value
    waiting.value = []
    return files
  }
  return { waiting, offer, takeAll }
})

const IMAGE = /\.(png|jpe?g|tga|tiff?|exr|hdr|bmp|webp)$/i
/** Whether files are maps and nothing else; a ZIP may hold anything. */
export const areMaps = (files: readonly File[]): boolean =>
  files.some(({ name }) => IMAGE.test(name)) &&
  files.every(({ name }) => IMAGE.test(name) || /\.zip$/i.test(name))
