/** Materials in the words of the surface model that they are of, with their maps. Source: glTF 2.0, sections 3.8, 3.9. */
import { firstLetters } from '../../base/bytes/text.ts'
import type { MapPlacement, Material, MaterialMap } from '../../scene/material.ts'
import type { KeptProperty } from '../../scene/kept.ts'
import type { SceneImage } from '../../scene/scene.ts'
import type { SurfaceModel } from '../../surfaces/model.ts'
import { surfaceModelNamed } from '../../surfaces/registry.ts'
import { findImage } from '../package/find-image.ts'
import { packagePath, stemOf } from '../package/package-file.ts'
import type { GltfBuffers, GltfReading } from './read-buffers.ts'
import { dataOf, pathOf } from './read-buffers.ts'
import { asItWas } from './in-gltf-words.ts'
import {
  extensionOf,
  listOf,
  numberOf,
  numbersOf,
  objectOf,
  partOf,
  textOf,
  wholeOf,
  type Json,
} from '../notes/json.ts'
import { objectAt, readValues } from './material-values.ts'
import { GLOSSY_EXTENSION, GLOSSY_MAPS, MAPS, MATERIAL_EXTENSIONS, type MapWord } from './material-words.ts'

const MODEL = surfaceModelNamed('gltf')
const GLOSSY_MODEL = surfaceModelNamed('gltf-specular-glossiness')

/** Endings by what a file says that an image is. */
const ENDINGS: Readonly<Record<string, string>> = {
  'image/png': '.png',
  'image/jpeg': '.jpg',
  'image/webp': '.webp',
  'image/ktx2': '.ktx2',
}

/** Images of the file as the scene has them; a name a file, though several may lie in it unnamed. */
function readImages(reading: GltfReading, buffers: GltfBuffers): (SceneImage | null)[] {
  const { document, beside, fileName, messages } = reading
  const taken = new Set<string>()
  return listOf(document.images).map((entry, index) => {
    const image = objectOf(entry)
    const uri = textOf(image?.uri)
    const data = uri.startsWith('data:') ? dataOf(uri) : null
    const view = wholeOf(image?.bufferView)
    if (!image || (uri.startsWith('data:') && !data) || (uri === '' && view === null)) {
      messages.add('gltf.value', { place: `Image ${index}` })
      return null
    }
    if (data || view !== null) {
      const bytes = data?.bytes ?? buffers.view(view!)?.bytes ?? null
      const ending = ENDINGS[data?.mime ?? textOf(image.mimeType)] ?? ''
      // where it was written from a file its path stands beside it
      const path = textOf(partOf(image, 'extras')?.file)
      const isPath = path !== '' && path.length < 1000 && !path.startsWith('data:') && !taken.has(path)
      const stem = textOf(image.name).replace(/[\\/]/g, '_') || `image_${index + 1}`
      const name = stem.toLowerCase().endsWith(ending) ? stem : `${stem}${ending}`
      let file = isPath ? path : name
      for (let number = 2; taken.has(file); number++) file = `${stemOf(name)}_${number}${ending}`
      taken.add(file)
      return { file, entry: bytes ? file : null, bytes, embedded: true }
    }
    const address = pathOf(uri)
    const path = textOf(partOf(image, 'extras')?.file)
    // a path that leads out of the package stands beside the address
    const file = path && packagePath(path) === address ? path : address
    const { image: found, outside } = findImage(beside, fileName, address)
    if (outside) messages.add('image.outside', { file })
    if (!found.bytes) messages.add('image.missing', { file })
    taken.add(file)
    return { ...found, file }
  })
}

const json = (name: string, value: unknown): KeptProperty => ({
  name,
  type: 'json',
  label: '',
  flags: '',
  values: [JSON.stringify(value)],
})

const CLAMP = 33071
const REPEAT = 10497

/** How a texture lies; absent where it lies once over the first set's square, and again beyond it. */
function placementOf(
  info: Json,
  texture: Json,
  sampler: Json | null,
  image: SceneImage,
  uvSetOf: (number: number) => string,
): MapPlacement | undefined {
  const transform = extensionOf(info, 'KHR_texture_transform')
  const set = wholeOf(transform?.texCoord) ?? wholeOf(info.texCoord) ?? 0
  const scale = numbersOf(transform?.scale, 2) ?? [1, 1]
  const moved = numbersOf(transform?.offset, 2) ?? [0, 0]
  const kept: KeptProperty[] = []
  if (sampler) kept.push(json('sampler', sampler))
  // a turn has no word of its own here: the whole is carried as it came
  if (transform && numberOf(transform.rotation, 0) !== 0) kept.push(json('transform', transform))
  const wrap = (key: string): 'repeat' | 'clamp' => (sampler?.[key] === CLAMP ? 'clamp' : 'repeat')
  if (set === 0 && !transform && kept.length === 0) return undefined
  const offsetV = 1 - scale[1]! - moved[1]!
  return {
    name: textOf(texture.name) || stemOf(image.file),
    uvSet: set === 0 ? '' : uvSetOf(set),
    wrapU: wrap('wrapS'),
    wrapV: wrap('wrapT'),
    scale: [scale[0]!, scale[1]!],
    // V runs down in the file, so that the offset counts from the other side
    offset: [moved[0]!, transform ? offsetV : 0],
    kept,
  }
}

/** Whether an extension's content says something by a place in the file's lists, which is another in each file. */
const refersToFile = (value: unknown): boolean =>
  Array.isArray(value)
    ? value.some(refersToFile)
    : Object.entries(objectOf(value) ?? {}).some(
        ([key, part]) => key === 'index' || key === 'texture' || refersToFile(part),
      )

export interface ReadMaterials {
  readonly materials: readonly Material[]
  readonly images: readonly SceneImage[]
}

/**
 * Every value that the file states and no other, so that what is left to the standard stays so.
 * @param uvSetOf the name of a UV set by its number, for a material.
 */
export function readMaterials(
  reading: GltfReading,
  buffers: GltfBuffers,
  uvSetOf: (material: number, number: number) => string,
): ReadMaterials {
  const { document, messages } = reading
  const images = readImages(reading, buffers)
  const textures = listOf(document.textures)
  const samplers = listOf(document.samplers)

  const mapsOf = (
    source: Json,
    model: SurfaceModel,
    words: readonly MapWord[],
    index: number,
  ): MaterialMap[] =>
    words.flatMap(({ at, key, word }): MaterialMap[] => {
      const info = partOf(objectAt(source, at), key)
      if (!info) return []
      const texture = objectOf(textures[wholeOf(info.index) ?? -1])
      const number =
        wholeOf(extensionOf(texture, 'EXT_texture_webp')?.source) ??
        wholeOf(extensionOf(texture, 'KHR_texture_basisu')?.source) ??
        wholeOf(texture?.source)
      const image = number === null ? null : images[number]
      if (!texture || !image) {
        messages.add('gltf.value', { place: `The map “${key}” of material ${index}` })
        return []
      }
      const sampler = objectOf(samplers[wholeOf(texture.sampler) ?? -1])
      const isPlain =
        !sampler ||
        Object.entries(sampler).every(([name, wrap]) => name.startsWith('wrap') && wrap === REPEAT)
      const placement = placementOf(info, texture, isPlain ? null : sampler, image, (set) =>
        uvSetOf(index, set),
      )
      const isOpaque = !['MASK', 'BLEND'].includes(textOf(source.alphaMode))
      return model.parameters
        .filter(({ mapName, slot }) => mapName === word && !(slot === 'opacity' && isOpaque))
        .map(({ slot }) => ({
          property: word,
          slot: slot ?? 'other',
          file: image.file,
          options: [],
          ...(placement ? { placement } : {}),
        }))
    })

  const materials = listOf(document.materials).map((entry, index): Material => {
    const source = objectOf(entry) ?? {}
    const isGlossy = extensionOf(source, GLOSSY_EXTENSION) !== null
    const model = isGlossy ? GLOSSY_MODEL : MODEL
    const properties = readValues(source)
    const known = isGlossy ? [GLOSSY_EXTENSION] : MATERIAL_EXTENSIONS
    for (const [name, content] of Object.entries(partOf(source, 'extensions') ?? {})) {
      if (known.includes(name)) continue
      if (refersToFile(content)) messages.add('gltf.extension-left', { extension: firstLetters(name, 80) })
      else properties.push({ name: `extensions.${name}`, values: [], text: JSON.stringify(content) })
    }
    const { as: original, ...extras } = partOf(source, 'extras') ?? {}
    if (Object.keys(extras).length)
      properties.push({ name: 'extras', values: [], text: JSON.stringify(extras) })
    const material: Material = {
      id: '',
      name: textOf(source.name) || `material_${index + 1}`,
      model: model.materialModel,
      properties,
      maps: mapsOf(source, model, isGlossy ? GLOSSY_MAPS : MAPS, index),
      kept: [],
      source: String(index),
    }
    return asItWas(original, material)
  })
  return { materials, images: images.flatMap((image) => image ?? []) }
}
