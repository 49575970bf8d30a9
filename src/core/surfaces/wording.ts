/**
 * What the parameters of a material are called in one file format and another, as far as they mean the same
 * in both: colours and factors of the old shading models.
 */
import type { Material, MaterialMap, MaterialProperty, Slot } from '../scene/material.ts'

/** Slot, MTL's word, FBX's word. The values are the same numbers in both. */
const WORDS: readonly (readonly [slot: Slot, mtl: string, fbx: string])[] = [
  ['baseColor', 'Kd', 'DiffuseColor'],
  ['ambient', 'Ka', 'AmbientColor'],
  ['specular', 'Ks', 'SpecularColor'],
  ['emissive', 'Ke', 'EmissiveColor'],
  ['shininess', 'Ns', 'ShininessExponent'],
  ['opacity', 'd', 'Opacity'],
]
const MAP_WORDS: readonly (readonly [slot: Slot, mtl: string, fbx: string])[] = [
  ['baseColor', 'map_Kd', 'DiffuseColor'],
  ['ambient', 'map_Ka', 'AmbientColor'],
  ['specular', 'map_Ks', 'SpecularColor'],
  ['emissive', 'map_Ke', 'EmissiveColor'],
  ['shininess', 'map_Ns', 'ShininessExponent'],
  ['opacity', 'map_d', 'TransparentColor'],
  ['bump', 'map_bump', 'Bump'],
  ['normal', 'norm', 'NormalMap'],
  ['displacement', 'disp', 'DisplacementColor'],
  ['reflection', 'refl', 'ReflectionColor'],
  ['roughness', 'map_Pr', 'Roughness'],
  ['metalness', 'map_Pm', 'Metalness'],
]

const lastPart = (name: string): string => (name.split('|').pop() ?? name).toLowerCase()
const bySlot = (words: typeof WORDS, slot: Slot) => words.find(([known]) => known === slot)

/** FBX's word for an MTL statement; the statement itself where FBX has none. */
export const fbxWord = (mtl: string): string =>
  WORDS.find(([, word]) => word.toLowerCase() === mtl.toLowerCase())?.[2] ?? mtl
export const fbxMapWord = (map: MaterialMap): string => bySlot(MAP_WORDS, map.slot)?.[2] ?? map.property

/** Which parameter a property of either wording is; null for one that only its own model has. */
export function slotOfProperty(name: string): Slot | null {
  const word = lastPart(name)
  // two words for one thing in FBX: the older is without its ending
  const known = word === 'shininess' ? 'shininessexponent' : word
  return WORDS.find(([, mtl, fbx]) => mtl.toLowerCase() === known || fbx.toLowerCase() === known)?.[0] ?? null
}

/** A material in MTL's words, with what it has no words for. */
export function inMtlWords(material: Material): { material: Material; lost: string[] } {
  if (material.model === 'mtl') return { material, lost: [] }
  const properties = new Map<string, MaterialProperty>()
  const lost: string[] = []
  for (const property of material.properties) {
    const slot = slotOfProperty(property.name)
    const word = slot && bySlot(WORDS, slot)?.[1]
    const fits = property.values.length === (slot === 'shininess' || slot === 'opacity' ? 1 : 3)
    if (!word || !fits) lost.push(property.name)
    else if (!properties.has(word)) properties.set(word, { name: word, values: property.values, text: null })
  }
  const maps: MaterialMap[] = []
  for (const map of material.maps) {
    const word = bySlot(MAP_WORDS, map.slot)?.[1]
    if (!word || maps.some((known) => known.property === word)) {
      lost.push(map.property)
      continue
    }
    const { placement } = map
    const options: string[][] = []
    if (placement?.scale.some((value) => value !== 1))
      options.push(['-s', ...placement.scale.map(String), '1'])
    if (placement?.offset.some(Boolean)) options.push(['-o', ...placement.offset.map(String), '0'])
    if (placement?.wrapU === 'clamp' && placement.wrapV === 'clamp') options.push(['-clamp', 'on'])
    maps.push({ property: word, slot: map.slot, file: map.file, options })
  }
  return {
    material: { name: material.name, model: 'mtl', properties: [...properties.values()], maps, kept: [] },
    lost,
  }
}

/** What two wordings share of a material, as text; and how many of its parameters and maps that leaves out. */
export function sharedSurface(material: Material): { text: string; own: number } {
  const entries: [string, unknown][] = []
  let own = material.kept.length
  for (const property of material.properties) {
    const slot = slotOfProperty(property.name)
    if (slot) entries.push([slot, property.values])
    else own++
  }
  for (const map of material.maps)
    if (bySlot(MAP_WORDS, map.slot)) entries.push([`map ${map.slot}`, map.file])
    else own++
  entries.sort(([a], [b]) => (a < b ? -1 : 1))
  return { text: JSON.stringify(entries), own }
}
