/**
 * Materials: networks of a surface with what feeds it, in the words of the surface model that it is of. Sources: OpenUSD,
 * “UsdPreviewSurface specification” 2.6 (surface, texture, transform and primvar nodes); UsdMtlx for nodes of MaterialX.
 */
import type { MessageCollector } from '../../base/messages/collector.ts'
import type { MapPlacement, Material, MaterialMap, MaterialProperty } from '../../scene/material.ts'
import type { SceneImage } from '../../scene/scene.ts'
import type { SurfaceModel } from '../../surfaces/model.ts'
import { surfaceModelNamed, SURFACE_MODELS } from '../../surfaces/registry.ts'
import { objectOf, textOf } from '../notes/json.ts'
import { originalIn } from '../notes/worded-material.ts'
import { findImage } from '../package/find-image.ts'
import { stemOf, type PackageFile } from '../package/package-file.ts'
import type { Stage, StagePrim } from './compose.ts'
import type { UsdProperty, UsdValue } from './layer.ts'
import { asItWasBefore, PREVIEW } from './preview-words.ts'
import { isNetworkOf } from './network.ts'
import { notesIn } from './prim-notes.ts'
import { nameOf } from './read-mesh.ts'
import { valueOf } from './read-transform.ts'

/** Connections that are followed from one to the next, and nodes that are looked at for one image. */
const MOST_STEPS = 32
const MOST_NODES = 1000

export interface ReadMaterials {
  readonly materials: readonly Material[]
  readonly images: readonly SceneImage[]
  /** Numbers by the paths of their prims. */
  readonly numberOf: ReadonlyMap<string, number>
}

/** The way from a parameter to the image that feeds it. */
interface Trail {
  readonly texture: StagePrim
  /** What is taken out of the image on the way; null: all of it. */
  readonly channel: string | null
  /** Nodes on the way that make other values of what the image has. */
  readonly works: readonly string[]
}

/** Nodes of MaterialX that pass an image’s values on, or take one of them. */
const PASSING: ReadonlySet<string> = new Set([
  'extract',
  'convert',
  'normalmap',
  'image',
  'tiledimage',
  'swizzle',
  'separate2',
  'separate3',
  'separate4',
  'dot',
])

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

  /** The channel that an output of a node that takes colours apart gives. */
  const takenBy = ({ output }: Source): string | null => /^out([rgba])$/.exec(output ?? '')?.[1] ?? null

  /** The nearest node, along connections, that reads a file, and what lies between. */
  const trailTo = (node: StagePrim, seen = new Set<StagePrim>()): Trail | null => {
    if (typeof input(node, 'file').value === 'string') return { texture: node, channel: null, works: [] }
    // each once: nodes that several lead to would double the ways with each step
    if (seen.has(node) || seen.size > MOST_NODES) return null
    seen.add(node)
    for (const [name, property] of node.properties) {
      if (!name.startsWith('inputs:')) continue
      const source = sourceOf(property)
      const found = source.node && trailTo(source.node, seen)
      if (!found) continue
      const category = /^ND_([A-Za-z0-9]+)(?:_|$)/.exec(idOf(node))?.[1] ?? ''
      const index = category === 'extract' ? numbersOf(input(node, 'index'))?.[0] : undefined
      const word = category === 'swizzle' ? String(input(node, 'channels').value ?? '') : ''
      const channel =
        takenBy(source) ??
        (index === undefined ? null : 'rgba'[index]) ??
        (/^[rgba]$/.test(word) ? word : null)
      const isTurned = category === 'normalmap' && (numbersOf(input(node, 'scale'))?.[0] ?? 1) !== 1
      const works =
        !PASSING.has(category) || isTurned ? [...found.works, category || idOf(node)] : found.works
      return { ...found, channel: found.channel ?? channel, works }
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
    const wrap = (...names: readonly string[]): 'repeat' | 'clamp' =>
      names.some((name) => /clamp|black|constant/.test(String(input(texture, name).value ?? '')))
        ? 'clamp'
        : 'repeat'
    const wrapU = wrap('wrapS', 'uaddressmode')
    const wrapV = wrap('wrapT', 'vaddressmode')
    let scale: [number, number] = [1, 1]
    let offset: [number, number] = [0, 0]
    /** What the coordinates were before a node that multiplies them and moves them. */
    const before = ([su, sv]: readonly number[], [ou, ov]: readonly number[]): void => {
      offset = [offset[0] + scale[0] * (ou ?? 0), offset[1] + scale[1] * (ov ?? 0)]
      scale = [scale[0] * (su ?? 1), scale[1] * (sv ?? 1)]
    }
    let uvSet = ''
    let coordinates = input(texture, 'st').node ?? input(texture, 'texcoord').node
    for (let step = 0; coordinates && step < MOST_STEPS; step++) {
      const id = idOf(coordinates)
      if (id === 'UsdTransform2d') {
        before(
          numbersOf(input(coordinates, 'scale')) ?? [],
          numbersOf(input(coordinates, 'translation')) ?? [],
        )
        coordinates = input(coordinates, 'in').node
        continue
      }
      const by = numbersOf(input(coordinates, 'in2'))
      if (by && /^ND_(multiply|add)_vector2/.test(id)) {
        const both = [by[0]!, by[1] ?? by[0]!]
        if (id.startsWith('ND_multiply')) before(both, [])
        else before([], both)
        coordinates = input(coordinates, 'in1').node
        continue
      }
      const name = input(coordinates, 'varname').value ?? input(coordinates, 'geomprop').value
      if (typeof name === 'string') uvSet = name
      break
    }
    const isPlain =
      uvSet === '' &&
      wrapU === 'repeat' &&
      wrapV === 'repeat' &&
      scale.every((one) => one === 1) &&
      offset.every((one) => one === 0)
    if (isPlain) return undefined
    return { name: stemOf(file), uvSet, wrapU, wrapV, scale, offset, kept: [] }
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
    isTold: boolean,
  ): { properties: MaterialProperty[]; maps: MaterialMap[] } => {
    const properties: MaterialProperty[] = []
    const maps: MaterialMap[] = []
    for (const [key, property] of shader.properties) {
      if (!key.startsWith('inputs:')) continue
      const name = key.slice('inputs:'.length)
      const source = sourceOf(property)
      const parameter = model.parameters.find((own) => own.name === name || own.mapName === name)
      const trail = source.node && trailTo(source.node)
      if (trail) {
        const { texture } = trail
        const file = imageOf(String(input(texture, 'file').value))
        if (!file) continue
        const placement = placementOf(texture, file)
        const channel =
          /^[rgba]$/.test(source.output ?? '') && source.node === texture
            ? source.output!
            : (trail.channel ?? takenBy(source))
        // what is taken where nothing is said
        const plainChannel = model === PREVIEW ? null : (parameter?.channel ?? (parameter?.width === 1 ? 'r' : null)) // prettier-ignore
        maps.push({
          property: parameter?.mapName ?? name,
          slot: parameter?.slot ?? 'other',
          file,
          options: channel && channel !== plainChannel ? [['-imfchan', channel === 'a' ? 'm' : channel]] : [],
          ...(placement ? { placement } : {}),
        })
        if (isTold) {
          tellScaled(texture, file, name, parameter?.slot === 'normal')
          if (trail.works.length)
            messages.add('usd.texture-worked', {
              file,
              parameter: name,
              nodes: [...new Set(trail.works)].reverse().join(', '),
            })
        }
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
    const readAs = (
      { node, model }: { readonly node: StagePrim; readonly model: SurfaceModel },
      isTold = true,
    ): Material => {
      const { properties, maps } = readSurface(node, model, isTold)
      const displacement = sourceOf(
        (model !== PREVIEW && prim.properties.get('outputs:mtlx:displacement')) ||
          prim.properties.get('outputs:displacement'),
      )
      if (displacement.node && displacement.node !== node) {
        const trail = trailTo(displacement.node)
        const file = trail && imageOf(String(input(trail.texture, 'file').value))
        if (file) maps.push({ property: 'displacement', slot: 'displacement', file, options: [] })
      }
      return {
        id: '',
        name,
        model: model.materialModel,
        properties,
        maps,
        kept: [],
        source: prim.path,
      }
    }
    const notes = notesIn(prim)
    const note = objectOf(notes?.as)
    const plain = surfaces.find(({ model }) => model === PREVIEW)
    if (!note || chosen.model === PREVIEW || !plain) return asItWasBefore(note, readAs(chosen))
    // both are there, as Kelbo writes them: what a tool has changed since counts, and where both were what says more
    const told = readAs(plain, false)
    const original = asItWasBefore(note, told)
    const primvars = objectOf(notes?.primvars)
    const isUntouched = (material: Material): boolean =>
      isNetworkOf(prim, material, (uvSet) => textOf(primvars?.[uvSet]) || uvSet)
    if (original !== told) return isUntouched(original) ? original : readAs(chosen)
    const before = originalIn(note, told)
    return before && isUntouched(before) ? readAs(plain) : readAs(chosen)
  })
  return { materials, images: [...images.values()], numberOf }
}
