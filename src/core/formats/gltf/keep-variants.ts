/**
 * Looks that a file has beside the one that it shows (KHR_materials_variants): carried as they came, by the numbers that
 * meshes and materials had in the file. Source: Khronos, KHR_materials_variants.
 */
import type { KeptRecord } from '../../scene/kept.ts'
import { extensionOf, listOf, objectOf, partOf, textOf, wholeOf, type Json } from '../notes/json.ts'
import { record } from './keep-animations.ts'
import type { GltfReading } from './read-buffers.ts'

export const VARIANTS = 'KHR_materials_variants'

/** More looks than a person could have made. */
const MOST_LOOKS = 10000

/** A record `looks` with their names; a child `look` for what each shows where: mesh, material that it takes the place of, its own, and the looks. */
export function keepVariants({ document, messages }: GltfReading): KeptRecord | null {
  const names = listOf(partOf(partOf(document, 'extensions'), VARIANTS)?.variants).slice(0, MOST_LOOKS)
  const materials = listOf(document.materials).length
  const isMaterial = (number: number | null): number is number => number !== null && number < materials
  const children = listOf(document.meshes).flatMap((mesh, index) => {
    const stated = new Map<number, string>()
    return listOf(objectOf(mesh)?.primitives).flatMap((entry, at): KeptRecord[] => {
      const primitive: Json = objectOf(entry) ?? {}
      const mappings = listOf(extensionOf(primitive, VARIANTS)?.mappings)
      if (mappings.length === 0) return []
      const own = wholeOf(primitive.material)
      const place = `The looks of mesh ${index}, primitive ${at}`
      if (!isMaterial(own)) {
        messages.add('gltf.value', { place })
        return []
      }
      // primitives of one material are one piece of a model here
      const text = JSON.stringify(mappings)
      if (stated.has(own)) {
        if (stated.get(own) !== text) messages.add('gltf.looks-apart', { mesh: index, primitive: at })
        return []
      }
      stated.set(own, text)
      return mappings.flatMap((one): KeptRecord[] => {
        const mapping = objectOf(one)
        const material = wholeOf(mapping?.material)
        const looks = listOf(mapping?.variants).map(wholeOf)
        if (
          !isMaterial(material) ||
          looks.length === 0 ||
          looks.some((look) => look === null || look >= names.length)
        ) {
          messages.add('gltf.value', { place })
          return []
        }
        return [record('look', [String(index), String(own), String(material), ...(looks as number[])])]
      })
    })
  })
  if (names.length === 0) return null
  const words = names.map((entry, at) => textOf(objectOf(entry)?.name) || `look ${at + 1}`)
  messages.add('gltf.looks', { count: words.length, names: words.slice(0, 6).join(', ') })
  return record('looks', words, children)
}
