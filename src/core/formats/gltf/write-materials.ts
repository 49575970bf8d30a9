/** Materials, textures and images. Source: glTF 2.0, sections 3.8 and 3.9; the ratified material extensions. */
import { encodeBase64 } from '../../base/bytes/base64.ts'
import type { MessageCollector } from '../../base/messages/collector.ts'
import type { Material, MaterialMap } from '../../scene/material.ts'
import type { Scene } from '../../scene/scene.ts'
import { SLOT_WORDS } from '../../surfaces/wording/slot-words.ts'
import { surfaceModelNamed } from '../../surfaces/registry.ts'
import { fileNameOf, packagePath, stemOf, type PackageFile } from '../package/package-file.ts'
import type { BufferWriter } from './buffer-writer.ts'
import { inGltfWords, isOwnModel } from './in-gltf-words.ts'
import { objectOf } from '../notes/json.ts'
import { originalOf } from '../notes/worded-material.ts'
import { numbersIn, objectFor, tidy, writeValues, type Writable } from './material-values.ts'
import { GLOSSY_MAPS, MAPS, type MapWord } from './material-words.ts'
import type { GltfWriteOptions } from './options.ts'

/** What an image is, by its first bytes; null for what the format doesn't take. */
function mimeOf(bytes: Uint8Array): { mime: string; extension: string | null } | null {
  const starts = (at: number, ...own: number[]): boolean => own.every((byte, k) => bytes[at + k] === byte)
  if (starts(0, 0x89, 0x50, 0x4e, 0x47)) return { mime: 'image/png', extension: null }
  if (starts(0, 0xff, 0xd8, 0xff)) return { mime: 'image/jpeg', extension: null }
  if (starts(0, 0x52, 0x49, 0x46, 0x46) && starts(8, 0x57, 0x45, 0x42, 0x50))
    return { mime: 'image/webp', extension: 'EXT_texture_webp' }
  if (starts(0, 0xab, 0x4b, 0x54, 0x58, 0x20, 0x32, 0x30))
    return { mime: 'image/ktx2', extension: 'KHR_texture_basisu' }
  return null
}

const percent = (path: string): string =>
  path
    .replace(/\\/g, '/')
    .split('/')
    .map((part) => encodeURIComponent(part))
    .join('/')

const WRAPS = { repeat: 10497, clamp: 33071 } as const

const parsed = (text: string): unknown => {
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}

export interface WrittenMaterials {
  readonly materials: readonly object[]
  readonly textures: readonly object[]
  readonly samplers: readonly object[]
  readonly images: readonly object[]
  /** Materials with maps of normals, and the names of the UV sets that those lie on. */
  readonly normalSets: ReadonlyMap<number, string>
  /** How many UV sets each material with maps asks of what it is on. */
  readonly setCounts: ReadonlyMap<number, number>
  readonly extensions: ReadonlySet<string>
  /** Of those, what a reader has to know to show the model rightly. */
  readonly required: ReadonlySet<string>
}

/**
 * @param form whether maps go into the file or beside it.
 * @param files images beside the model are added here.
 */
export function writeMaterials(
  scene: Scene,
  settings: GltfWriteOptions,
  form: 'binary' | 'beside' | 'inside',
  writer: BufferWriter,
  files: PackageFile[],
  messages: MessageCollector,
): WrittenMaterials {
  const textures: Writable[] = []
  const samplers: Writable[] = []
  const images: Writable[] = []
  const extensions = new Set<string>()
  const required = new Set<string>()
  const placeOf = (list: Writable[], one: Writable): number => {
    const text = JSON.stringify(one)
    const known = list.findIndex((other) => JSON.stringify(other) === text)
    return known >= 0 ? known : list.push(one) - 1
  }
  const normalSets = new Map<number, string>()
  const setCounts = new Map<number, number>()
  const known = new Map<string, { image: number; extension: string | null } | null>()
  const imageFor = (file: string): { image: number; extension: string | null } | null => {
    if (known.has(file)) return known.get(file)!
    const image = scene.images.find((candidate) => candidate.file === file)
    const bytes = image?.tiles ? null : (image?.bytes ?? null)
    const kind = bytes && mimeOf(bytes)
    let written: { image: number; extension: string | null } | null = null
    if (image?.tiles || (bytes && !kind)) messages.add('gltf.image-kind', { file })
    else if (!bytes || !settings.maps) {
      // what isn't there is still named, for whoever has it
      const name = packagePath(file) || fileNameOf(file)
      const extras = name === file ? {} : { extras: { file } }
      written = {
        image: images.push({ name: stemOf(file), uri: percent(name), ...extras }) - 1,
        extension: null,
      }
    } else if (form === 'beside' && !image!.embedded) {
      const name = packagePath(file) || fileNameOf(file)
      if (!files.some((other) => other.name === name)) files.push({ name, bytes })
      written = {
        image: images.push({ name: stemOf(file), uri: percent(name) }) - 1,
        extension: kind!.extension,
      }
    } else
      written = {
        image:
          images.push(
            form === 'inside' || form === 'beside'
              ? {
                  name: stemOf(file),
                  uri: `data:${kind!.mime};base64,${encodeBase64(bytes)}`,
                  extras: { file },
                }
              : {
                  name: stemOf(file),
                  mimeType: kind!.mime,
                  bufferView: writer.view(bytes),
                  extras: { file },
                },
          ) - 1,
        extension: kind!.extension,
      }
    known.set(file, written)
    return written
  }

  const uvNumber = (material: number, name: string): number => {
    if (name === '') return 0
    const mesh = scene.meshes.find((one) => one.faceMaterials?.includes(material))
    const sets = mesh ? [mesh] : scene.meshes
    for (const { uvSets } of sets) {
      const number = uvSets.findIndex((set) => set.name === name)
      if (number >= 0) return number
    }
    return 0
  }

  const textureInfo = (map: MaterialMap, material: number): Writable | null => {
    // without UVs a map has no place on the surface
    const isOfNormals = /normalTexture$/i.test(map.property)
    if (isOfNormals && settings.uvs && !settings.normals)
      messages.add('write.not-carried', {
        format: 'glTF',
        what: 'maps of normals where normals are left out',
      })
    const found = settings.uvs && (settings.normals || !isOfNormals) ? imageFor(map.file) : null
    if (!found) return null
    const { placement } = map
    const keptOf = (name: string): Writable | null =>
      objectOf(
        parsed(
          String(placement?.kept.find((one) => one.name === name && one.type === 'json')?.values[0] ?? ''),
        ),
      ) as Writable | null
    const keptSampler = keptOf('sampler')
    const wraps: Writable = {}
    if (placement?.wrapU === 'clamp') wraps.wrapS = WRAPS.clamp
    if (placement?.wrapV === 'clamp') wraps.wrapT = WRAPS.clamp
    // mirrored repeats have no word here and stay with what was kept
    const sampler: Writable = keptSampler
      ? {
          ...keptSampler,
          ...wraps,
          ...(placement!.wrapU === 'repeat' && keptSampler.wrapS === WRAPS.clamp
            ? { wrapS: WRAPS.repeat }
            : {}),
          ...(placement!.wrapV === 'repeat' && keptSampler.wrapT === WRAPS.clamp
            ? { wrapT: WRAPS.repeat }
            : {}),
        }
      : wraps
    const name = placement?.name && placement.name !== stemOf(map.file) ? { name: placement.name } : {}
    const source = found.extension
      ? { extensions: { [found.extension]: { source: found.image } } }
      : { source: found.image }
    if (found.extension) {
      extensions.add(found.extension)
      required.add(found.extension)
    }
    const texture = placeOf(textures, {
      ...name,
      ...source,
      ...(Object.keys(sampler).length ? { sampler: placeOf(samplers, sampler) } : {}),
    })
    const set = uvNumber(material, placement?.uvSet ?? '')
    const info: Writable = { index: texture, ...(set > 0 ? { texCoord: set } : {}) }
    setCounts.set(material, Math.max(setCounts.get(material) ?? 0, set + 1))
    const turned = keptOf('transform')
    const { scale = [1, 1], offset = [0, 0] } = placement ?? {}
    if (turned || scale.some((one) => one !== 1) || offset.some((one) => one !== 0)) {
      extensions.add('KHR_texture_transform')
      info.extensions = {
        KHR_texture_transform: turned ?? {
          // V runs down in the file, so that the offset counts from the other side
          offset: [offset[0], 1 - scale[1] - offset[1]],
          scale: [...scale],
        },
      }
    }
    return info
  }

  const materials = scene.materials.map((own, index): Writable => {
    const { material, leftMaps } = inGltfWords(own)
    for (const map of leftMaps)
      messages.add('gltf.map-channels', { file: map.file, slot: SLOT_WORDS[map.slot] ?? map.slot })
    const target: Writable = { name: own.name }
    if (settings.materials === 'names') return target
    const isGlossy = material.model !== surfaceModelNamed('gltf').materialModel
    writeValues(target, material)
    const left = writeMaps(target, material, isGlossy ? GLOSSY_MAPS : MAPS, (map) => textureInfo(map, index))
    const normals = material.maps.find(({ property }) => /normalTexture$/i.test(property))
    if (normals && !left.includes(normals.file)) normalSets.set(index, normals.placement?.uvSet ?? '')
    writeKept(target, material)
    if (!isOwnModel(own)) {
      const extras = (target.extras as Writable | undefined) ?? {}
      target.extras = { ...extras, as: originalOf(own, [...left, ...leftMaps.map(({ file }) => file)]) }
    }
    tidy(target)
    for (const extension of Object.keys((target.extensions as Writable | undefined) ?? {}))
      extensions.add(extension)
    return target
  })
  return { materials, textures, samplers, images, normalSets, setCounts, extensions, required }
}

/** @returns files of maps whose images the format doesn't take. */
function writeMaps(
  target: Writable,
  { maps, properties }: Material,
  words: readonly MapWord[],
  infoOf: (map: MaterialMap) => Writable | null,
): string[] {
  const left: string[] = []
  for (const { at, key, word } of words) {
    const map = maps.find(({ property }) => property === word)
    const info = map && infoOf(map)
    if (!info) {
      if (map) left.push(map.file)
      continue
    }
    if (key === 'normalTexture') {
      const scale = numbersIn(properties, 'normal_scale')
      if (scale) info.scale = scale[0]
    }
    if (key === 'occlusionTexture') {
      const strength = numbersIn(properties, 'occlusion') ?? numbersIn(properties, 'occlusionStrength')
      if (strength) info.strength = Math.max(0, Math.min(1, strength[0]!))
    }
    objectFor(target, at)[key] = info
  }
  return left
}

/** Extensions and notes that came with the material and mean nothing to Kelbo. */
function writeKept(target: Writable, { properties }: Material): void {
  for (const { name, text } of properties) {
    if (text === null) continue
    const value = parsed(text)
    if (value === undefined) continue
    if (name.startsWith('extensions.')) objectFor(target, 'extensions')[name.slice(11)] = value
    else if (name === 'extras') target.extras = value
  }
}
