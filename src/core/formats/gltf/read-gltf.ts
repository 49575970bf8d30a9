/** glTF 2.0 to a scene. */
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages, KelboError, type MessageCollector } from '../../base/messages/collector.ts'
import type { KeptContent } from '../../scene/kept.ts'
import type { Mesh, Skin } from '../../scene/mesh.ts'
import { EMPTY_SCENE, plainNode, type Scene, type SceneNode } from '../../scene/scene.ts'
import type { GeometryDecoders } from '../descriptor.ts'
import type { PackageFile } from '../package/package-file.ts'
import { checkKinds } from './check-kinds.ts'
import { readContainer } from './container.ts'
import { listOf, objectOf, partOf, textOf, wholeOf, type Json } from '../notes/json.ts'
import { readExtras } from './kept-extras.ts'
import { keepAnimations } from './keep-animations.ts'
import { keepVariants, VARIANTS } from './keep-variants.ts'
import { MATERIAL_EXTENSIONS } from './material-words.ts'
import { GLTF_READ_DEFAULTS, type GltfReadOptions } from './options.ts'
import { createAccessors } from './read-accessor.ts'
import { readBuffers, type GltfReading } from './read-buffers.ts'
import { readCameras } from './read-cameras.ts'
import { uvSetName } from './read-corner-values.ts'
import { readMaterials } from './read-materials.ts'
import { readMesh, type ReadMesh } from './read-mesh.ts'
import { instancesOf, nodeName, orderNodes, toSceneNode } from './read-nodes.ts'
import { namesText } from '../../base/messages/names-text.ts'
import { holdsAlike, placeSkinned, type PlacedSkins } from './place-skinned.ts'
import { isLifted } from './lift-skinned.ts'
import { readSkin } from './read-skin.ts'

/** Extensions that are read; what a file asks for beside them can't be. */
const KNOWN = new Set([
  ...MATERIAL_EXTENSIONS,
  'KHR_materials_pbrSpecularGlossiness',
  'KHR_materials_unlit',
  VARIANTS,
  'KHR_texture_transform',
  'KHR_texture_basisu',
  'KHR_mesh_quantization',
  'KHR_draco_mesh_compression',
  'KHR_lights_punctual',
  'KHR_node_visibility',
  'KHR_meshopt_compression',
  'EXT_meshopt_compression',
  'EXT_mesh_gpu_instancing',
  'EXT_texture_webp',
  'FB_ngon_encoding',
])

/** Places of one list of instances up to which each becomes a part. */
const MOST_INSTANCES = 20000

const NOTHING_KEPT: KeptContent = { format: 'gltf', objects: [], links: [], sections: [], settings: [] }

/** Names of UV sets by materials: a material lies on sets by their numbers, and a mesh of it says what they are called. */
function uvSetNames(document: Json): (material: number, number: number) => string {
  const names = new Map<number, readonly unknown[]>()
  for (const mesh of listOf(document.meshes)) {
    const own = listOf(partOf(objectOf(mesh), 'extras')?.uvSetNames)
    for (const primitive of listOf(objectOf(mesh)?.primitives)) {
      const material = wholeOf(objectOf(primitive)?.material)
      if (material !== null && !names.has(material)) names.set(material, own)
    }
  }
  return (material, number) => textOf(names.get(material)?.[number]) || uvSetName(number)
}

/**
 * Numbers are those of the file: metres, Y up, Z to the front. V of UVs is turned to point up.
 *
 * Findings: `gltf.*`, `image.missing`, `image.outside`.
 * @throws KelboError `file.empty`, `file.not-a-model`, `gltf.version`, `gltf.unreadable`.
 */
export function readGltf(
  file: PackageFile,
  beside: readonly PackageFile[],
  options: Partial<GltfReadOptions> = {},
  decoders: GeometryDecoders = {},
): { scene: Scene; findings: readonly Finding[] } {
  const settings: GltfReadOptions = { ...GLTF_READ_DEFAULTS, ...options }
  const messages = collectMessages(file.name)
  const { document, chunk, form, isLatin1 } = readContainer(file.bytes, file.name)
  if (isLatin1) messages.add('gltf.latin1')
  const reading: GltfReading = { document, chunk, beside, fileName: file.name, messages, decoders }
  for (const [name, list] of [
    ['gltf.extension-needed', document.extensionsRequired],
    ['gltf.extension-left', document.extensionsUsed],
  ] as const)
    for (const extension of new Set(listOf(list).map(textOf)))
      if (extension && !KNOWN.has(extension)) {
        const isNeeded = listOf(document.extensionsRequired).includes(extension)
        // what stays with a material is told where it isn't kept
        if (name === 'gltf.extension-needed' || (!isNeeded && !extension.includes('_materials_')))
          messages.add(name, { extension: extension.slice(0, 80) })
      }

  checkKinds(document, messages)
  const buffers = readBuffers(reading)
  const accessors = createAccessors(document, buffers, messages)
  const { materials, images } = readMaterials(reading, buffers, uvSetNames(document))
  const ordered = orderNodes(reading)
  const meshSources = listOf(document.meshes)
  const names = ordered.map((node) =>
    nodeName(node, textOf(objectOf(meshSources[wholeOf(node.node.mesh) ?? -1])?.name)),
  )
  const placeOf = new Map(ordered.map(({ source }, place) => [source, place]))
  const nodes: SceneNode[] = ordered.map((node, place) => toSceneNode(node, names[place]!))
  const meshes: Mesh[] = []
  const read = new Map<number, ReadMesh | null>()
  const known = new Map<string, number>()
  /** The skin that a node's own number says, by mesh and skin. */
  const skinBy = new Map<string, Skin>()
  const keyOf = (node: Json, number: number): string => `${number} ${wholeOf(node.skin) ?? ''}`
  const meshFor = (node: Json, name: string): number => {
    if (node.mesh === undefined) return -1
    const number = wholeOf(node.mesh)
    if (number === null) {
      messages.add('gltf.value', { place: `The mesh of “${name}”` })
      return -1
    }
    const skin = wholeOf(node.skin)
    const key = keyOf(node, number)
    if (!known.has(key)) {
      if (!read.has(number))
        read.set(number, readMesh(number, name, reading, accessors, materials.length, settings))
      const found = read.get(number)!
      if (!found) known.set(key, -1)
      else {
        const moving = skin === null ? null : readSkin(skin, found, reading, accessors, placeOf)
        const others = [...known].filter(([other]) => other.startsWith(`${number} `))
        // held elsewhere by the same joints it is the same mesh, which is shown twice
        const same = moving && others.find(([other]) => holdsAlike(skinBy.get(other) ?? null, moving))
        if (moving) skinBy.set(key, moving)
        if (same) {
          known.set(key, same[1])
          return same[1]
        }
        const isFirst = others.length === 0
        const { source, ...rest } = found.mesh
        const mesh: Mesh = isFirst ? { ...rest, ...(source === undefined ? {} : { source }) } : rest
        known.set(key, meshes.push(moving ? { ...mesh, skin: moving } : mesh) - 1)
      }
    }
    return known.get(key)!
  }
  ordered.forEach(({ node }, place) => {
    const instances = instancesOf(node, accessors)
    const mesh = meshFor(node, names[place]!)
    if (!instances || mesh < 0) {
      nodes[place] = { ...nodes[place]!, mesh }
      return
    }
    if (instances.length > MOST_INSTANCES)
      messages.add('gltf.part', {
        place: `What goes beyond ${MOST_INSTANCES} of the ${instances.length} places of “${names[place]!}”`,
        why: 'no model has so many parts',
      })
    messages.add('gltf.instances', { name: names[place]!, total: instances.length })
    instances.slice(0, MOST_INSTANCES).forEach((local, number) => {
      nodes.push(plainNode(`${names[place]!}_${number + 1}`, { parent: place, mesh, local }))
    })
  })
  const skinOfNode = (place: number): Skin | null => {
    const node = ordered[place]?.node
    return (node && skinBy.get(keyOf(node, wholeOf(node.mesh) ?? -1))) ?? null
  }
  // a copy: what is worked out for a list is remembered with it, and this one still grows
  const skins = placeSkinned([...nodes], skinOfNode, (node) => isLifted(ordered[node]?.node)) // prettier-ignore
  skins.nodes.forEach((node, place) => (nodes[place] = node))
  tellSkins(skins, messages)
  if (nodes.length === 0 && meshSources.length > 0)
    // meshes that no node shows are all that there is
    meshSources.forEach((source, number) => {
      const name = textOf(objectOf(source)?.name) || `mesh_${number + 1}`
      const mesh = meshFor({ mesh: number }, name)
      if (mesh >= 0) nodes.push(plainNode(name, { mesh }))
    })
  if (nodes.length === 0 && materials.length === 0) throw new KelboError('file.not-a-model', {}, file.name)
  const parts = [...read.values()].filter((one) => one !== null && one.joined > 0)
  if (parts.length)
    messages.add('gltf.joined', {
      count: parts.length,
      joined: parts.reduce((sum, one) => sum + one!.joined, 0),
      points: parts.reduce((sum, one) => sum + one!.mesh.points.length / 3, 0),
    })
  const kept = keepAnimations(reading, accessors, nodes)
  const looks = keepVariants(reading)
  const scene = objectOf(listOf(document.scenes)[wholeOf(document.scene) ?? 0])
  return {
    scene: {
      ...EMPTY_SCENE,
      format: 'gltf',
      formatVersion: `${textOf(partOf(document, 'asset')?.version)} ${form}`,
      space: { unitMeters: settings.unitMeters ?? 1, upAxis: 'y', frontAxis: 'z', handedness: 'right' },
      nodes,
      meshes,
      materials,
      images,
      ...readCameras(reading, ordered, names),
      properties: scene ? readExtras(scene).properties : {},
      ...(kept || looks
        ? {
            kept: {
              ...NOTHING_KEPT,
              ...kept,
              sections: [...(kept?.sections ?? []), ...(looks ? [looks] : [])],
            },
          }
        : {}),
    },
    findings: messages.list(),
  }
}

/** @param messages gets `gltf.skin-placed` and `gltf.skin-posed`. */
function tellSkins({ moved, posed }: PlacedSkins, messages: MessageCollector): void {
  if (moved.length) messages.add('gltf.skin-placed', { count: moved.length, parts: namesText(moved) })
  if (posed.length) messages.add('gltf.skin-posed', { parts: namesText(posed) })
}
