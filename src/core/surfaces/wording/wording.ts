/**
 * Materials in the words of one surface model and another, as far as they mean the same in both: the values are the
 * same numbers. What a model calls its parameters stands in its own file; nothing here names a model.
 */
import type { Material, MaterialMap, MaterialProperty, Slot } from '../../scene/material.ts'
import type { SurfaceModel, SurfaceParameter } from '../model.ts'
import { FILE_MODELS } from '../registry.ts'

/** A name without what a program puts before it: `Studio|Parameters|ShininessExponent`. */
const lastPart = (name: string): string => (name.split('|').pop() ?? name).toLowerCase()

const parameterOf = (model: SurfaceModel, slot: Slot): SurfaceParameter | null =>
  model.parameters.find((parameter) => parameter.slot === slot) ?? null

const isCalled = (parameter: SurfaceParameter, word: string): boolean =>
  [parameter.name, ...(parameter.synonyms ?? [])].some((name) => name?.toLowerCase() === word)

/** Which parameter a property of any model is, by the last part of its name; null for one that no model knows. */
export function slotOfProperty(name: string): Slot | null {
  const word = lastPart(name)
  for (const model of FILE_MODELS)
    for (const parameter of model.parameters) if (isCalled(parameter, word)) return parameter.slot
  return null
}

/** A model's word for a property of any model; the property's own where the model has none. */
export function wordIn(model: SurfaceModel, name: string): string {
  const slot = slotOfProperty(name)
  return (slot && parameterOf(model, slot)?.name) ?? name
}

/** A model's word for a map; the map's own where the model has none. */
export const mapWordIn = (model: SurfaceModel, map: MaterialMap): string =>
  parameterOf(model, map.slot)?.mapName ?? map.property

/** A material in a model's words alone, with what it has no words for. */
export function inWordsOf(model: SurfaceModel, material: Material): { material: Material; lost: string[] } {
  if (material.model === model.materialModel) return { material, lost: [] }
  const properties = new Map<string, MaterialProperty>()
  const lost: string[] = []
  for (const property of material.properties) {
    const own = model.ownWords?.find((word) => word.toLowerCase() === lastPart(property.name))
    if (own) {
      properties.set(own, { name: own, values: property.values, text: property.text })
      continue
    }
    const slot = slotOfProperty(property.name)
    const parameter = slot && parameterOf(model, slot)
    if (!parameter?.name || property.values.length !== parameter.width) lost.push(property.name)
    else if (!properties.has(parameter.name))
      properties.set(parameter.name, { name: parameter.name, values: property.values, text: null })
  }
  const maps: MaterialMap[] = []
  for (const map of material.maps) {
    const word = parameterOf(model, map.slot)?.mapName
    if (!word || maps.some((known) => known.property === word)) lost.push(map.property)
    else maps.push({ ...map, property: word, options: [] })
  }
  return {
    material: {
      id: material.id,
      name: material.name,
      model: model.materialModel,
      properties: [...properties.values()],
      maps,
      kept: [],
    },
    lost,
  }
}

const takesMaps = (slot: Slot): boolean => FILE_MODELS.some((model) => parameterOf(model, slot)?.mapName)

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
    if (takesMaps(map.slot)) entries.push([`map ${map.slot}`, map.file])
    else own++
  entries.sort(([a], [b]) => (a < b ? -1 : 1))
  return { text: JSON.stringify(entries), own }
}
