/** FBX to a scene: hierarchy with transforms, meshes with their layers, materials with maps, and the rest kept. */
import { PURE_CODEC } from '../../base/bytes/zlib.ts'
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages, KelboError } from '../../base/messages/collector.ts'
import { isIdentity, multiplyMatrices } from '../../base/math/matrix.ts'
import type { Material } from '../../scene/material.ts'
import type { Mesh } from '../../scene/mesh.ts'
import {
  EMPTY_SCENE,
  type Axis,
  type CustomProperties,
  type Scene,
  type SceneCamera,
  type SceneImage,
  type SceneNode,
  type Space,
  type TransformParts,
} from '../../scene/scene.ts'
import { axesFit, targetSpace } from '../../scene/space.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import type { PackageFile } from '../package/package-file.ts'
import { keepRest } from './keep-rest.ts'
import { orderModels, readGraph, type FbxObject } from './objects.ts'
import { FBX_READ_DEFAULTS, type FbxReadOptions } from './options.ts'
import {
  keptOf,
  numberProperty,
  propertiesOf,
  propertyOf,
  readTemplates,
  tripleProperty,
  type PropertyTable,
} from './properties.ts'
import { isBinaryFbx, readBinaryTree } from './read-binary-tree.ts'
import { readShapes, readSkin } from './read-deformers.ts'
import { readGeometry } from './read-geometry.ts'
import { oldMaps, readMaterial, type MaterialContext } from './read-materials.ts'
import { readTextTree } from './read-text-tree.ts'
import {
  childSpace,
  geometricMatrix,
  inheritedLocal,
  partsOf,
  type ParentSpace,
  type TransformChain,
} from './transform-chain.ts'
import { childOf, numberValue, type FbxRecord, type FbxTree } from './tree.ts'

const AXES: readonly Axis[] = ['x', 'y', 'z']

const settingsRecord = (tree: FbxTree): FbxRecord | null =>
  tree.records.find((entry) => entry.name === 'GlobalSettings') ??
  childOf(
    tree.records.find((entry) => entry.name === 'Objects'),
    'GlobalSettings',
  )

/** Centimetres a unit in the file's settings; a file without settings says nothing. */
function readSpace(record: FbxRecord | null, options: FbxReadOptions): Space {
  let space: Space = { unitMeters: null, upAxis: 'y', frontAxis: 'z', handedness: 'right' }
  if (record) {
    const table = propertiesOf(record, null)
    const axis = (name: string, fallback: number): Axis => {
      const which = AXES[numberProperty(table, name, fallback)] ?? AXES[fallback]!
      return (numberProperty(table, `${name}Sign`, 1) < 0 ? `-${which}` : which) as Axis
    }
    const factor = numberProperty(table, 'UnitScaleFactor', 1)
    const upAxis = axis('UpAxis', 1)
    let frontAxis = axis('FrontAxis', 2)
    if (!axesFit(upAxis, frontAxis)) frontAxis = upAxis.endsWith('z') ? '-y' : 'z'
    space = {
      unitMeters: factor > 0 && Number.isFinite(factor) ? factor / 100 : null,
      upAxis,
      frontAxis,
      handedness: crossIs(upAxis, frontAxis, axis('CoordAxis', 0)) ? 'right' : 'left',
    }
  }
  return targetSpace(space, options)
}

/** True where up x front points the way the file's first axis does. */
function crossIs(up: Axis, front: Axis, right: Axis): boolean {
  const place = (axis: Axis): number => 'xyz'.indexOf(axis.slice(-1))
  const sign = (axis: Axis): number => (axis.startsWith('-') ? -1 : 1)
  const turn = (place(front) - place(up) + 3) % 3 === 1 ? 1 : -1
  return turn * sign(up) * sign(front) * sign(right) > 0
}

/** Properties of a model that make its matrix or its visibility. */
const USED_PROPERTIES = new Set([
  'Lcl Translation',
  'Lcl Rotation',
  'Lcl Scaling',
  'RotationOrder',
  'RotationOffset',
  'RotationPivot',
  'PreRotation',
  'PostRotation',
  'ScalingOffset',
  'ScalingPivot',
  'InheritType',
  'RotationActive',
  'GeometricTranslation',
  'GeometricRotation',
  'GeometricScaling',
  'Visibility',
  'Show',
])

function readChain(table: PropertyTable): TransformChain {
  const triple = (name: string) => tripleProperty(table, name, [0, 0, 0])
  return {
    translation: triple('Lcl Translation'),
    rotation: triple('Lcl Rotation'),
    scaling: tripleProperty(table, 'Lcl Scaling', [1, 1, 1]),
    rotationOrder: numberProperty(table, 'RotationOrder', 0),
    rotationOffset: triple('RotationOffset'),
    rotationPivot: triple('RotationPivot'),
    preRotation: triple('PreRotation'),
    postRotation: triple('PostRotation'),
    scalingOffset: triple('ScalingOffset'),
    scalingPivot: triple('ScalingPivot'),
    inheritType: numberProperty(table, 'InheritType', 1),
  }
}

function plainProperties(table: PropertyTable, wanted: (isUser: boolean) => boolean): CustomProperties {
  const properties: Record<string, string | number | boolean | number[]> = {}
  for (const property of table.own.values()) {
    if (!wanted(property.isUser)) continue
    const numbers = property.values.map(numberValue)
    const [first] = property.values
    const name = property.name.replaceAll('\0', '\ufffd')
    if (typeof first === 'string') properties[name] = first
    else if (numbers.length === 1 && numbers[0] !== null) properties[name] = numbers[0]!
    else if (numbers.length > 1 && numbers.every((value) => value !== null))
      properties[name] = numbers as number[]
  }
  return properties
}

/**
 * Reads an FBX, binary or text, versions 6.1 and later. Crease weights become sharpness by the options' scale.
 *
 * @param beside all files of the package; maps are looked up among these only.
 * @throws KelboError `file.empty`, `file.not-a-model`, `fbx.header`, `fbx.version`.
 */
export function readFbx(
  file: PackageFile,
  beside: readonly PackageFile[] = [],
  options: Partial<FbxReadOptions> = {},
): { scene: Scene; findings: readonly Finding[] } {
  if (file.bytes.length === 0) throw new KelboError('file.empty', {}, file.name)
  const settings: FbxReadOptions = { ...FBX_READ_DEFAULTS, ...options }
  const messages = collectMessages(file.name)
  const tree = isBinaryFbx(file.bytes)
    ? readBinaryTree(file.bytes, messages, settings.codec ?? PURE_CODEC)
    : readTextTree(file.bytes, messages)
  const graph = readGraph(tree, messages)
  const templates = readTemplates(tree.records.find((record) => record.name === 'Definitions') ?? null)
  const images = new Map<string, SceneImage>()
  const used = new Set<string>()
  const context: MaterialContext = {
    graph,
    templates,
    beside,
    fileName: file.name,
    messages,
    images,
    used,
  }

  const materials: Material[] = []
  const materialIds = new Map<string, number>()
  for (const object of graph.objects.values())
    if (object.record.name === 'Material')
      materialIds.set(object.id, materials.push(readMaterial(object, context)) - 1)

  const meshes: Mesh[] = []
  const meshOf = new Map<string, number>()
  const geometries = new Set<string>()
  /** For skins, which need all nodes to be there. */
  const skinned: { mesh: number; geometry: FbxObject }[] = []
  const cameras: SceneCamera[] = []
  const lights: SceneCamera[] = []
  const spaces: ParentSpace[] = []
  const ordered = orderModels(graph, messages)
  const nodeOf = new Map(ordered.map(({ model }, index) => [model.id, index]))
  const nodes: SceneNode[] = ordered.map(({ model, parent }, index) => {
    used.add(model.id)
    const table = propertiesOf(model.record, templates.get('Model') ?? null)
    const below = graph.below(model.id).flatMap(({ id }) => graph.objects.get(id) ?? [])
    const geometry = below.find((object) => object.record.name === 'Geometry' && object.kind === 'Mesh')
    // in 6.x the polygons stand in the model itself
    const holder = geometry ?? (childOf(model.record, 'Vertices') ? model : null)
    const own = below.flatMap((object) => materialIds.get(object.id) ?? [])
    let mesh = -1
    if (holder) {
      used.add(holder.id)
      const geometric = geometricMatrix(
        tripleProperty(table, 'GeometricTranslation', [0, 0, 0]),
        tripleProperty(table, 'GeometricRotation', [0, 0, 0]),
        tripleProperty(table, 'GeometricScaling', [1, 1, 1]),
      )
      // one geometry in several places is one mesh, as long as it means the same in each
      const key = `${holder.id} ${own.join()} ${geometric.join()}`
      mesh = meshOf.get(key) ?? -1
      if (mesh < 0) {
        const read = readGeometry(holder.record, model.name, messages, settings)
        const shapes = readShapes(graph, holder, read.points.length / 3, used, messages)
        const whole = shapes.length ? { ...read, shapes } : read
        const placed = isIdentity(geometric) ? whole : transformMesh(whole, geometric)
        const repeated = geometries.has(holder.id)
        geometries.add(holder.id)
        mesh =
          meshes.push({
            ...placed,
            faceMaterials: sceneMaterials(placed.faceMaterials, own, read.faceOffsets.length - 1),
            ...(holder === model || repeated ? {} : { source: holder.id }),
            ...(holder === model || holder.name === model.name ? {} : { ownName: holder.name }),
          }) - 1
        meshOf.set(key, mesh)
        skinned.push({ mesh, geometry: holder })
      }
      if (holder === model && own.length > 0) {
        const maps = oldMaps(model.id, context)
        const first = materials[own[0]!]!
        if (maps.length && first.maps.length === 0) materials[own[0]!] = { ...first, maps }
      }
    }
    for (const attribute of [...below, model]) {
      const isOwn = attribute === model
      if (attribute.record.name !== 'NodeAttribute' && !isOwn) continue
      const list = attribute.kind === 'Camera' ? cameras : attribute.kind === 'Light' ? lights : null
      if (!list || list.some((item) => item.node === index)) continue
      const values = propertiesOf(attribute.record, isOwn ? null : (templates.get('NodeAttribute') ?? null))
      list.push({
        name: model.name,
        node: index,
        properties: isOwn ? {} : plainProperties(values, () => true),
        ...(isOwn ? {} : { source: attribute.id, ...keptOf(values, new Set()) }),
      })
      used.add(attribute.id)
    }
    const chain = readChain(table)
    const above = parent < 0 ? null : spaces[parent]!
    const local = inheritedLocal(chain, above)
    const world = above ? multiplyMatrices(above.world, local) : local
    spaces.push(childSpace(chain, above, world))
    const show = propertyOf(table, 'Show')?.values[0]
    const isNode = model.kind !== 'Mesh' && model.kind !== 'Null' && model.kind !== ''
    return {
      id: '',
      name: model.name,
      parent,
      mesh,
      visible: numberProperty(table, 'Visibility', 1) !== 0 && (numberValue(show) ?? 1) !== 0,
      local,
      transform: tellingParts(partsOf(chain)),
      properties: plainProperties(table, (isUser) => isUser),
      source: model.id,
      ...(isNode && mesh < 0 ? { role: model.kind } : {}),
      ...keptOf(table, USED_PROPERTIES),
    }
  })
  for (const { mesh, geometry } of skinned) {
    const skin = readSkin(graph, geometry, meshes[mesh]!.points.length / 3, nodeOf, used, messages)
    if (skin) meshes[mesh] = { ...meshes[mesh]!, skin }
  }
  if (nodes.length === 0 && materials.length === 0) throw new KelboError('file.not-a-model', {}, file.name)
  const space = settingsRecord(tree)
  const kept = keepRest(tree, graph, used, propertiesOf(space, null), nodes, messages)
  return {
    scene: {
      ...EMPTY_SCENE,
      format: 'fbx',
      formatVersion: `${(tree.version / 1000).toFixed(1)} ${tree.form}`,
      space: readSpace(space, settings),
      nodes,
      meshes,
      materials,
      images: [...images.values()],
      cameras,
      lights,
      ...(kept ? { kept } : {}),
    },
    findings: messages.list(),
  }
}

/** The parts where they say more than their matrix; a plain move, turn and scale is null. */
function tellingParts(parts: TransformParts): TransformParts | null {
  const none = (triple: readonly number[]): boolean => triple.every((value) => value === 0)
  const isPlain =
    none(parts.rotation) &&
    parts.rotationOrder === 'xyz' &&
    none(parts.rotationPivot) &&
    none(parts.scalePivot) &&
    none(parts.rotationOffset) &&
    none(parts.scaleOffset) &&
    none(parts.preRotation) &&
    none(parts.postRotation) &&
    parts.inherits === 'scale-then-turn' &&
    // of a mirrored part the matrix doesn't say along which axis
    parts.scale.every((value) => value > 0)
  return isPlain ? null : parts
}

/** The scene's number of each face's material; a part with materials and no layer has the first on all faces. */
function sceneMaterials(
  faceMaterials: Int32Array | null,
  own: readonly number[],
  faceCount: number,
): Int32Array | null {
  if (own.length === 0) return null
  if (!faceMaterials) return new Int32Array(faceCount).fill(own[0]!)
  return faceMaterials.map((material) => own[material] ?? -1)
}
