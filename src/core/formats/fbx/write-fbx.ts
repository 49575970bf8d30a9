/** A scene to FBX 7.4 or 7.5, in its binary or its text form. */
import { PURE_CODEC } from '../../base/bytes/zlib.ts'
import { isNearly, multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages, type MessageCollector } from '../../base/messages/collector.ts'
import { TEXT_PIECES, type KeptProperty } from '../../scene/kept.ts'
import type { Axis, CustomProperties, Scene, SceneNode, Space } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { chooseNodes, moveToSpace, staysAsStated, triangulateScene } from '../arrange/arrange-scene.ts'
import { lossesOfKept } from '../arrange/losses-of-kept.ts'
import { groupsToMaterials } from '../arrange/groups-to-materials.ts'
import type { PackageFile } from '../package/package-file.ts'
import { decompose } from './decompose.ts'
import { FBX_WRITE_DEFAULTS, type FbxWriteOptions } from './options.ts'
import {
  chainOf,
  childSpace,
  inheritedLocal,
  type ParentSpace,
  type TransformChain,
} from './transform-chain.ts'
import { rescaleKept } from './rescale-kept.ts'
import { writeBinaryTree } from './write-binary-tree.ts'
import { writeShapes, writeSkin } from './write-deformers.ts'
import { lossesOf, writeGeometry } from './write-geometry.ts'
import { createGraphWriter, definitionRecords, type GraphWriter } from './write-graph.ts'
import { keptChildren, keptSection, keptSections, templatesOf, writeKept } from './write-kept.ts'
import { writeMaterials } from './write-materials.ts'
import { writeTextTree } from './write-text-tree.ts'
import {
  double,
  int,
  integerRow,
  keptRow,
  long,
  numberRow,
  propertyRow,
  record,
  type WriteRecord,
} from './write-tree.ts'

/** A date for all files, so that the same scene gives the same bytes; the file's identity goes with it. */
const TIME = '1970-01-01 10:00:00:000'
const FILE_ID = Uint8Array.from([
  0x28, 0xb3, 0x2a, 0xeb, 0xb6, 0x24, 0xcc, 0xc2, 0xbf, 0xc8, 0xb0, 0x2a, 0xa9, 0x2b, 0xfc, 0xf1,
])

function axisRows(space: Space): WriteRecord[] {
  const parts = (axis: Axis): [number, number] => [
    'xyz'.indexOf(axis.slice(-1)),
    axis.startsWith('-') ? -1 : 1,
  ]
  const [up, upSign] = parts(space.upAxis)
  const [front, frontSign] = parts(space.frontAxis)
  const right = 3 - up - front
  // up x front points along the first axis in a right-handed file
  const turn = (front - up + 3) % 3 === 1 ? 1 : -1
  const rightSign = turn * upSign * frontSign * (space.handedness === 'right' ? 1 : -1)
  return [
    integerRow('UpAxis', up),
    integerRow('UpAxisSign', upSign),
    integerRow('FrontAxis', front),
    integerRow('FrontAxisSign', frontSign),
    integerRow('CoordAxis', right),
    integerRow('CoordAxisSign', rightSign),
    // a centimetre is what a unit is taken for where the file doesn't say
    numberRow('UnitScaleFactor', (space.unitMeters ?? 0.01) * 100),
  ]
}

function settingsRows(scene: Scene, first: Space): WriteRecord[] {
  const rows = axisRows(scene.space)
  const kept = scene.kept?.settings.map(keptRow) ?? []
  const known = new Set(scene.kept?.settings.map((setting) => setting.name))
  // what a scene came from is told once: a file that had it keeps it
  const original = [
    integerRow('OriginalUpAxis', 'xyz'.indexOf(first.upAxis.slice(-1))),
    integerRow('OriginalUpAxisSign', first.upAxis.startsWith('-') ? -1 : 1),
    numberRow('OriginalUnitScaleFactor', (first.unitMeters ?? 0.01) * 100),
  ].filter((row) => !known.has(String(row.values[0])))
  return [...rows, ...original, ...kept]
}

/** A node's own properties: those that were kept with their types, and those that have come since. */
function customRows(properties: CustomProperties, kept: readonly KeptProperty[]): WriteRecord[] {
  const rows = kept.flatMap((property) => {
    const now = properties[property.name]
    const isUser = property.flags.includes('U')
    // taken away since
    if (isUser && now === undefined) return []
    const same = !isUser || JSON.stringify([now].flat()) === JSON.stringify(property.values)
    return [keptRow(same ? property : { ...property, values: [now].flat() as KeptProperty['values'] })]
  })
  const known = new Set(kept.map((property) => property.name))
  for (const [name, value] of Object.entries(properties))
    if (!known.has(name))
      rows.push(
        typeof value === 'string'
          ? propertyRow(name, 'KString', '', 'U', value)
          : propertyRow(name, 'Number', '', 'AU', ...[value].flat().map((part) => double(Number(part)))),
      )
  return rows
}

const near = (a: Matrix, b: Matrix): boolean => {
  const size = Math.max(1, ...a.map(Math.abs))
  return isNearly(a, b, 1e-9 * size)
}

/** The chain that a node is written with: its own where that still gives its matrix, else move, turn and scale. */
function chainFor(node: SceneNode, above: ParentSpace | null, messages: MessageCollector): TransformChain {
  if (node.transform) {
    const own = chainOf(node.transform)
    if (near(inheritedLocal(own, above), node.local)) return own
  }
  const { translation, rotation, scaling, error } = decompose(node.local)
  if (error > 1e-6) messages.add('write.not-carried', { format: 'FBX', what: `the shear of “${node.name}”` })
  const none = [0, 0, 0] as const
  return {
    translation,
    rotation,
    scaling,
    rotationOrder: 0,
    rotationOffset: none,
    rotationPivot: none,
    preRotation: none,
    postRotation: none,
    scalingOffset: none,
    scalingPivot: none,
    inheritType: 1,
  }
}

function chainRows(chain: TransformChain): WriteRecord[] {
  const rows: WriteRecord[] = []
  const triple = (name: string, values: readonly number[]): void => {
    if (values.some((value) => value !== 0))
      rows.push(propertyRow(name, 'Vector3D', 'Vector', '', ...values.map(double)))
  }
  if (chain.rotationOrder !== 0)
    rows.push(propertyRow('RotationOrder', 'enum', '', '', int(chain.rotationOrder)))
  triple('RotationOffset', chain.rotationOffset)
  triple('RotationPivot', chain.rotationPivot)
  triple('ScalingOffset', chain.scalingOffset)
  triple('ScalingPivot', chain.scalingPivot)
  triple('PreRotation', chain.preRotation)
  triple('PostRotation', chain.postRotation)
  // readers pass over pre-rotation and the order of a node that doesn't say it turns by them
  if (rows.length) rows.unshift(propertyRow('RotationActive', 'bool', '', '', int(1)))
  return [
    propertyRow('InheritType', 'enum', '', '', int(chain.inheritType ?? 1)),
    ...rows,
    propertyRow('Lcl Translation', 'Lcl Translation', '', 'A', ...chain.translation.map(double)),
    propertyRow('Lcl Rotation', 'Lcl Rotation', '', 'A', ...chain.rotation.map(double)),
    propertyRow('Lcl Scaling', 'Lcl Scaling', '', 'A', ...chain.scaling.map(double)),
  ]
}

/** Pieces of a text format that came with nodes and meshes mean nothing here. */
const withoutTextPieces = (scene: Scene): Scene => {
  const bare = <Item extends { readonly kept?: readonly KeptProperty[] }>(item: Item): Item =>
    item.kept?.some(({ type }) => TEXT_PIECES.has(type))
      ? { ...item, kept: item.kept.filter(({ type }) => !TEXT_PIECES.has(type)) }
      : item
  return { ...scene, nodes: scene.nodes.map(bare), meshes: scene.meshes.map(bare) }
}

/** Cameras and lights hang on their node. */
function writeAttributes(scene: Scene, graph: GraphWriter, nodeIds: readonly bigint[]): void {
  for (const [list, kind] of [
    [scene.cameras, 'Camera'],
    [scene.lights, 'Light'],
  ] as const)
    for (const item of list) {
      const node = nodeIds[item.node]
      if (node === undefined) continue
      const rows = item.kept
        ? item.kept.map(keptRow)
        : customRows(item.properties, []).map((row) =>
            record(
              'P',
              row.values.map((value, at) => (at === 3 ? 'A' : value)),
            ),
          )
      graph.link(
        graph.add(
          'NodeAttribute',
          item.name,
          kind,
          [
            record('Properties70', [], rows),
            record('TypeFlags', [kind]),
            record('GeometryVersion', [int(124)]),
          ],
          item.source,
        ),
        node,
      )
    }
}

/** Everything in a scene that came with a number of its own. */
function* sourcesOf(scene: Scene): Generator<string> {
  for (const list of [scene.nodes, scene.meshes, scene.materials, scene.cameras, scene.lights])
    for (const item of list) if (item.source !== undefined) yield item.source
  for (const mesh of scene.meshes)
    for (const shape of mesh.shapes) if (shape.source !== undefined) yield shape.source
  for (const material of scene.materials)
    for (const map of material.maps) if (map.placement?.source !== undefined) yield map.placement.source
  for (const { id } of scene.kept?.objects ?? []) yield id
}

/**
 * Writes what the options ask for, in their unit and axes; the result's `space` says what the numbers mean.
 * The same scene and options give the same bytes.
 *
 * Findings: `write.not-carried` for what was asked for and FBX has no words for; `write.unit-assumed`;
 * `write.not-converted`.
 */
export function writeFbx(
  whole: Scene,
  fileName: string,
  options: Partial<FbxWriteOptions> = {},
): { files: PackageFile[]; findings: readonly Finding[]; space: Space } {
  const settings: FbxWriteOptions = { ...FBX_WRITE_DEFAULTS, ...options }
  const messages = collectMessages(fileName)
  const arranged = withoutTextPieces(arrange(whole, settings))
  for (const what of staysAsStated(whole.space, settings)) messages.add('write.stays', { what })
  if (arranged.space.unitMeters === null)
    messages.add('write.unit-assumed', { format: 'FBX', unit: 'a centimetre' })
  const rescaled = arranged.kept?.format === 'fbx' ? rescaleKept(arranged.kept) : null
  const scene = rescaled ? { ...arranged, kept: rescaled.kept } : arranged
  if (rescaled?.left.length) messages.add('write.not-converted', { what: rescaled.left.join(', ') })
  const graph = createGraphWriter(sourcesOf(scene))

  const files: PackageFile[] = []
  const materialIds = settings.materials === 'none' ? [] : writeMaterials(scene, graph, settings, files)
  const geometryIds = scene.meshes.map((mesh) =>
    graph.add('Geometry', mesh.ownName ?? mesh.name, 'Mesh', writeGeometry(mesh, settings), mesh.source),
  )
  const cameraNodes = new Set(scene.cameras.map((camera) => camera.node))
  const lightNodes = new Set(scene.lights.map((light) => light.node))
  const nodeIds: bigint[] = []
  const spaces: ParentSpace[] = []
  scene.nodes.forEach((node, index) => {
    const above = node.parent < 0 ? null : spaces[node.parent]!
    const chain = chainFor(node, above, messages)
    spaces.push(childSpace(chain, above, above ? multiplyMatrices(above.world, node.local) : node.local))
    const type =
      node.mesh >= 0
        ? 'Mesh'
        : cameraNodes.has(index)
          ? 'Camera'
          : lightNodes.has(index)
            ? 'Light'
            : (node.role ?? 'Null')
    const id = graph.add(
      'Model',
      node.name,
      type,
      [
        record('Version', [int(232)]),
        record(
          'Properties70',
          [],
          [
            ...chainRows(chain),
            ...(node.visible ? [] : [propertyRow('Visibility', 'Visibility', '', 'A', double(0))]),
            ...customRows(node.properties, node.kept ?? []),
          ],
        ),
        record('Shading', [true]),
        record('Culling', ['CullingOff']),
      ],
      node.source,
    )
    nodeIds.push(id)
    graph.link(id, node.parent < 0 ? 0n : nodeIds[node.parent]!)
    if (node.mesh < 0) return
    graph.link(geometryIds[node.mesh]!, id)
    for (const material of new Set(scene.meshes[node.mesh]!.faceMaterials ?? []))
      if (material >= 0 && materialIds[material] !== undefined) graph.link(materialIds[material]!, id)
  })
  writeAttributes(scene, graph, nodeIds)
  if (settings.shapes) {
    const worlds = worldMatrices(scene)
    scene.meshes.forEach((mesh, index) => {
      writeShapes(mesh, geometryIds[index]!, graph)
      const node = mesh.skin ? scene.nodes.findIndex((candidate) => candidate.mesh === index) : -1
      if (node >= 0) writeSkin(mesh, geometryIds[index]!, graph, nodeIds, worlds, node)
    })
  }
  writeKept(scene, graph, messages)
  const lost = new Set(scene.meshes.flatMap((mesh) => lossesOf(mesh, settings)))
  for (const what of [...lost, ...lossesOfKept(scene, 'fbx')])
    messages.add('write.not-carried', { format: 'FBX', what })

  const records = [
    record(
      'FBXHeaderExtension',
      [],
      [
        record('FBXHeaderVersion', [int(1003)]),
        record('FBXVersion', [int(settings.version)]),
        record('EncryptionType', [int(0)]),
        record('Creator', ['Kelbo']),
        ...keptChildren(scene, 'FBXHeaderExtension'),
      ],
    ),
    record('FileId', [FILE_ID]),
    record('CreationTime', [TIME]),
    record('Creator', ['Kelbo']),
    record(
      'GlobalSettings',
      [],
      [record('Version', [int(1000)]), record('Properties70', [], settingsRows(scene, whole.space))],
    ),
    keptSection(scene, 'Documents') ??
      record(
        'Documents',
        [],
        [
          record('Count', [int(1)]),
          record('Document', [long(999999), '', 'Scene'], [record('RootNode', [long(0)])]),
        ],
      ),
    record('References', [], keptChildren(scene, 'References'), true),
    record('Definitions', [], definitionRecords(graph.counts, templatesOf(scene))),
    record('Objects', [], graph.objects),
    record('Connections', [], graph.links),
    ...keptSections(scene),
  ]
  const bytes =
    settings.form === 'text'
      ? writeTextTree(records, settings.version)
      : writeBinaryTree(records, settings.version, settings.codec ?? PURE_CODEC, settings.packAll)
  return { files: [{ name: fileName, bytes }, ...files], findings: messages.list(), space: scene.space }
}

/** What leaves, as it leaves. */
function arrange(whole: Scene, settings: FbxWriteOptions): Scene {
  let scene = chooseNodes(whole, settings)
  if (settings.triangulate) scene = triangulateScene(scene)
  if (settings.groups && settings.groupsAs === 'materials') scene = groupsToMaterials(scene)
  return moveToSpace(scene, settings)
}
