/**
 * Materials of other models in the words of one model that a format has, with the material as it was beside them: a file
 * that still says both as they were written gives the very material back.
 */
import { equalData } from '../../base/math/equal-data.ts'
import type { Material, MaterialMap, MaterialProperty } from '../../scene/material.ts'
import { EMPTY_SCENE } from '../../scene/scene.ts'
import type { SurfaceModel } from '../../surfaces/model.ts'
import { applyRemap } from '../../surfaces/remap/apply-remap.ts'
import type { MapChannel } from '../../surfaces/remap/map-use.ts'
import { packedRows } from '../../surfaces/remap/packed-rows.ts'
import { remapMaterial } from '../../surfaces/remap/remap-material.ts'
import type { RemappedParameter } from '../../surfaces/remap/remapped-material.ts'
import { anyNumbersOf, listOf, objectOf, textOf, type Json } from './json.ts'

export interface Worded {
  readonly material: Material
  /** Maps that would have to be made anew to say the same. */
  readonly leftMaps: readonly MaterialMap[]
  /** What of its map a parameter takes, by the model's word for the map; absent: all of it. */
  readonly channels: ReadonlyMap<string, MapChannel>
}

/** A material in a model’s words: its values converted, and those of its maps that the model reads as they lie. */
export function inWordsOf(model: SurfaceModel, material: Material): Worded {
  const remapped = remapMaterial(material, model, [], [])
  const packs = packedRows(remapped)
  const lies = (row: RemappedParameter): boolean => {
    const { map } = row
    const pack = packs.get(row.parameter)
    return (
      map !== null &&
      map.slot === row.slot &&
      !map.inverted &&
      !map.mix &&
      !row.layers &&
      (pack === undefined || pack === 'as it lies') &&
      material.maps.some(({ file }) => file === map.file)
    )
  }
  const rows = remapped.parameters.map((row): RemappedParameter => {
    if (!row.map || lies(row)) return row
    const { withoutMap, ...rest } = row
    return { ...rest, value: withoutMap ?? row.value, map: null }
  })
  const scene = applyRemap({ ...EMPTY_SCENE, materials: [material] }, [{ ...remapped, parameters: rows }], [])
  const worded = scene.materials[0]!
  const standards = new Map(model.parameters.map(({ name, standard }) => [name, standard]))
  const isSeen = ({ name }: MaterialProperty): boolean =>
    Object.entries(model.shownBy ?? {}).every(([prefix, weight]) => {
      const shown = worded.properties.find((property) => property.name === weight)
      return !name.startsWith(prefix) || name === weight || shown?.values.some((value) => value !== 0)
    })
  const said = worded.properties.filter(({ name, values, text }) => {
    // a thickness of a film that isn't there
    if (!isSeen({ name, values, text })) return false
    const standard = standards.get(name)
    if (standard === undefined || standard === null) return true
    if (typeof standard === 'string') return text !== standard
    return !equalData([...values], [standard].flat().map(Number))
  })
  const used = new Set(worded.maps.map(({ file }) => file))
  return {
    material: { ...worded, name: material.name, properties: said },
    leftMaps: material.maps.filter(({ file }) => !used.has(file)),
    channels: new Map(
      rows.flatMap(({ map, parameter }) => {
        const word = model.parameters.find((own) => (own.name ?? own.mapName) === parameter)?.mapName
        return map && word ? [[word, map.channel] as const] : []
      }),
    ),
  }
}

/**
 * What is written beside a material in the format’s words: itself, as far as its words go.
 * @param left files of maps that were left out: they would have to be made anew, or are images that the format doesn’t take.
 */
export const originalOf = ({ model, properties, maps, kept }: Material, left: readonly string[]): Json => ({
  ...(left.length ? { left } : {}),
  model,
  properties,
  maps,
  ...(kept.length ? { kept } : {}),
})

/** The material that a note tells of, as it stands there, under the name of the one given; null where it is none. */
export function originalIn(note: unknown, material: Material): Material | null {
  const original = objectOf(note)
  if (!original || !textOf(original.model)) return null
  const properties = listOf(original.properties).map(objectOf)
  const maps = listOf(original.maps).map(objectOf)
  const isSound =
    properties.every(
      (property) =>
        property &&
        textOf(property.name) &&
        anyNumbersOf(property.values) &&
        (property.text === null || typeof property.text === 'string'),
    ) &&
    maps.every(
      (map) =>
        map &&
        typeof map.property === 'string' &&
        typeof map.slot === 'string' &&
        textOf(map.file) &&
        listOf(map.options).every((option) => listOf(option).every((word) => typeof word === 'string')),
    )
  if (!isSound) return null
  return {
    ...material,
    model: textOf(original.model),
    properties: properties as unknown as Material['properties'],
    maps: maps as unknown as Material['maps'],
    kept: listOf(original.kept).filter((line): line is string => typeof line === 'string'),
  }
}

/** What two wordings have to share to be of the same material; a tool may keep numbers in 32 bits. */
const compared = (properties: Material['properties'], maps: Material['maps']): unknown => [
  properties
    .filter(({ name }) => name !== 'extras')
    .map(({ name, values, text }) => JSON.stringify([name, values.map(Math.fround), text]))
    .sort(),
  // an image is named once, however many parameters it is read for
  [...new Set(maps.map(({ property, file }) => `${property} ${file}`))].sort(),
]

/**
 * The material that a note tells of, where what stands beside it is still what was made of it; else the one given.
 * @param word the note's material as the format words it.
 * @param said the values of a worded material as a file that says them gives them back.
 */
export function asItWas(
  note: unknown,
  material: Material,
  word: (material: Material) => Worded,
  said: (material: Material) => Material['properties'],
): Material {
  const original = note === undefined || note === null ? null : originalIn(note, material)
  if (!original) return material
  let worded: Material
  try {
    worded = word(original).material
  } catch {
    // a note that was written over by hand
    return material
  }
  const left = listOf(objectOf(note)?.left)
  const maps = worded.maps.filter(({ file }) => !left.includes(file))
  const isSame = equalData(compared(said(worded), maps), compared(material.properties, material.maps))
  // a map that was left out is not in the file, and so not in what the file says
  return isSame ? { ...original, maps: original.maps.filter(({ file }) => !left.includes(file)) } : material
}
