/**
 * Materials of the common profile: lights and shadows of the old models, in the words that this project has for them, with
 * their maps. Source: COLLADA 1.4.1, chapter “FX”: effect, profile_COMMON, lambert, phong, blinn, constant.
 */
import type { MapPlacement, Material, MaterialMap, MaterialProperty, Slot } from '../../scene/material.ts'
import type { SceneImage } from '../../scene/scene.ts'
import { objectOf, listOf, textOf } from '../notes/json.ts'
import { findImage } from '../package/find-image.ts'
import { stemOf, type PackageFile } from '../package/package-file.ts'
import type { ColladaDocument } from './document.ts'
import { notesOf } from './extra-notes.ts'
import { childOf, childrenOf, descend, shortNumbers, walk, type XmlElement } from './xml.ts'

/** What the format calls a parameter, what it is called here, and what its map is for. */
export const PARAMETERS: readonly {
  readonly word: string
  readonly name: string
  readonly slot: Slot
  readonly width: 1 | 3
}[] = [
  { word: 'emission', name: 'EmissiveColor', slot: 'emissive', width: 3 },
  { word: 'ambient', name: 'AmbientColor', slot: 'ambient', width: 3 },
  { word: 'diffuse', name: 'DiffuseColor', slot: 'baseColor', width: 3 },
  { word: 'specular', name: 'SpecularColor', slot: 'specular', width: 3 },
  { word: 'shininess', name: 'ShininessExponent', slot: 'shininess', width: 1 },
  { word: 'reflective', name: 'ReflectionColor', slot: 'reflection', width: 3 },
  { word: 'reflectivity', name: 'ReflectionFactor', slot: 'reflection', width: 1 },
]
export const MODELS = ['phong', 'blinn', 'lambert', 'constant'] as const

/** Light as the eye weighs it. Source: COLLADA 1.4.1, “Determining transparency”. */
const luminance = ([r, g, b]: readonly number[]): number => 0.212671 * r! + 0.71516 * g! + 0.072169 * b!

/** What is left of a surface, by its two words and the mode in which they count. */
function opacityOf(model: XmlElement): number | null {
  const transparent = childOf(model, 'transparent')
  const color = shortNumbers(childOf(transparent, 'color'))
  const [share] = shortNumbers(descend(model, 'transparency', 'float'))
  if (color.length < 3 && share === undefined) return null
  const mode = transparent?.attributes.opaque ?? 'A_ONE'
  const [r = 1, g = 1, b = 1, a = 1] = color
  const by = share ?? 1
  if (mode === 'RGB_ZERO') return 1 - luminance([r, g, b]) * by
  if (mode === 'RGB_ONE') return luminance([r, g, b]) * by
  if (mode === 'A_ZERO') return 1 - a * by
  return a * by
}

export interface ReadMaterials {
  readonly materials: readonly Material[]
  readonly images: readonly SceneImage[]
  /** A material's number by its element's id. */
  readonly numberOf: ReadonlyMap<string, number>
  /** What each map of a material calls the UVs that it lies on, by its property; a node says which set that is. */
  readonly coordinates: ReadonlyMap<number, ReadonlyMap<string, string>>
}

/** A path as files have it: an address, or a path of a system. */
const pathOf = (text: string): string => {
  const bare = text.trim().replace(/^file:\/\/\/?/i, '')
  try {
    return decodeURIComponent(bare)
  } catch {
    return bare
  }
}

export function readMaterials(
  document: ColladaDocument,
  beside: readonly PackageFile[],
  fileName: string,
): ReadMaterials {
  const { root, messages } = document
  const images = new Map<string, SceneImage>()
  const coordinates = new Map<number, Map<string, string>>()
  const numberOf = new Map<string, number>()

  const imageOf = (element: XmlElement | null): string | null => {
    const init = childOf(element, 'init_from')
    const path = pathOf(init?.text || childOf(init, 'ref')?.text || '')
    if (!path) return null
    if (!images.has(path)) {
      const { image, outside } = findImage(beside, fileName, path)
      if (outside) messages.add('image.outside', { file: path })
      if (!image.bytes) messages.add('image.missing', { file: path })
      images.set(path, image)
    }
    return path
  }
  /** A texture names a sampler, that a surface, that an image; some files name the image at once. */
  const fileOf = (effect: XmlElement, sid: string): { file: string | null; sampler: XmlElement | null } => {
    const params = [...walk(effect)].filter(({ name }) => name === 'newparam')
    const param = (name: string): XmlElement | null =>
      params.find(({ attributes }) => attributes.sid === name) ?? null
    const sampler = childOf(param(sid), 'sampler2D')
    if (sampler) {
      const instance = childOf(sampler, 'instance_image')?.attributes.url
      if (instance) return { file: imageOf(document.find(instance, `The material`)), sampler }
      const surface = childOf(param(childOf(sampler, 'source')?.text.trim() ?? ''), 'surface')
      const id = childOf(surface, 'init_from')?.text.trim()
      return { file: id ? imageOf(document.find(id, 'A texture')) : null, sampler }
    }
    const surface = childOf(param(sid), 'surface')
    const id = surface ? (childOf(surface, 'init_from')?.text.trim() ?? '') : sid
    return { file: imageOf(document.find(id, 'A texture')), sampler: null }
  }

  const readMap = (
    effect: XmlElement,
    texture: XmlElement,
    property: string,
    slot: Slot,
    material: number,
  ): MaterialMap | null => {
    const { file, sampler } = fileOf(effect, texture.attributes.texture ?? '')
    if (!file) return null
    const set = texture.attributes.texcoord
    if (set) {
      const own = coordinates.get(material) ?? new Map<string, string>()
      own.set(property, set)
      coordinates.set(material, own)
    }
    const wrap = (name: string): 'repeat' | 'clamp' =>
      /CLAMP|BORDER|NONE/.test(childOf(sampler, name)?.text ?? '') ? 'clamp' : 'repeat'
    const placed = [...walk(texture)].filter(({ name }) => /^(repeat|offset)[UV]$/.test(name))
    const placing = (name: string, standard: number): number =>
      shortNumbers(placed.find((one) => one.name === name) ?? null)[0] ?? standard
    const placement: MapPlacement = {
      name: stemOf(file),
      uvSet: '',
      wrapU: wrap('wrap_s'),
      wrapV: wrap('wrap_t'),
      scale: [placing('repeatU', 1), placing('repeatV', 1)],
      offset: [placing('offsetU', 0), placing('offsetV', 0)],
      kept: [],
    }
    const isPlain =
      placement.wrapU === 'repeat' &&
      placement.wrapV === 'repeat' &&
      placement.scale.every((one) => one === 1) &&
      placement.offset.every((one) => one === 0)
    return { property, slot, file, options: [], ...(isPlain ? {} : { placement }) }
  }

  const readEffect = (effect: XmlElement, name: string, number: number): Material => {
    const profile = childOf(effect, 'profile_COMMON')
    const technique = childOf(profile, 'technique')
    const model = MODELS.map((own) => childOf(technique, own)).find(Boolean) ?? null
    const properties: MaterialProperty[] = []
    const maps: MaterialMap[] = []
    for (const { word, name: own, slot, width } of model ? PARAMETERS : []) {
      const element = childOf(model, word)
      if (!element) continue
      const numbers = shortNumbers(childOf(element, width === 3 ? 'color' : 'float'))
      if (numbers.length >= width) properties.push({ name: own, values: numbers.slice(0, width), text: null })
      const texture = childOf(element, 'texture')
      const map = texture && readMap(effect, texture, own, slot, number)
      if (map) maps.push(map)
    }
    const opacity = model && opacityOf(model)
    if (opacity !== null && opacity !== 1) properties.push({ name: 'Opacity', values: [opacity], text: null })
    const seen = descend(model, 'transparent', 'texture')
    const through = seen && readMap(effect, seen, 'TransparentColor', 'opacity', number)
    if (through) maps.push(through)
    const bent = shortNumbers(descend(model, 'index_of_refraction', 'float'))
    if (bent.length) properties.push({ name: 'index_of_refraction', values: bent.slice(0, 1), text: null })
    // what programs put beside the profile: bumps, both sides (common practice)
    for (const element of walk(effect)) {
      if (element.name === 'bump' || element.name === 'normalmap') {
        const texture = childOf(element, 'texture')
        const isBump = element.name === 'bump' && element.attributes.bumptype !== 'NORMALMAP'
        const map =
          texture &&
          readMap(effect, texture, isBump ? 'Bump' : 'NormalMap', isBump ? 'bump' : 'normal', number)
        if (map) maps.push(map)
      }
      if (element.name === 'double_sided' && /^\s*1/.test(element.text))
        properties.push({ name: 'double_sided', values: [1], text: null })
    }
    return {
      id: '',
      name,
      model: model?.name === 'lambert' || model?.name === 'constant' ? 'lambert' : 'phong',
      properties,
      maps,
      kept: [],
      ...(effect.attributes.id ? { source: effect.attributes.id } : {}),
    }
  }

  const materials = childrenOf(root, 'library_materials')
    .flatMap((library) => childrenOf(library, 'material'))
    .map((element, number): Material => {
      const { id = '', name } = element.attributes
      numberOf.set(id, number)
      const instance = childOf(element, 'instance_effect')
      const own = name || id || `material_${number + 1}`
      const effect = instance && document.find(instance.attributes.url, `The material “${own}”`)
      const read = effect
        ? readEffect(effect, own, number)
        : { id: '', name: own, model: 'phong', properties: [], maps: [], kept: [] }
      return asItWas(notesOf(element), read)
    })
  return { materials, images: [...images.values()], numberOf, coordinates }
}

/** What a file still has to say for its note of the material as it was to count. */
export const saidBy = ({ properties, maps }: Material): string =>
  JSON.stringify([
    properties
      .map(({ name, values }) => `${name} ${values.map((value) => Number(value.toPrecision(9))).join(' ')}`)
      .sort(),
    maps.map(({ property, file }) => `${property} ${file}`).sort(),
  ])

/** The material that a note tells of, where what stands beside it is what was written with it. */
function asItWas(note: unknown, material: Material): Material {
  const held = objectOf(note)
  const original = objectOf(held?.as)
  if (!original || textOf(held?.said) !== saidBy(material)) return material
  const isSound =
    textOf(original.model) !== '' &&
    listOf(original.properties).every(
      (one) => textOf(objectOf(one)?.name) && Array.isArray(objectOf(one)?.values),
    ) &&
    listOf(original.maps).every((one) => textOf(objectOf(one)?.file) && Array.isArray(objectOf(one)?.options))
  if (!isSound) return material
  const left = listOf(held?.left)
  return {
    ...material,
    model: textOf(original.model),
    properties: listOf(original.properties) as Material['properties'],
    // a map that was left out is not in the file, and so not in what the file says
    maps: (listOf(original.maps) as Material['maps']).filter(({ file }) => !left.includes(file)),
    kept: listOf(original.kept).filter((line): line is string => typeof line === 'string'),
  }
}
