/** Materials as networks. Source: OpenUSD, “UsdPreviewSurface specification” 2.6. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import { imageFiles } from '../../scene/image-tiles.ts'
import type { Material, MaterialMap } from '../../scene/material.ts'
import type { Scene } from '../../scene/scene.ts'
import { colorSpaceOf, placementOf, PLAIN_PLACEMENT } from '../../surfaces/remap/map-use.ts'
import { SLOT_WORDS } from '../../surfaces/wording/slot-words.ts'
import { originalOf } from '../notes/worded-material.ts'
import { fileNameOf, packagePath, type PackageFile } from '../package/package-file.ts'
import { usdNames } from './names.ts'
import { filesOf, networkOf, writeNetwork, writeNetworkOutputs } from './network.ts'
import type { UsdWriteOptions } from './options.ts'
import { inPreviewWords, isPreview, PREVIEW, saidValues } from './preview-words.ts'
import { notesSetting } from './prim-notes.ts'
import { uvWords } from './write-mesh.ts'
import { assetText, numberText, quote, type UsdWriter } from './write-text.ts'

const tupleOf = (values: readonly number[]): string => `(${values.map(numberText).join(', ')})`

/** Parameters that are whole numbers or truths in the schema. */
const WHOLE: ReadonlySet<string> = new Set(['useSpecularWorkflow'])
const OPACITY_MODES = ['transparent', 'presence']

/** The primvar that a map lies on, by a mesh that wears the material. */
function primvarOf(scene: Scene, material: number, uvSet: string): string {
  if (uvSet === '') return 'st'
  const wearing = scene.meshes.filter(({ faceMaterials }) => faceMaterials?.includes(material))
  for (const mesh of [...wearing, ...scene.meshes]) {
    const set = mesh.uvSets.findIndex(({ name }) => name === uvSet)
    if (set >= 0) return uvWords(mesh, usdNames)[set]!
  }
  return uvSet
}

/**
 * @param base path of the prim that holds them.
 * @param files images beside the model are added here.
 */
export function writeMaterials(
  writer: UsdWriter,
  scene: Scene,
  words: readonly string[],
  base: string,
  settings: UsdWriteOptions,
  files: PackageFile[],
  messages: MessageCollector,
): void {
  scene.materials.forEach((own, number) => {
    const path = `${base}/${words[number]!}`
    const isFull = settings.materials === 'full'
    const { material, leftMaps, channels } = inPreviewWords(own)
    const maps = mapsOf(material)
    const network = isFull ? networkOf(own, (uvSet) => primvarOf(scene, number, uvSet)) : null
    const inNetwork = new Set(network ? filesOf(network) : [])
    const unseen = [...new Set([...own.maps, ...leftMaps].map(({ file }) => file))].filter(
      (file) => !maps.some((map) => map.file === file),
    )
    const left = unseen.filter((file) => !inNetwork.has(slashed(file)))
    if (isFull)
      for (const map of own.maps.filter(({ file }) => unseen.includes(file)))
        messages.add(left.includes(map.file) ? 'usd.map-channels' : 'usd.map-network', {
          file: map.file,
          slot: SLOT_WORDS[map.slot] ?? map.slot,
        })
    const sets = [...new Set(own.maps.flatMap(({ placement }) => placement?.uvSet || []))]
    const notes =
      isFull && !isPreview(own)
        ? {
            as: originalOf(own, left),
            ...(network && sets.length
              ? { primvars: Object.fromEntries(sets.map((set) => [set, primvarOf(scene, number, set)])) }
              : {}),
          }
        : {}
    const addImage = (file: string): void => {
      const image = scene.images.find((known) => known.file === file)
      if (!settings.maps) return
      for (const { path: from, bytes } of imageFiles(image)) {
        const name = packagePath(from) || fileNameOf(from)
        if (!files.some((known) => known.name === name)) files.push({ name, bytes })
      }
    }
    const head = [
      ...(words[number] === own.name ? [] : [`displayName = ${quote(own.name)}`]),
      ...notesSetting(notes),
      ...(network ? ['prepend apiSchemas = ["MaterialXConfigAPI"]'] : []),
    ]
    writer.prim(`def Material ${quote(words[number]!)}`, head, () => {
      if (!isFull) return
      writer.line(`token outputs:surface.connect = <${path}/surface.outputs:surface>`)
      const moves = ({ property }: MaterialMap): boolean => property === 'displacement'
      if (maps.some(moves) || saidValues(material).some(({ name }) => name === 'displacement'))
        writer.line(`token outputs:displacement.connect = <${path}/surface.outputs:displacement>`)
      if (network) writeNetworkOutputs(writer, network, path)
      writeSurface(writer, material, maps, channels, path)
      for (const map of maps) {
        writeTexture(
          writer,
          map,
          path,
          channels.get(map.property) ?? 'rgb',
          isPreview(own) ? fallbackOf(own, map) : null,
        )
        addImage(map.file)
        const placement = placedOf(map)
        const primvar = primvarOf(scene, number, map.placement?.uvSet ?? '')
        writer.prim(`def Shader ${quote(`${map.property}_uv`)}`, [], () => {
          writer.line('uniform token info:id = "UsdPrimvarReader_float2"')
          writer.line(`string inputs:varname = ${quote(primvar)}`)
          writer.line('float2 outputs:result')
        })
        if (!placement) continue
        writer.prim(`def Shader ${quote(`${map.property}_place`)}`, [], () => {
          writer.line('uniform token info:id = "UsdTransform2d"')
          writer.line(`float2 inputs:in.connect = <${path}/${map.property}_uv.outputs:result>`)
          writer.line(`float2 inputs:scale = ${tupleOf(placement.scale)}`)
          writer.line(`float2 inputs:translation = ${tupleOf(placement.offset)}`)
          writer.line('float2 outputs:result')
        })
      }
      if (!network) return
      writeNetwork(writer, network, path)
      for (const { file } of own.maps) if (inNetwork.has(slashed(file))) addImage(file)
    })
  })
}

/** A path as it stands in the file. */
const slashed = (file: string): string => file.replace(/\\/g, '/')

/** One map a parameter of the surface. */
function mapsOf({ maps }: Material): MaterialMap[] {
  const known = new Set<string>()
  const names = new Set(PREVIEW.parameters.flatMap(({ mapName }) => mapName ?? []))
  return maps.filter(({ property }) => names.has(property) && !known.has(property) && known.add(property))
}

const placedOf = (map: MaterialMap): { scale: readonly number[]; offset: readonly number[] } | null => {
  const { scale, offset } = placementOf(map) ?? PLAIN_PLACEMENT
  return scale.some((one) => one !== 1) || offset.some((one) => one !== 0) ? { scale, offset } : null
}

function writeSurface(
  writer: UsdWriter,
  material: Material,
  maps: readonly MaterialMap[],
  channels: ReadonlyMap<string, string>,
  path: string,
): void {
  writer.prim('def Shader "surface"', [], () => {
    writer.line('uniform token info:id = "UsdPreviewSurface"')
    const values = new Map(saidValues(material).map((property) => [property.name, property.values]))
    for (const { name, mapName, width } of PREVIEW.parameters) {
      const word = name ?? mapName!
      const type = width === 3 ? 'color3f' : mapName === 'normal' ? 'normal3f' : 'float'
      const map = maps.find(({ property }) => property === mapName)
      if (map) {
        const channel = channels.get(map.property) ?? 'rgb'
        const output = width === 3 || mapName === 'normal' ? 'rgb' : channel === 'rgb' ? 'r' : channel
        writer.line(`${type} inputs:${word}.connect = <${path}/${mapName!}_map.outputs:${output}>`)
        continue
      }
      const own = name === null ? undefined : values.get(name)
      if (!own) continue
      if (word === 'opacityMode')
        writer.line(`token inputs:opacityMode = "${OPACITY_MODES[own[0]!] ?? 'transparent'}"`) // prettier-ignore
      else if (WHOLE.has(word)) writer.line(`int inputs:${word} = ${numberText(own[0]!)}`)
      else
        writer.line(
          `${type} inputs:${word} = ${width === 3 ? tupleOf(own.slice(0, 3)) : numberText(own[0]!)}`,
        )
    }
    writer.line('token outputs:surface')
    if (maps.some(({ property }) => property === 'displacement') || values.has('displacement'))
      writer.line('token outputs:displacement')
  })
}

/** What stands where the file is missing: the value that the surface has beside its map. */
function fallbackOf({ properties }: Material, { property }: MaterialMap): readonly number[] | null {
  const parameter = PREVIEW.parameters.find(({ mapName }) => mapName === property)
  const values = properties.find(({ name }) => name === parameter?.name)?.values ?? []
  if (values.length === 1) return [values[0]!, values[0]!, values[0]!, 1]
  return values.length === 3 ? [...values, 1] : null
}

function writeTexture(
  writer: UsdWriter,
  map: MaterialMap,
  path: string,
  channel: string,
  fallback: readonly number[] | null,
): void {
  const { property, slot, file } = map
  const isNormal = property === 'normal'
  const { wrapU, wrapV } = placementOf(map) ?? PLAIN_PLACEMENT
  writer.prim(`def Shader ${quote(`${property}_map`)}`, [], () => {
    writer.line('uniform token info:id = "UsdUVTexture"')
    writer.line(`asset inputs:file = ${assetText(slashed(file))}`)
    writer.line(`token inputs:sourceColorSpace = "${!isNormal && colorSpaceOf(slot) === 'sRGB' ? 'sRGB' : 'raw'}"`) // prettier-ignore
    writer.line(`token inputs:wrapS = "${wrapU}"`)
    writer.line(`token inputs:wrapT = "${wrapV}"`)
    if (fallback) writer.line(`float4 inputs:fallback = ${tupleOf(fallback)}`)
    const from = placedOf(map) ? 'place' : 'uv'
    writer.line(`float2 inputs:st.connect = <${path}/${property}_${from}.outputs:result>`)
    if (isNormal) {
      writer.line('float4 inputs:scale = (2, 2, 2, 1)')
      writer.line('float4 inputs:bias = (-1, -1, -1, 0)')
    }
    writer.line('float3 outputs:rgb')
    writer.line(`float outputs:${channel === 'rgb' ? 'r' : channel}`)
  })
}
