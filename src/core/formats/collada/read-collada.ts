/** COLLADA 1.4 and 1.5 to a scene. Source: Khronos, “COLLADA – Digital Asset Schema”, releases 1.4.1 and 1.5.0. */
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages, KelboError, type MessageCollector } from '../../base/messages/collector.ts'
import type { KeptContent } from '../../scene/kept.ts'
import type { Material } from '../../scene/material.ts'
import type { Mesh } from '../../scene/mesh.ts'
import {
  EMPTY_SCENE,
  type CustomProperties,
  type Scene,
  type SceneCamera,
  type SceneNode,
  type Space,
} from '../../scene/scene.ts'
import { objectOf } from '../notes/json.ts'
import type { PieceReader } from '../descriptor.ts'
import type { PackageFile } from '../package/package-file.ts'
import { openDocument, type ColladaDocument } from './document.ts'
import { notesOf } from './extra-notes.ts'
import { COLLADA_READ_DEFAULTS, type ColladaReadOptions } from './options.ts'
import { controlledBy, pointsOfGeometry, readMorph, readSkin } from './read-controllers.ts'
import { readGeometry, type ReadGeometry } from './read-geometry.ts'
import { readMaterials, type ReadMaterials } from './read-materials.ts'
import { localOf } from './read-nodes.ts'
import {
  childOf,
  childrenOf,
  descend,
  readXml,
  shortNumbers,
  walk,
  type XmlDocument,
  type XmlElement,
} from './xml.ts'

/** Libraries that are carried as they stand, and what they are in an artist's words. */
export const KEPT_LIBRARIES: Readonly<Record<string, string>> = {
  library_animations: 'animation',
  library_animation_clips: 'animation clips',
  library_force_fields: 'force fields',
  library_physics_materials: 'physics',
  library_physics_models: 'physics',
  library_physics_scenes: 'physics',
  library_kinematics_models: 'kinematics',
  library_articulated_systems: 'kinematics',
  library_joints: 'kinematics',
}

/** Nodes that a file may become by showing nodes within nodes again and again. */
const MOST_NODES = 200_000

const AXES: Readonly<Record<string, Pick<Space, 'upAxis' | 'frontAxis'>>> = {
  X_UP: { upAxis: 'x', frontAxis: 'z' },
  Y_UP: { upAxis: 'y', frontAxis: 'z' },
  Z_UP: { upAxis: 'z', frontAxis: '-y' },
}

function spaceOf(root: XmlElement, settings: ColladaReadOptions): Space {
  const asset = childOf(root, 'asset')
  const meter = Number(childOf(asset, 'unit')?.attributes.meter ?? NaN)
  const stated = AXES[childOf(asset, 'up_axis')?.text.trim() ?? ''] ?? AXES.Y_UP!
  const { upAxis, frontAxis } = settings.upAxis
    ? { upAxis: settings.upAxis, frontAxis: settings.upAxis.endsWith('z') ? ('-y' as const) : ('z' as const) }
    : stated
  return {
    unitMeters: settings.unitMeters ?? (meter > 0 && Number.isFinite(meter) ? meter : null),
    upAxis,
    frontAxis,
    handedness: 'right',
  }
}

/** Numbers of an element and all below it by their names, as properties of a camera or a light. */
function plainNumbers(element: XmlElement): CustomProperties {
  const properties: Record<string, number | number[] | string> = {}
  const common = descend(element, 'optics', 'technique_common') ?? childOf(element, 'technique_common')
  for (const kind of common?.children ?? []) {
    properties.type = kind.name
    for (const value of kind.children) {
      const numbers = shortNumbers(value)
      if (numbers.length === 1) properties[value.name] = numbers[0]!
      else if (numbers.length === 3) properties[value.name] = numbers
    }
  }
  return properties
}

/** What of the libraries is carried. */
function keepLibraries(document: ColladaDocument, nodes: readonly SceneNode[]): KeptContent | null {
  const sections: KeptContent['sections'][number][] = []
  const words = new Set<string>()
  const moved = new Set<string>()
  for (const [name, what] of Object.entries(KEPT_LIBRARIES)) {
    const libraries = childrenOf(document.root, name)
    if (libraries.every(({ children }) => children.length === 0)) continue
    words.add(what)
    for (const text of document.source(name)) sections.push({ name, kinds: '', values: [text], children: [] })
    for (const library of libraries)
      for (const element of walk(library))
        if (element.name === 'channel' && element.attributes.target)
          moved.add(element.attributes.target.split('/')[0]!)
  }
  if (sections.length === 0) return null
  document.messages.add('collada.kept', { what: [...words].join(', ') })
  return {
    format: 'collada',
    objects: [],
    links: [],
    sections,
    settings: [],
    animated: nodes.flatMap(({ source, local }) =>
      source !== undefined && moved.has(source) ? [{ node: source, local: [...local] }] : [],
    ),
  }
}

/** Maps laid on the sets of UVs that a node names for them. */
function withUvSets(
  materials: readonly Material[],
  { coordinates }: ReadMaterials,
  bindings: ReadonlyMap<number, ReadonlyMap<string, string>>,
): Material[] {
  return materials.map((material, number) => {
    const names = coordinates.get(number)
    const bound = bindings.get(number)
    if (!names || !bound) return material
    return {
      ...material,
      maps: material.maps.map((map) => {
        const uvSet = bound.get(names.get(map.property) ?? '')
        if (!uvSet) return map
        const placement = map.placement ?? {
          name: map.file,
          wrapU: 'repeat' as const,
          wrapV: 'repeat' as const,
          scale: [1, 1] as const,
          offset: [0, 0] as const,
          kept: [],
        }
        return { ...map, placement: { ...placement, uvSet } }
      }),
    }
  })
}

/**
 * Findings: `collada.*`, `image.missing`, `image.outside`.
 * @param pieces reads long lists of large files on several threads; null: in this one.
 * @throws KelboError `file.empty`, `file.not-a-model`, `collada.xml`.
 */
export function readCollada(
  file: PackageFile,
  beside: readonly PackageFile[],
  options: Partial<ColladaReadOptions> = {},
  pieces: PieceReader | null = null,
): { scene: Scene; findings: readonly Finding[] } {
  const messages = collectMessages(file.name)
  const xml = readXml(file.bytes, file.name, messages, pieces)
  try {
    return readScene(xml, messages, file, beside, { ...COLLADA_READ_DEFAULTS, ...options })
  } finally {
    xml.end()
  }
}

function readScene(
  xml: XmlDocument,
  messages: MessageCollector,
  file: PackageFile,
  beside: readonly PackageFile[],
  settings: ColladaReadOptions,
): { scene: Scene; findings: readonly Finding[] } {
  const { root } = xml
  if (root.name !== 'COLLADA') throw new KelboError('file.not-a-model', {}, file.name)
  const version = root.attributes.version ?? ''
  if (!/^1\.[45]/.test(version)) messages.add('collada.version', { version: version || '?' })
  const document = openDocument(xml, messages)
  const read = readMaterials(document, beside, file.name)

  const nodes: SceneNode[] = []
  const meshes: Mesh[] = []
  const cameras: SceneCamera[] = []
  const lights: SceneCamera[] = []
  const geometries = new Map<XmlElement, ReadGeometry | null>()
  const meshNumbers = new Map<string, number>()
  const bindings = new Map<number, Map<string, string>>()
  const skinned: { mesh: number; skin: XmlElement; name: string }[] = []
  /** Nodes by what skins may call them. */
  const joints = new Map<string, number>()

  const meshFor = (instance: XmlElement, name: string): number => {
    const target = document.find(instance.attributes.url, `“${name}”`)
    const controlled =
      target?.name === 'controller'
        ? controlledBy(document, target, `“${name}”`)
        : target?.name === 'geometry'
          ? { geometry: target, skin: null, morph: null }
          : null
    if (!controlled) return -1
    const { geometry, skin, morph } = controlled
    if (!geometries.has(geometry)) geometries.set(geometry, readGeometry(document, geometry, name))
    const own = geometries.get(geometry)!
    if (!own) return -1
    const bound = childrenOf(descend(instance, 'bind_material', 'technique_common'), 'instance_material')
    const numberOf = new Map<string, number>()
    for (const binding of bound) {
      const id = (binding.attributes.target ?? '').replace(/^[^#]*#/, '')
      const number = read.numberOf.get(id)
      if (number === undefined) {
        messages.add('collada.missing', { place: `“${name}”`, id: id.slice(0, 80) })
        continue
      }
      numberOf.set(binding.attributes.symbol ?? '', number)
      for (const { attributes } of childrenOf(binding, 'bind_vertex_input')) {
        const set = own.uvSetNames.get(Number(attributes.input_set ?? 0) || 0)
        const first = own.mesh.uvSets[0]?.name
        // a map on the first set needs no name for it
        if (set && set !== first && attributes.semantic) {
          const held = bindings.get(number) ?? new Map<string, string>()
          held.set(attributes.semantic, set)
          bindings.set(number, held)
        }
      }
    }
    // some files name materials by their ids where they bind none
    const numbers = own.symbols.map((symbol) => numberOf.get(symbol) ?? read.numberOf.get(symbol) ?? -1)
    const key = `${target!.attributes.id ?? ''} ${geometry.attributes.id ?? geometries.size} ${numbers.join()}`
    const known = meshNumbers.get(key)
    if (known !== undefined) return known
    const faceMaterials =
      own.mesh.faceMaterials?.map((symbol) => (symbol < 0 ? -1 : numbers[symbol]!)) ?? null
    const shapes = morph
      ? readMorph(document, morph, name, own.mesh.points, (element) => pointsOfGeometry(document, element))
      : []
    const repeated = meshes.some(({ source }) => source === own.mesh.source)
    const { source, ...rest } = own.mesh
    const number =
      meshes.push({
        ...rest,
        ...(repeated || !source ? {} : { source }),
        faceMaterials: faceMaterials?.some((material) => material >= 0) ? faceMaterials : null,
        ...(shapes.length ? { shapes } : {}),
      }) - 1
    meshNumbers.set(key, number)
    if (skin) skinned.push({ mesh: number, skin, name })
    return number
  }

  const visit = (
    element: XmlElement,
    parent: number,
    above: readonly XmlElement[],
    isCopy: boolean,
  ): void => {
    const { id, sid } = element.attributes
    const name = element.attributes.name || id || `node_${nodes.length + 1}`
    if (above.includes(element)) {
      messages.add('collada.ring', { name })
      return
    }
    if (nodes.length >= MOST_NODES) {
      messages.add('collada.part', {
        place: `What hangs under “${name}”`,
        why: `there are more than ${MOST_NODES} nodes`,
      })
      return
    }
    const note = notesOf(element)
    const properties = (objectOf(note?.properties) ?? {}) as CustomProperties
    const index =
      nodes.push({
        id: '',
        name,
        parent,
        mesh: -1,
        visible: note?.visible !== false,
        local: localOf(element, document),
        transform: null,
        properties,
        ...(id && !isCopy ? { source: id } : {}),
        ...(element.attributes.type === 'JOINT' ? { role: 'LimbNode' } : {}),
      }) - 1
    for (const word of [sid, id, element.attributes.name])
      if (word !== undefined && !joints.has(word)) joints.set(word, index)
    const shown = element.children.filter(
      ({ name: own }) => own === 'instance_geometry' || own === 'instance_controller',
    )
    shown.forEach((instance, place) => {
      const mesh = meshFor(instance, name)
      if (mesh < 0) return
      if (place === 0) nodes[index] = { ...nodes[index]!, mesh }
      else
        nodes.push({
          ...nodes[index]!,
          name: `${name}_${place + 1}`,
          parent: index,
          mesh,
          local: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1],
          properties: {},
          source: undefined as never,
        })
    })
    for (const [word, list] of [
      ['instance_camera', cameras],
      ['instance_light', lights],
    ] as const)
      for (const instance of childrenOf(element, word)) {
        const own = document.find(instance.attributes.url, `“${name}”`)
        if (own && !list.some(({ node }) => node === index))
          list.push({
            name: own.attributes.name || own.attributes.id || name,
            node: index,
            properties: plainNumbers(own),
          })
      }
    for (const child of element.children) {
      if (child.name === 'node') visit(child, index, [...above, element], isCopy)
      if (child.name === 'instance_node') {
        const own = document.find(child.attributes.url, `“${name}”`)
        if (own?.name === 'node') visit(own, index, [...above, element], true)
      }
    }
  }

  const wanted = descend(root, 'scene', 'instance_visual_scene')
  const stated = wanted ? document.find(wanted.attributes.url, 'The scene') : null
  const visual =
    stated?.name === 'visual_scene' ? stated : childOf(childOf(root, 'library_visual_scenes'), 'visual_scene')
  for (const element of childrenOf(visual, 'node')) visit(element, -1, [], false)
  if (!visual)
    // geometries that no scene shows are all that there is
    for (const geometry of childrenOf(root, 'library_geometries').flatMap((library) =>
      childrenOf(library, 'geometry'),
    )) {
      const name = geometry.attributes.name || geometry.attributes.id || `mesh_${meshes.length + 1}`
      const own = readGeometry(document, geometry, name)
      if (!own) continue
      const numbers = own.symbols.map((symbol) => read.numberOf.get(symbol) ?? -1)
      const faceMaterials =
        own.mesh.faceMaterials?.map((symbol) => (symbol < 0 ? -1 : numbers[symbol]!)) ?? null
      const mesh =
        meshes.push({
          ...own.mesh,
          faceMaterials: faceMaterials?.some((one) => one >= 0) ? faceMaterials : null,
        }) - 1
      nodes.push({
        id: '',
        name,
        parent: -1,
        mesh,
        visible: true,
        local: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1],
        transform: null,
        properties: {},
      })
    }
  for (const { mesh, skin, name } of skinned) {
    const own = readSkin(
      document,
      skin,
      name,
      meshes[mesh]!.points.length / 3,
      (word) => joints.get(word) ?? -1,
    )
    if (own) meshes[mesh] = { ...meshes[mesh]!, skin: own }
  }
  if (nodes.length === 0 && read.materials.length === 0)
    throw new KelboError('file.not-a-model', {}, file.name)
  const kept = keepLibraries(document, nodes)
  return {
    scene: {
      ...EMPTY_SCENE,
      format: 'collada',
      formatVersion: version || null,
      space: spaceOf(root, settings),
      nodes: nodes.map(({ source, ...node }) => (source === undefined ? node : { ...node, source })),
      meshes,
      materials: withUvSets(read.materials, read, bindings),
      images: read.images,
      cameras,
      lights,
      ...(kept ? { kept } : {}),
    },
    findings: messages.list(),
  }
}
