/** Values of a material in the places where a file has them. Source: glTF 2.0, section 3.9. */
import type { Material, MaterialProperty } from '../../scene/material.ts'
import { surfaceModelNamed } from '../../surfaces/registry.ts'
import { numbersOf, partOf, textOf, type Json } from '../notes/json.ts'
import { GLOSSY_EXTENSION, GLOSSY_VALUES, VALUES, type ValueWord } from './material-words.ts'

export type Writable = Record<string, unknown>

const GLOSSY_MODEL = surfaceModelNamed('gltf-specular-glossiness').materialModel

/** The object at a path of names. */
export const objectAt = (source: Json, at: string): Json | null =>
  at === '' ? source : at.split('.').reduce<Json | null>((held, name) => partOf(held, name), source)

/** The object at a path of names, made where it isn't there. */
export function objectFor(target: Writable, at: string): Writable {
  if (at === '') return target
  let held = target
  for (const name of at.split('.')) {
    held[name] ??= {}
    held = held[name] as Writable
  }
  return held
}

/** The numbers of a property by its name; null where the material has none. */
export const numbersIn = (properties: readonly MaterialProperty[], name: string): readonly number[] | null =>
  properties.find((property) => property.name === name && property.values.length > 0)?.values ?? null

/** Puts every value that a material states in its place. */
export function writeValues(target: Writable, { properties, model }: Material): void {
  const words = model === GLOSSY_MODEL ? GLOSSY_VALUES : VALUES
  for (const { at, key, name, width } of words) {
    const values = numbersIn(properties, name)
    // a scale or a strength stands with its map, and has no place without one
    if (/Texture$/.test(at) || (width === 4 ? !values && !numbersIn(properties, 'alpha') : !values)) continue
    const into = objectFor(target, at)
    if (width === 0) into[key] = values![0] !== 0
    else if (width === 1) into[key] = values![0]
    else if (width === 3) into[key] = values!.slice(0, 3)
    else into[key] = [...(values?.slice(0, 3) ?? [1, 1, 1]), numbersIn(properties, 'alpha')?.[0] ?? 1]
  }
  const mode = properties.find(({ name }) => name === 'alpha_mode' || name === 'alphaMode')?.text
  if (mode) target.alphaMode = mode.toUpperCase()
  const sides = numbersIn(properties, 'doubleSided')
  if (sides) target.doubleSided = sides[0] !== 0
}

/** What the format's rules ask for beside what a model says. */
export function tidy(target: Writable): void {
  const emissive = target.emissiveFactor as number[] | undefined
  // a factor is at most 1: what is brighter is a strength
  const brightest = emissive ? Math.max(...emissive) : 0
  if (emissive && brightest > 1) {
    target.emissiveFactor = emissive.map((one) => one / brightest)
    const strength = objectFor(target, 'extensions.KHR_materials_emissive_strength')
    strength.emissiveStrength = brightest * Number(strength.emissiveStrength ?? 1)
  }
  if (target.alphaMode !== 'MASK') delete target.alphaCutoff
  if (!['OPAQUE', 'MASK', 'BLEND'].includes(String(target.alphaMode ?? 'OPAQUE'))) delete target.alphaMode
  const extensions = target.extensions as Writable | undefined
  if (!extensions) return
  // an infinite distance is one that is not said
  const volume = extensions.KHR_materials_volume as Writable | undefined
  if (volume && !(Number(volume.attenuationDistance) > 0)) delete volume.attenuationDistance
}

/** What stands at the places of words, as properties of the material. */
function propertiesOf(source: Json, words: readonly ValueWord[], alphaName: string): MaterialProperty[] {
  const property = (name: string, values: readonly number[]): MaterialProperty => ({
    name,
    values,
    text: null,
  })
  return words.flatMap(({ at, key, name, width }): MaterialProperty[] => {
    const given = objectAt(source, at)?.[key]
    if (width === 0) return typeof given === 'boolean' ? [property(name, [given ? 1 : 0])] : []
    if (width === 1)
      return typeof given === 'number' && Number.isFinite(given) ? [property(name, [given])] : []
    const values = numbersOf(given, width)
    if (!values) return []
    return width === 4
      ? [property(name, values.slice(0, 3)), property(alphaName, values.slice(3))]
      : [property(name, values)]
  })
}

/** Every value that a file states of a material, in the words of the model that it is of. */
export function readValues(source: Json): MaterialProperty[] {
  const isGlossy = partOf(partOf(source, 'extensions'), GLOSSY_EXTENSION) !== null
  const properties = propertiesOf(source, isGlossy ? GLOSSY_VALUES : VALUES, 'alpha')
  const mode = textOf(source.alphaMode)
  if (mode)
    properties.push({ name: isGlossy ? 'alphaMode' : 'alpha_mode', values: [], text: mode.slice(0, 40) })
  if (isGlossy && typeof source.doubleSided === 'boolean')
    properties.push({ name: 'doubleSided', values: [source.doubleSided ? 1 : 0], text: null })
  return properties
}
