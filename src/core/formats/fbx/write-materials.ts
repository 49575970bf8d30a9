/** Materials, textures and images as objects. */
import type { MapPlacement, Material, MaterialMap, MaterialProperty } from '../../scene/material.ts'
import { imageFiles } from '../../scene/image-tiles.ts'
import type { Scene } from '../../scene/scene.ts'
import { FILE_MODELS, surfaceModelNamed } from '../../surfaces/registry.ts'
import { toFileModel } from '../../surfaces/wording/translate.ts'
import { mapWordIn, wordIn } from '../../surfaces/wording/wording.ts'
import { fileNameOf, packagePath, stemOf, type PackageFile } from '../package/package-file.ts'
import type { FbxWriteOptions } from './options.ts'
import type { GraphWriter } from './write-graph.ts'
import {
  double,
  int,
  keptRow,
  objectTitle,
  propertyRow,
  record,
  typedNumber,
  type WriteRecord,
} from './write-tree.ts'

const PHONG = surfaceModelNamed('fbx-phong')
/** A material of another format's model is written in the words of this one. */
const isReworded = (material: Material): boolean =>
  FILE_MODELS.some((model) => model !== PHONG && model.materialModel === material.model)

function materialRow(property: MaterialProperty, reworded: boolean): WriteRecord {
  const name = reworded ? wordIn(PHONG, property.name) : property.name
  const { values, text, type } = property
  if (type !== undefined)
    return propertyRow(
      name,
      type,
      property.label ?? '',
      property.flags ?? '',
      ...(text !== null ? [text] : values.map((value) => typedNumber(type, value))),
    )
  if (text !== null) return propertyRow(name, 'KString', '', '', text)
  if (values.length === 3) return propertyRow(name, 'Color', '', 'A', ...values.map(double))
  if (values.length === 1) return propertyRow(name, 'Number', '', 'A', double(values[0]!))
  return propertyRow(name, 'Vector', '', 'A', ...values.map(double))
}

function placementRows(placement: MapPlacement | undefined): WriteRecord[] {
  if (!placement) return []
  const rows: WriteRecord[] = []
  const pair = (name: string, [u, v]: readonly [number, number], third: number): void => {
    rows.push(propertyRow(name, 'Vector', '', 'A', double(u), double(v), double(third)))
  }
  if (placement.uvSet) rows.push(propertyRow('UVSet', 'KString', '', '', placement.uvSet))
  if (placement.wrapU === 'clamp') rows.push(propertyRow('WrapModeU', 'enum', '', '', int(1)))
  if (placement.wrapV === 'clamp') rows.push(propertyRow('WrapModeV', 'enum', '', '', int(1)))
  if (placement.offset.some((value) => value !== 0)) pair('Translation', placement.offset, 0)
  if (placement.scale.some((value) => value !== 1)) pair('Scaling', placement.scale, 1)
  return [...rows, ...placement.kept.map(keptRow)]
}

/** MTL says the place of a map by options of its statement. */
function mtlPlacement(map: MaterialMap): MapPlacement | undefined {
  const option = (name: string): readonly string[] | undefined =>
    map.options.find(([key]) => key === name)?.slice(1)
  const pair = (values: readonly string[] | undefined, fallback: number): [number, number] => {
    const u = Number(values?.[0] ?? fallback)
    return [u, Number(values?.[1] ?? (fallback === 1 ? 1 : 0))]
  }
  const scale = option('-s')
  const offset = option('-o')
  const clamp = option('-clamp')?.[0] === 'on' ? 'clamp' : 'repeat'
  if (!scale && !offset && clamp === 'repeat') return undefined
  return {
    name: stemOf(map.file),
    uvSet: '',
    wrapU: clamp,
    wrapV: clamp,
    scale: pair(scale, 1),
    offset: pair(offset, 0),
    kept: [],
  }
}

/**
 * @param files images to be put beside the model are added here.
 * @returns the number of each material.
 */
export function writeMaterials(
  scene: Scene,
  graph: GraphWriter,
  settings: FbxWriteOptions,
  files: PackageFile[],
): bigint[] {
  /** A texture of several materials is written once. */
  const textures = new Map<string, bigint>()
  const addTexture = (map: MaterialMap): bigint => {
    const placement = map.placement ?? mtlPlacement(map)
    const { stack: _stack, ...plain } = placement ?? { name: stemOf(map.file) }
    const key = JSON.stringify([map.file, plain])
    const known = textures.get(key)
    if (known !== undefined) return known
    const image = scene.images.find((candidate) => candidate.file === map.file)
    // what lay in the file goes back into it; tiles have no place in one
    const embeds = (settings.embedMaps || image?.embedded) && image?.bytes && !image.tiles
    const videoTitle = stemOf(map.file)
    const video = graph.add('Video', videoTitle, 'Clip', [
      record('Type', ['Clip']),
      record('Properties70'),
      record('UseMipMap', [int(0)]),
      record('Filename', [map.file]),
      record('RelativeFilename', [map.file]),
      ...(embeds ? [record('Content', [image.bytes!])] : []),
    ])
    const title = placement?.name || videoTitle
    const texture = graph.add(
      'Texture',
      title,
      '',
      [
        record('Type', ['TextureVideoClip']),
        record('Version', [int(202)]),
        record('TextureName', [objectTitle(title, 'Texture')]),
        record('Properties70', [], placementRows(placement)),
        record('Media', [objectTitle(videoTitle, 'Video')]),
        record('FileName', [map.file]),
        record('RelativeFilename', [map.file]),
      ],
      placement?.source,
    )
    graph.link(video, texture)
    if (settings.maps && !embeds)
      for (const { path, bytes } of imageFiles(image)) {
        const name = packagePath(path) || fileNameOf(path)
        if (!files.some((file) => file.name === name)) files.push({ name, bytes })
      }
    textures.set(key, texture)
    return texture
  }
  return scene.materials.map((own: Material) => {
    const material = toFileModel(own, PHONG, true)?.material ?? own
    const full = settings.materials === 'full'
    const reworded = isReworded(material)
    const id = graph.add(
      'Material',
      material.name,
      '',
      [
        record('Version', [int(102)]),
        // files name the model with a capital or without; readers take either
        record('ShadingModel', [reworded ? PHONG.materialModel : material.model]),
        record('MultiLayer', [int(0)]),
        record(
          'Properties70',
          [],
          full ? material.properties.map((property) => materialRow(property, reworded)) : [],
        ),
      ],
      material.source,
    )
    if (!full) return id
    const stacks = new Map<string, MaterialMap[]>()
    for (const map of material.maps) {
      // a file of FBX's own wording keeps it
      const property = reworded ? mapWordIn(PHONG, map) : map.property
      const stack = map.placement?.stack
      if (!stack) {
        graph.link(addTexture(map), id, property)
        continue
      }
      const key = `${stack.name} ${property}`
      const held = stacks.get(key)
      if (held) held.push(map)
      else stacks.set(key, [map])
    }
    for (const maps of stacks.values()) {
      const stackOf = (map: MaterialMap) => map.placement!.stack!
      const layered = graph.add('LayeredTexture', stackOf(maps[0]!).name, '', [
        record('LayeredTexture', [int(100)]),
        record('BlendModes', [Int32Array.from(maps, (map) => stackOf(map).blend)]),
        record('Alphas', [Float64Array.from(maps, (map) => stackOf(map).alpha)]),
      ])
      for (const map of maps) graph.link(addTexture(map), layered)
      graph.link(layered, id, maps[0]!.property)
    }
    return id
  })
}
