/** FBX to a scene: hierarchy with transforms, meshes with their layers, materials with maps. */
import type { Finding } from '../../messages/catalogue.ts'
import { collectMessages, KelboError, type MessageCollector } from '../../messages/collector.ts'
import { isIdentity } from '../../math/matrix.ts'
import type { Material, MaterialMap, Slot } from '../../scene/material.ts'
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
} from '../../scene/scene.ts'
import { transformMesh } from '../../edit/transform-mesh.ts'
import { findInPackage, type PackageFile } from '../package-file.ts'
import {
  numberProperty,
  propertiesOf,
  propertyOf,
  readTemplates,
  tripleProperty,
  type PropertyTable,
} from './properties.ts'
import { isBinaryFbx, readBinaryTree } from './read-binary-tree.ts'
import { readGeometry } from './read-geometry.ts'
import { readTextTree } from './read-text-tree.ts'
import { geometricMatrix, localMatrix } from './transform-chain.ts'
import { childOf, numberValue, objectName, type FbxRecord, type FbxTree } from './tree.ts'

interface FbxObject {
  readonly id: string
  readonly name: string
  readonly kind: string
  readonly record: FbxRecord
}

const AXES: readonly Axis[] = ['x', 'y', 'z']

/** Centimetres a unit in the file's settings; a file without settings says nothing. */
function readSpace(tree: FbxTree): Space {
  const record =
    tree.records.find((entry) => entry.name === 'GlobalSettings') ??
    childOf(
      tree.records.find((entry) => entry.name === 'Objects'),
      'GlobalSettings',
    )
  if (!record) return { unitMeters: null, upAxis: 'y', frontAxis: 'z', handedness: 'right' }
  const table = propertiesOf(record, null)
  const axis = (name: string, fallback: number): Axis => {
    const which = AXES[numberProperty(table, name, fallback)] ?? AXES[fallback]!
    return (numberProperty(table, `${name}Sign`, 1) < 0 ? `-${which}` : which) as Axis
  }
  const factor = numberProperty(table, 'UnitScaleFactor', 1)
  const upAxis = axis('UpAxis', 1)
  let frontAxis = axis('FrontAxis', 2)
  if (frontAxis.slice(-1) === upAxis.slice(-1)) frontAxis = upAxis.endsWith('z') ? '-y' : 'z'
  return {
    unitMeters: factor > 0 && Number.isFinite(factor) ? factor / 100 : null,
    upAxis,
    frontAxis,
    handedness: crossIs(upAxis, frontAxis, axis('CoordAxis', 0)) ? 'right' : 'left',
  }
}

/** True where up x front points the way the file's first axis does. */
function crossIs(up: Axis, front: Axis, right: Axis): boolean {
  const place = (axis: Axis): number => 'xyz'.indexOf(axis.slice(-1))
  const sign = (axis: Axis): number => (axis.startsWith('-') ? -1 : 1)
  const turn = (place(front) - place(up) + 3) % 3 === 1 ? 1 : -1
  return turn * sign(up) * sign(front) * sign(right) > 0
}

/** Kinds of object that make a node. */
const isModel = (object: FbxObject): boolean => object.record.name === 'Model'

function readObjects(tree: FbxTree, messages: MessageCollector): Map<string, FbxObject> {
  const objects = new Map<string, FbxObject>()
  for (const list of tree.records)
    if (list.name === 'Objects')
      for (const record of list.children) {
        const [first, second, third] = record.values
        // 6.x names its objects, 7.x numbers them
        const isOld = typeof first === 'string'
        const id = String(first ?? '')
        if (id === '') continue
        if (objects.has(id)) {
          messages.add('fbx.doubled-id', { id: id.slice(0, 80) }, null, record.place)
          continue
        }
        objects.set(id, {
          id,
          name: objectName(String((isOld ? first : second) ?? '')),
          kind: String((isOld ? second : third) ?? ''),
          record,
        })
      }
  return objects
}

interface Links {
  /** Ids by the id they hang under, in file order. */
  readonly below: ReadonlyMap<string, readonly { id: string; property: string | null }[]>
  readonly parents: ReadonlyMap<string, readonly string[]>
}

function readLinks(tree: FbxTree): Links {
  const below = new Map<string, { id: string; property: string | null }[]>()
  const parents = new Map<string, string[]>()
  for (const list of tree.records)
    if (list.name === 'Connections')
      for (const record of list.children) {
        if (record.name !== 'C' && record.name !== 'Connect') continue
        const [kind, child, parent, property] = record.values
        if (child === undefined || parent === undefined) continue
        const [from, to] = [String(child), String(parent)]
        const entry = { id: from, property: String(kind) === 'OP' ? String(property ?? '') : null }
        const held = below.get(to)
        if (held) held.push(entry)
        else below.set(to, [entry])
        const over = parents.get(from)
        if (over) over.push(to)
        else parents.set(from, [to])
      }
  return { below, parents }
}

/** Models in an order in which a parent stands before its children; what only hangs in a ring is set free. */
function orderModels(
  objects: ReadonlyMap<string, FbxObject>,
  links: Links,
): { model: FbxObject; parent: number }[] {
  const ordered: { model: FbxObject; parent: number }[] = []
  const placed = new Set<string>()
  const models = [...objects.values()].filter(isModel)
  const rank = new Map(models.map((model, at) => [model.id, at]))
  const parentOf = (model: FbxObject): string | null =>
    links.parents.get(model.id)?.find((id) => objects.has(id) && isModel(objects.get(id)!)) ?? null
  const children = new Map<string, FbxObject[]>()
  for (const model of models) {
    const parent = parentOf(model)
    if (parent === null) continue
    const held = children.get(parent)
    if (held) held.push(model)
    else children.set(parent, [model])
  }
  const place = (root: FbxObject): void => {
    const waiting: { model: FbxObject; parent: number }[] = [{ model: root, parent: -1 }]
    while (waiting.length) {
      const next = waiting.pop()!
      if (placed.has(next.model.id)) continue
      placed.add(next.model.id)
      const index = ordered.push(next) - 1
      const own = [...(children.get(next.model.id) ?? [])].sort((a, b) => rank.get(b.id)! - rank.get(a.id)!)
      for (const child of own) waiting.push({ model: child, parent: index })
    }
  }
  for (const model of models) if (parentOf(model) === null) place(model)
  for (const model of models) if (!placed.has(model.id)) place(model)
  return ordered
}

function readLocal(table: PropertyTable): number[] {
  const triple = (name: string) => tripleProperty(table, name, [0, 0, 0])
  return localMatrix({
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
  })
}

function userProperties(table: PropertyTable): CustomProperties {
  const properties: Record<string, string | number | boolean | number[]> = {}
  for (const property of table.own.values()) {
    if (!property.isUser) continue
    const numbers = property.values.map(numberValue)
    const [first] = property.values
    if (typeof first === 'string') properties[property.name] = first
    else if (numbers.length === 1 && numbers[0] !== null) properties[property.name] = numbers[0]!
    else if (numbers.length > 1 && numbers.every((value) => value !== null))
      properties[property.name] = numbers as number[]
  }
  return properties
}

/** Words that the last part of a property's name holds, and the parameter they mean; the first that fits. */
const SLOT_WORDS: readonly (readonly [RegExp, Slot])[] = [
  [/normal/i, 'normal'],
  [/bump/i, 'bump'],
  [/displace/i, 'displacement'],
  [/(diffuse|base_?color|basecolor|albedo)/i, 'baseColor'],
  [/emis|emit/i, 'emissive'],
  [/ambient/i, 'ambient'],
  [/rough/i, 'roughness'],
  [/metal/i, 'metalness'],
  [/(transparen|opacity)/i, 'opacity'],
  [/(shini|gloss)/i, 'shininess'],
  [/specular/i, 'specular'],
  [/reflect/i, 'reflection'],
  [/sheen/i, 'sheen'],
  [/coat/i, 'clearcoat'],
]
const slotOf = (property: string): Slot => {
  const last = property.split('|').pop() ?? property
  return SLOT_WORDS.find(([pattern]) => pattern.test(last))?.[1] ?? 'decal'
}

interface MaterialContext {
  readonly objects: ReadonlyMap<string, FbxObject>
  readonly links: Links
  readonly templates: ReadonlyMap<string, ReadonlyMap<string, import('./properties.ts').FbxProperty>>
  readonly beside: readonly PackageFile[]
  readonly fileName: string
  readonly messages: MessageCollector
  readonly images: Map<string, SceneImage>
}

function readTexture(texture: FbxObject, property: string, context: MaterialContext): MaterialMap | null {
  const text = (record: FbxRecord | null, name: string): string => {
    const value = childOf(record, name)?.values[0]
    return typeof value === 'string' ? value : ''
  }
  const video = (context.links.below.get(texture.id) ?? [])
    .map(({ id }) => context.objects.get(id))
    .find((object) => object?.record.name === 'Video')
  const file =
    text(texture.record, 'RelativeFilename') ||
    text(texture.record, 'FileName') ||
    text(video?.record ?? null, 'RelativeFilename') ||
    text(video?.record ?? null, 'Filename')
  if (!file) return null
  if (!context.images.has(file)) {
    const content = childOf(video?.record, 'Content')?.values.find((value) => value instanceof Uint8Array)
    const embedded = content instanceof Uint8Array && content.length > 0 ? content : null
    const found = embedded ? null : findInPackage(context.beside, context.fileName, file)
    if (found?.outside) context.messages.add('image.outside', { file })
    if (!embedded && !found?.file) context.messages.add('image.missing', { file })
    context.images.set(file, {
      file,
      entry: found?.file?.name ?? null,
      bytes: embedded ?? found?.file?.bytes ?? null,
    })
  }
  return { property, slot: slotOf(property), file, options: [] }
}

function readMaterial(object: FbxObject, context: MaterialContext): Material {
  const model = childOf(object.record, 'ShadingModel')?.values[0]
  const table = propertiesOf(object.record, context.templates.get('Material') ?? null)
  return {
    name: object.name,
    model: typeof model === 'string' && model ? model.toLowerCase() : 'phong',
    properties: [...table.own.values()].map((property) => {
      const numbers = property.values.map(numberValue)
      const plain = numbers.length > 0 && numbers.every((value) => value !== null)
      return {
        name: property.name,
        values: plain ? (numbers as number[]) : [],
        text: plain ? null : String(property.values[0] ?? ''),
      }
    }),
    maps: (context.links.below.get(object.id) ?? []).flatMap(({ id, property }) => {
      const texture = context.objects.get(id)
      if (texture?.record.name !== 'Texture' || property === null) return []
      return readTexture(texture, property, context) ?? []
    }),
    kept: [],
  }
}

/** Objects that mean something and are not taken into the scene yet; said, so that nobody is surprised. */
const NOT_READ: Readonly<Record<string, string>> = {
  Deformer: 'skins and blend shapes',
  AnimationCurve: 'animation',
  Pose: 'poses',
  Constraint: 'constraints',
  LayeredTexture: 'layered textures',
}

/**
 * Reads an FBX, binary or text, versions 6.1 and later.
 *
 * @param beside all files of the package; maps are looked up among these only.
 * @throws KelboError `file.empty`, `file.not-a-model`, `fbx.version`.
 */
export function readFbx(
  file: PackageFile,
  beside: readonly PackageFile[] = [],
): { scene: Scene; findings: readonly Finding[] } {
  if (file.bytes.length === 0) throw new KelboError('file.empty', {}, file.name)
  const messages = collectMessages(file.name)
  const tree = isBinaryFbx(file.bytes)
    ? readBinaryTree(file.bytes, messages)
    : readTextTree(file.bytes, messages)
  const objects = readObjects(tree, messages)
  const links = readLinks(tree)
  const templates = readTemplates(tree.records.find((record) => record.name === 'Definitions') ?? null)
  const images = new Map<string, SceneImage>()
  const context: MaterialContext = {
    objects,
    links,
    templates,
    beside,
    fileName: file.name,
    messages,
    images,
  }

  const materials: Material[] = []
  const materialIds = new Map<string, number>()
  for (const object of objects.values())
    if (object.record.name === 'Material')
      materialIds.set(object.id, materials.push(readMaterial(object, context)) - 1)

  const meshes: Mesh[] = []
  const meshOf = new Map<string, number>()
  const cameras: SceneCamera[] = []
  const lights: SceneCamera[] = []
  const nodes: SceneNode[] = orderModels(objects, links).map(({ model, parent }, index) => {
    const table = propertiesOf(model.record, templates.get('Model') ?? null)
    const below = (links.below.get(model.id) ?? [])
      .map(({ id }) => objects.get(id))
      .filter((object) => object !== undefined)
    const geometry = below.find((object) => object.record.name === 'Geometry' && object.kind === 'Mesh')
    // in 6.x the polygons stand in the model itself
    const source = geometry?.record ?? (childOf(model.record, 'Vertices') ? model.record : null)
    const own = below.flatMap((object) => materialIds.get(object.id) ?? [])
    let mesh = -1
    if (source) {
      const geometric = geometricMatrix(
        tripleProperty(table, 'GeometricTranslation', [0, 0, 0]),
        tripleProperty(table, 'GeometricRotation', [0, 0, 0]),
        tripleProperty(table, 'GeometricScaling', [1, 1, 1]),
      )
      // one geometry in several places is one mesh, as long as it means the same in each
      const key = `${geometry?.id ?? model.id} ${own.join()} ${geometric.join()}`
      mesh = meshOf.get(key) ?? -1
      if (mesh < 0) {
        const read = readGeometry(source, model.name, messages)
        const placed = isIdentity(geometric) ? read : transformMesh(read, geometric)
        mesh =
          meshes.push({
            ...placed,
            faceMaterials: sceneMaterials(placed.faceMaterials, own, read.faceOffsets.length - 1),
          }) - 1
        meshOf.set(key, mesh)
      }
    }
    for (const attribute of [...below, model])
      if (attribute.record.name === 'NodeAttribute' || attribute === model) {
        if (attribute.kind === 'Camera') cameras.push({ name: model.name, node: index, properties: {} })
        if (attribute.kind === 'Light') lights.push({ name: model.name, node: index, properties: {} })
      }
    const show = propertyOf(table, 'Show')?.values[0]
    return {
      name: model.name,
      parent,
      mesh,
      visible: numberProperty(table, 'Visibility', 1) !== 0 && (numberValue(show) ?? 1) !== 0,
      local: readLocal(table),
      transform: null,
      properties: userProperties(table),
    }
  })
  for (const [kind, what] of Object.entries(NOT_READ)) {
    const found = [...objects.values()].filter((object) => object.record.name === kind).length
    if (found) messages.add('fbx.not-read', { what, objects: found })
  }
  if (nodes.length === 0 && materials.length === 0) throw new KelboError('file.not-a-model', {}, file.name)
  return {
    scene: {
      ...EMPTY_SCENE,
      format: 'fbx',
      formatVersion: `${(tree.version / 1000).toFixed(1)} ${tree.form}`,
      space: readSpace(tree),
      nodes,
      meshes,
      materials,
      images: [...images.values()],
      // an attribute hangs under its model once; the model's own kind says the same again
      cameras: distinct(cameras),
      lights: distinct(lights),
    },
    findings: messages.list(),
  }
}

const distinct = (items: readonly SceneCamera[]): SceneCamera[] =>
  items.filter((item, at) => items.findIndex((other) => other.node === item.node) === at)

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
