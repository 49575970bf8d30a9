/**
 * Materials: networks of a surface with what feeds it, in the words of the surface model that it is of. Sources: OpenUSD,
 * “UsdPreviewSurface specification” 2.6 (surface, texture, transform and primvar nodes); UsdMtlx for nodes of MaterialX.
 */
import type { MessageCollector } from '../../base/messages/collector.ts'
import type { MapPlacement, Material, MaterialMap, MaterialProperty } from '../../scene/material.ts'
import type { SceneImage } from '../../scene/scene.ts'
import type { SurfaceModel } from '../../surfaces/model.ts'
import { surfaceModelNamed, SURFACE_MODELS } from '../../surfaces/registry.ts'
import { objectOf } from '../notes/json.ts'
import { findImage } from '../package/find-image.ts'
import { stemOf, type PackageFile } from '../package/package-file.ts'
import type { Stage, StagePrim } from './compose.ts'
import type { UsdProperty, UsdValue } from './layer.ts'
import { asItWasBefore, PREVIEW } from './preview-words.ts'
import { notesIn } from './prim-notes.ts'
import { nameOf } from './read-mesh.ts'
import { valueOf } from './read-transform.ts'

/** Connections that are followed from one to the next. */
const MOST_STEPS = 32

export interface ReadMaterials {
  readonly materials: readonly Material[]
  readonly images: readonly SceneImage[]
  /** Numbers by the paths of their prims. */
  readonly numberOf: ReadonlyMap<string, number>
}

/** What a value comes from: itself, or an output of a node. */
interface Source {
  readonly value?: UsdValue
  readonly node?: StagePrim
  readonly output?: string
}

export function readMaterials(
  stage: Stage,
  prims: readonly StagePrim[],
  beside: readonly PackageFile[],
  fileName: string,
  messages: MessageCollector,
): ReadMaterials {
  const images = new Map<string, SceneImage>()
  const imageOf = (path: string): string | null => {
    if (path === '') return null
    if (!images.has(path)) {
      const { image, outside } = findImage(beside, fileName, path)
      if (outside) messages.add('image.outside', { file: path })
      if (!image.bytes) messages.add('image.missing', { file: path })
      images.set(path, image)
    }
    return path
  }

  /** Where a property's value comes from, through interfaces and graphs. */
  const sourceOf = (property: UsdProperty | undefined, steps = 0): Source => {
    if (!property || steps > MOST_STEPS) return {}
    const [target] = property.targets
    if (target === undefined) {
      const value = valueOf(property)
      return value === undefined ? {} : { value }
    }
    const dot = target.lastIndexOf('.')
    const prim = stage.find(target.slice(0, dot))
    const name = target.slice(dot + 1)
    if (!prim) {
      messages.add('usd.missing-prim', { place: 'A material', path: target.slice(0, 200) })
      return {}
    }
    if (name.startsWith('inputs:') || prim.type === 'NodeGraph' || prim.type === 'Material')
      return sourceOf(prim.properties.get(name), steps + 1)
    return { node: prim, output: name.replace(/^outputs:/, '') }
  }
  const input = (node: StagePrim, name: string): Source => sourceOf(node.properties.get(`inputs:${name}`))
  const idOf = (node: StagePrim): string => String(valueOf(node.properties.get('info:id')) ?? '')

  /** The nearest node, along connections, that reads a file. */
  const textureBehind = (node: StagePrim, steps = 0): StagePrim | null => {
    if (typeof input(node, 'file').value === 'string') return node
    if (steps > MOST_STEPS) return null
    for (const [name, property] of node.properties) {
      if (!name.startsWith('inputs:')) continue
      const source = sourceOf(property)
      const found = source.node && textureBehind(source.node, steps + 1)
      if (found) return found
    }
    return null
  }

  const numbersOf = (source: Source): number[] | null =>
    source.value instanceof Float64Array
      ? [...source.value]
      : typeof source.value === 'number'
        ? [source.value]
        : null

  /** How a texture lies: the node that says its coordinates, and what moves them. */
  const placementOf = (texture: StagePrim, file: string): MapPlacement | undefined => {
    const wrap = (name: string): 'repeat' | 'clamp' =>
      /clamp|black/.test(String(input(texture, name).value ?? '')) ? 'clamp' : 'repeat'
    let scale: [number, number] = [1, 1]
    let offset: [number, number] = [0, 0]
    let uvSet = ''
    let coordinates = input(texture, 'st').node ?? input(texture, 'texcoord').node
    for (let step = 0; coordinates && step < MOST_STEPS; step++) {
      const id = idOf(coordinates)
      if (id === 'UsdTransform2d') {
        const own = numbersOf(input(coordinates, 'scale'))
        const moved = numbersOf(input(coordinates, 'translation'))
        if (own?.length === 2) scale = [own[0]!, own[1]!]
        if (moved?.length === 2) offset = [moved[0]!, moved[1]!]
        coordinates = input(coordinates, 'in').node
        continue
      }
      const name = input(coordinates, 'varname').value ?? input(coordinates, 'geomprop').value
      if (typeof name === 'string') uvSet = name
      break
    }
    const isPlain =
      uvSet === '' &&
      wrap('wrapS') === 'repeat' &&
      wrap('wrapT') === 'repeat' &&
      scale.every((one) => one === 1) &&
      offset.every((one) => one === 0)
    if (isPlain) return undefined
    return { name: stemOf(file), uvSet, wrapU: wrap('wrapS'), wrapV: wrap('wrapT'), scale, offset, kept: [] }
  }

  /** Values that are multiplied or moved on their way out of a map; a normal’s go from 0 and 1 to -1 and 1, or are left so. */
  const tellScaled = (texture: StagePrim, file: string, parameter: string, isNormal: boolean): void => {
    const scale = numbersOf(input(texture, 'scale')) ?? [1, 1, 1, 1]
    const bias = numbersOf(input(texture, 'bias')) ?? [0, 0, 0, 0]
    const are = (by: number, off: number): boolean =>
      scale.slice(0, 3).every((one) => one === by) && bias.slice(0, 3).every((one) => one === off)
    if (are(1, 0) || (isNormal && are(2, -1))) return
    messages.add('usd.texture-scaled', {
      file,
      parameter,
      scale: scale.join(' '),
      bias: bias.join(' '),
    })
  }

  const readSurface = (
    shader: StagePrim,
    model: SurfaceModel,
  ): { properties: MaterialProperty[]; maps: MaterialMap[] } => {
    const properties: MaterialProperty[] = []
    const maps: MaterialMap[] = []
    for (const [key, property] of shader.properties) {
      if (!key.startsWith('inputs:')) continue
      const name = key.slice('inputs:'.length)
      const source = sourceOf(property)
      const parameter = model.parameters.find((own) => own.name === name || own.mapName === name)
      const texture = source.node && textureBehind(source.node)
      if (texture) {
        const file = imageOf(String(input(texture, 'file').value))
        if (!file) continue
        const placement = placementOf(texture, file)
        const isOneOf = /^[rgba]$/.test(source.output ?? '') && source.node === texture
        maps.push({
          property: parameter?.mapName ?? name,
          slot: parameter?.slot ?? 'other',
          file,
          options: isOneOf ? [['-imfchan', source.output === 'a' ? 'm' : source.output!]] : [],
          ...(placement ? { placement } : {}),
        })
        tellScaled(texture, file, name, parameter?.slot === 'normal')
        // what stands where the file is missing is also what Kelbo shows then
        const fallback = numbersOf(input(texture, 'fallback'))
        if (fallback && parameter?.name && parameter.width > 0 && parameter.slot !== 'normal')
          properties.push({ name: parameter.name, values: fallback.slice(0, parameter.width), text: null })
        continue
      }
      const { value } = source
      if (value === undefined || value === null) continue
      if (typeof value === 'string') properties.push({ name, values: [], text: value })
      else if (typeof value === 'boolean') properties.push({ name, values: [value ? 1 : 0], text: null })
      else {
        const numbers = numbersOf(source)
        // a normal is a map or nothing
        if (!numbers || (parameter && parameter.name === null)) continue
        const choice = parameter?.choices?.[numbers[0]!]
        properties.push(
          choice !== undefined && numbers.length === 1
            ? { name, values: [], text: choice }
            : { name, values: numbers, text: null },
        )
      }
    }
    return { properties, maps }
  }

  const modelOf = (shader: StagePrim): SurfaceModel | null => {
    const id = idOf(shader)
    if (id === 'UsdPreviewSurface') return PREVIEW
    const category = /^ND_(\w+?)_surfaceshader$/.exec(id)?.[1]
    return (
      SURFACE_MODELS.find(({ materialX }) => materialX?.category === category && category !== undefined) ??
      null
    )
  }

  const numberOf = new Map<string, number>()
  const materials = prims.map((prim, number): Material => {
    numberOf.set(prim.path, number)
    const name = nameOf(prim)
    const surfaces = [...prim.properties]
      .filter(([key]) => /^outputs:(?:\w+:)?surface$/.test(key))
      .flatMap(([key, property]) => {
        const { node } = sourceOf(property)
        const model = node && modelOf(node)
        return node && model ? [{ key, node, model }] : []
      })
    // what says most is taken: a surface of its own context before the one for looking
    const chosen = surfaces.find(({ model }) => model !== PREVIEW) ?? surfaces[0]
    if (!chosen)
      return {
        id: '',
        name,
        model: surfaceModelNamed('usd-preview').materialModel,
        properties: [],
        maps: [],
        kept: [],
        source: prim.path,
      }
    const { properties, maps } = readSurface(chosen.node, chosen.model)
    const displacement = sourceOf(prim.properties.get('outputs:displacement'))
    if (displacement.node && displacement.node !== chosen.node) {
      const texture = textureBehind(displacement.node)
      const file = texture && imageOf(String(input(texture, 'file').value))
      if (file) maps.push({ property: 'displacement', slot: 'displacement', file, options: [] })
    }
    const read: Material = {
      id: '',
      name,
      model: chosen.model.materialModel,
      properties,
      maps,
      kept: [],
      source: prim.path,
    }
    return asItWasBefore(objectOf(notesIn(prim)?.as), read)
  })
  return { materials, images: [...images.values()], numberOf }
}
