/** Materials with their maps: texture, its place on the surface, the image it shows. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import type { MapPlacement, Material, MaterialMap, Slot } from '../../scene/material.ts'
import type { SceneImage } from '../../scene/scene.ts'
import { surfaceModelNamed } from '../../surfaces/registry.ts'
import { fromFileModel } from '../../surfaces/wording/translate.ts'
import { findImage } from '../package/find-image.ts'
import { fileNameOf, type PackageFile } from '../package/package-file.ts'
import type { FbxGraph, FbxObject } from './objects.ts'
import {
  keepProperty,
  keptOf,
  numberProperty,
  propertiesOf,
  propertyOf,
  tripleProperty,
  type FbxProperty,
} from './properties.ts'
import { childOf, childrenOf, contentOf, numbersOf, numberValue, type FbxRecord } from './tree.ts'

/** Words that the last part of a property's name holds, and the parameter they mean; the first that fits. */
const SLOT_WORDS: readonly (readonly [RegExp, Slot])[] = [
  [/normal|^nrm$/i, 'normal'],
  [/occlusion|^ao$|ambient_?occ/i, 'occlusion'],
  [/bump/i, 'bump'],
  [/displace/i, 'displacement'],
  [/emis|emit/i, 'emissive'],
  [/rough/i, 'roughness'],
  [/metal/i, 'metalness'],
  [/sheen/i, 'sheen'],
  [/coat/i, 'clearcoat'],
  [/(diffuse|base_?color|basecolor|albedo)/i, 'baseColor'],
  [/ambient/i, 'ambient'],
  [/(transparen|opacity)/i, 'opacity'],
  [/(shini|gloss)/i, 'shininess'],
  [/specular/i, 'specular'],
  [/reflect/i, 'reflection'],
  // a base that is named alone is its colour; a weight of it is a number and has no map of its own
  [/^base/i, 'baseColor'],
]
/** The slot that a property’s map belongs to, by the last part of its name. */
export const slotOf = (property: string): Slot => {
  const last = property.split('|').pop() ?? property
  return SLOT_WORDS.find(([pattern]) => pattern.test(last))?.[1] ?? 'other'
}

export interface MaterialContext {
  readonly graph: FbxGraph
  readonly templates: ReadonlyMap<string, ReadonlyMap<string, FbxProperty>>
  readonly beside: readonly PackageFile[]
  readonly fileName: string
  readonly messages: MessageCollector
  readonly images: Map<string, SceneImage>
  /** Ids of objects that have found their place in the scene. */
  readonly used: Set<string>
}

const textOf = (record: FbxRecord | null, name: string): string => {
  const value = childOf(record, name)?.values[0]
  return typeof value === 'string' ? value : ''
}

const readContent = (video: FbxRecord | null): Uint8Array | null =>
  contentOf(video ? childrenOf(video, 'Content') : [])

const PLACED = new Set(['UVSet', 'WrapModeU', 'WrapModeV', 'Translation', 'Scaling'])

function readPlacement(texture: FbxObject, context: MaterialContext): MapPlacement {
  const table = propertiesOf(texture.record, context.templates.get('Texture') ?? null)
  const pair = (name: string, fallback: readonly [number, number]): readonly [number, number] => {
    const property = propertyOf(table, name)
    if (!property) {
      // older files have a record of its own for it
      const listed = numbersOf(
        childOf(texture.record, name === 'Scaling' ? 'ModelUVScaling' : 'ModelUVTranslation'),
      )
      return listed.length >= 2 ? [listed[0]!, listed[1]!] : fallback
    }
    const [u, v] = tripleProperty(table, name, [...fallback, 0])
    return [u, v]
  }
  const uvSet = propertyOf(table, 'UVSet')?.values[0]
  const wrap = (name: string): 'repeat' | 'clamp' =>
    numberProperty(table, name, 0) === 1 ? 'clamp' : 'repeat'
  return {
    name: texture.name,
    uvSet: typeof uvSet === 'string' ? uvSet : '',
    wrapU: wrap('WrapModeU'),
    wrapV: wrap('WrapModeV'),
    scale: pair('Scaling', [1, 1]),
    offset: pair('Translation', [0, 0]),
    kept: keptOf(table, PLACED).kept ?? [],
    source: texture.id,
  }
}

function readTexture(
  texture: FbxObject,
  property: string,
  context: MaterialContext,
  stack: MapPlacement['stack'] | null,
): MaterialMap | null {
  const { graph, used, images, messages } = context
  const video = graph
    .below(texture.id)
    .map(({ id }) => graph.objects.get(id))
    .find((object) => object?.record.name === 'Video')
  const file =
    textOf(texture.record, 'RelativeFilename') ||
    textOf(texture.record, 'FileName') ||
    textOf(video?.record ?? null, 'RelativeFilename') ||
    textOf(video?.record ?? null, 'Filename')
  if (!file) return null
  used.add(texture.id)
  if (video) used.add(video.id)
  if (!images.has(file)) {
    const embedded = readContent(video?.record ?? null)
    if (embedded) {
      // what lay in the file is as good as lying beside it
      images.set(file, { file, entry: fileNameOf(file), bytes: embedded, embedded: true })
    } else {
      const { image, outside } = findImage(context.beside, context.fileName, file)
      if (outside) messages.add('image.outside', { file })
      if (!image.bytes) messages.add('image.missing', { file })
      images.set(file, image)
    }
  }
  const placement = readPlacement(texture, context)
  return {
    property,
    slot: slotOf(property),
    file,
    options: [],
    placement: stack ? { ...placement, stack } : placement,
  }
}

/** The maps tied to an object's properties: single textures, and stacks of several. */
function readMaps(id: string, context: MaterialContext): MaterialMap[] {
  const { graph, used } = context
  return graph.below(id).flatMap(({ id: below, property }) => {
    const texture = graph.objects.get(below)
    if (!texture || property === null) return []
    if (texture.record.name === 'Texture') return readTexture(texture, property, context, null) ?? []
    if (texture.record.name !== 'LayeredTexture') return []
    used.add(texture.id)
    const blends = numbersOf(childOf(texture.record, 'BlendModes'))
    const alphas = numbersOf(childOf(texture.record, 'Alphas'))
    return graph
      .below(texture.id)
      .map((link) => graph.objects.get(link.id))
      .filter((object) => object?.record.name === 'Texture')
      .flatMap(
        (object, at) =>
          readTexture(object!, property, context, {
            name: texture.name,
            blend: blends[at] ?? 0,
            alpha: alphas[at] ?? 1,
          }) ?? [],
      )
  })
}

/**
 * A material with every property as it stands; nothing is translated but what this project's writer has put beside the
 * file's own model.
 */
export function readMaterial(object: FbxObject, context: MaterialContext): Material {
  context.used.add(object.id)
  const model = childOf(object.record, 'ShadingModel')?.values[0]
  const table = propertiesOf(object.record, context.templates.get('Material') ?? null)
  const asItStands: Material = {
    id: '',
    name: object.name,
    model: typeof model === 'string' && model ? model.toLowerCase() : 'phong',
    properties: [...table.own.values()].map((property) => {
      const numbers = property.values.map(numberValue)
      const plain = numbers.length > 0 && numbers.every((value) => value !== null && Number.isFinite(value))
      const { type, label, flags } = keepProperty(property)
      return {
        name: property.name,
        values: plain ? (numbers as number[]) : [],
        text: plain ? null : String(property.values[0] ?? ''),
        type,
        label,
        flags,
      }
    }),
    maps: readMaps(object.id, context),
    kept: [],
    source: object.id,
  }
  return fromFileModel(asItStands, surfaceModelNamed('fbx-phong'))
}

/** In 6.x textures hang under the part: they are its materials' base colour where these have no maps. */
export function oldMaps(modelId: string, context: MaterialContext): MaterialMap[] {
  const { graph } = context
  return graph.below(modelId).flatMap(({ id }) => {
    const texture = graph.objects.get(id)
    return texture?.record.name === 'Texture'
      ? (readTexture(texture, 'DiffuseColor', context, null) ?? [])
      : []
  })
}
