/** A scene to COLLADA 1.4.1. Source: Khronos, “COLLADA – Digital Asset Schema”, release 1.4.1. */
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages } from '../../base/messages/collector.ts'
import { invertAffine, multiplyMatrices } from '../../base/math/matrix.ts'
import type { BlendShape, Mesh } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX, type Scene, type Space } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { chooseNodes, moveToSpace, pointsFactor, triangulateScene } from '../arrange/arrange-scene.ts'
import { lossesOfKept } from '../arrange/losses-of-kept.ts'
import type { PackageFile } from '../package/package-file.ts'
import { COLLADA_WRITE_DEFAULTS, type ColladaWriteOptions } from './options.ts'
import { writeCamera, writeLight } from './write-cameras.ts'
import { lossesOf, symbolOf, writeGeometry, writeNotes, writeSource } from './write-geometry.ts'
import { writeMaterials } from './write-materials.ts'
import { createIds, createXmlWriter, type XmlWriter } from './xml-writer.ts'

const SCHEMA = 'http://www.collada.org/2005/11/COLLADASchema'
/** A date for all files, so that the same scene gives the same bytes. */
const TIME = '1970-01-01T00:00:00Z'

/** Axes that the format has words for. */
function axesOf(
  { upAxis, frontAxis, handedness }: Space,
  wanted: ColladaWriteOptions['upAxis'],
): 'x' | 'y' | 'z' {
  if (wanted) return wanted
  const isKnown =
    handedness === 'right' &&
    ((upAxis === 'z' && frontAxis === '-y') || ((upAxis === 'y' || upAxis === 'x') && frontAxis === 'z'))
  return isKnown ? (upAxis as 'x' | 'y' | 'z') : 'y'
}

const rows = (matrix: ArrayLike<number>): number[] =>
  Array.from({ length: 16 }, (_none, at) => matrix[4 * (at % 4) + Math.floor(at / 4)]!)

/**
 * Writes what the options ask for, in their unit and axes. The same scene and options give the same bytes.
 *
 * Findings: `write.not-carried`, `write.part-skipped`, `write.not-converted`, `write.moved-animation`.
 */
export function writeCollada(
  whole: Scene,
  fileName: string,
  options: Partial<ColladaWriteOptions> = {},
): { files: PackageFile[]; findings: readonly Finding[]; space: Space } {
  const settings: ColladaWriteOptions = { ...COLLADA_WRITE_DEFAULTS, ...options }
  const messages = collectMessages(fileName)
  let chosen = chooseNodes(whole, settings)
  if (settings.triangulate) chosen = triangulateScene(chosen)
  const upAxis = axesOf(chosen.space, settings.upAxis)
  const target = {
    unitMeters: settings.unitMeters,
    unitAs: settings.unitAs,
    scale: settings.scale,
    upAxis,
    frontAxis: upAxis === 'z' ? '-y' : 'z',
    mirrored: false,
    axesAs: 'points',
  } as const
  const scene = moveToSpace(chosen, target)
  const lengths = pointsFactor(chosen.space, target)
  const files: PackageFile[] = []
  const lost = new Set<string>()
  const idOf = createIds()
  const xml = createXmlWriter()
  // sources first: kept animation names nodes by them
  const nodeIds = scene.nodes.map(({ source }) =>
    source !== undefined && scene.kept?.format === 'collada' ? idOf(source) : '',
  )
  scene.nodes.forEach(({ name }, index) => {
    nodeIds[index] ||= idOf(name || 'node')
  })
  const geometryIds = scene.meshes.map(({ ownName, name }) => idOf(`${ownName ?? name}-mesh`))
  const cameraIds = scene.cameras.map(({ name }) => idOf(`${name}-camera`))
  const lightIds = scene.lights.map(({ name }) => idOf(`${name}-light`))

  xml.element('COLLADA', { xmlns: SCHEMA, version: '1.4.1' }, () => {
    xml.element('asset', {}, () => {
      xml.element('contributor', {}, () => xml.leaf('authoring_tool', {}, 'Kelbo'))
      xml.leaf('created', {}, TIME)
      xml.leaf('modified', {}, TIME)
      if (scene.space.unitMeters !== null) xml.leaf('unit', { name: 'unit', meter: scene.space.unitMeters })
      xml.leaf('up_axis', {}, `${upAxis.toUpperCase()}_UP`)
    })
    if (scene.cameras.length)
      xml.element('library_cameras', {}, () =>
        scene.cameras.forEach(({ name, properties }, at) =>
          writeCamera(xml, cameraIds[at]!, name, properties, lengths),
        ),
      )
    if (scene.lights.length)
      xml.element('library_lights', {}, () =>
        scene.lights.forEach(({ name, properties }, at) => writeLight(xml, lightIds[at]!, name, properties)),
      )
    const materials =
      settings.materials === 'none' ? null : writeMaterials(xml, scene, settings, idOf, files, messages)
    const worlds = worldMatrices(scene)
    const controllerIds = scene.meshes.map(() => '')
    const hasPoints = (mesh: Mesh): boolean => mesh.points.length > 0
    if (scene.meshes.some(hasPoints))
      xml.element('library_geometries', {}, () =>
        scene.meshes.forEach((mesh, index) => {
          if (!hasPoints(mesh)) {
            messages.add('write.part-skipped', { name: mesh.name })
            return
          }
          for (const what of lossesOf(mesh, settings)) lost.add(what)
          writeGeometry(xml, mesh, geometryIds[index]!, settings, lost)
          if (settings.shapes)
            mesh.shapes.forEach((shape, at) =>
              writeTarget(xml, mesh, shape, targetId(geometryIds[index]!, at)),
            )
        }),
      )
    const controlled = scene.meshes.flatMap((mesh, index) =>
      settings.shapes && hasPoints(mesh) && (mesh.skin || mesh.shapes.length) ? [index] : [],
    )
    if (controlled.length)
      xml.element('library_controllers', {}, () => {
        for (const index of controlled) {
          const mesh = scene.meshes[index]!
          let source = geometryIds[index]!
          if (mesh.shapes.length) {
            const id = idOf(`${source}-morph`)
            writeMorph(xml, mesh, source, id)
            source = id
          }
          if (mesh.skin?.jointNodes.some((joint) => joint < 0))
            lost.add('skins with joints that are not there')
          else if (mesh.skin) {
            const id = idOf(`${geometryIds[index]!}-skin`)
            const node = scene.nodes.findIndex((candidate) => candidate.mesh === index)
            writeSkin(xml, mesh, source, id, nodeIds, worlds, node)
            source = id
          }
          controllerIds[index] = source === geometryIds[index] ? '' : source
        }
      })
    writeKept(xml, scene, messages)
    const children = scene.nodes.map((): number[] => [])
    scene.nodes.forEach(({ parent }, index) => parent >= 0 && children[parent]!.push(index))
    const cameraOf = new Map(scene.cameras.map(({ node }, at) => [node, cameraIds[at]!]))
    const lightOf = new Map(scene.lights.map(({ node }, at) => [node, lightIds[at]!]))
    const joints = new Set(scene.meshes.flatMap(({ skin }) => (skin ? [...skin.jointNodes] : [])))
    const writeNode = (index: number): void => {
      const node = scene.nodes[index]!
      const id = nodeIds[index]!
      const isJoint = node.role === 'LimbNode' || joints.has(index)
      xml.element(
        'node',
        { id, name: node.name, sid: isJoint ? id : undefined, type: isJoint ? 'JOINT' : 'NODE' },
        () => {
          xml.numbers('matrix', { sid: 'matrix' }, rows(node.local), 16)
          if (cameraOf.has(index)) xml.leaf('instance_camera', { url: `#${cameraOf.get(index)!}` })
          const mesh = node.mesh >= 0 ? scene.meshes[node.mesh]! : null
          const controller = mesh ? controllerIds[node.mesh]! : ''
          const instance = (): void => {
            if (mesh?.skin && controller) {
              const roots = new Set([...mesh.skin.jointNodes].map((joint) => rootOf(scene, joint)))
              for (const root of roots) xml.leaf('skeleton', {}, `#${nodeIds[root]!}`)
            }
            const used = materials
              ? [...new Set(mesh!.faceMaterials ?? [])].filter((material) => material >= 0)
              : []
            if (used.length === 0) return
            xml.element('bind_material', {}, () =>
              xml.element('technique_common', {}, () => {
                for (const material of used)
                  xml.element(
                    'instance_material',
                    { symbol: symbolOf(material), target: `#${materials!.ids[material]!}` },
                    () => {
                      const bind = (semantic: string, set: number): void =>
                        xml.leaf('bind_vertex_input', {
                          semantic,
                          input_semantic: 'TEXCOORD',
                          input_set: set,
                        })
                      if (settings.uvs && mesh!.uvSets.length) bind('UVSET0', 0)
                      for (const [name, semantic] of materials!.sets.get(material) ?? []) {
                        const set = mesh!.uvSets.findIndex((own) => own.name === name)
                        if (set >= 0) bind(semantic, set)
                      }
                    },
                  )
              }),
            )
          }
          if (mesh && hasPoints(mesh))
            xml.element(
              controller ? 'instance_controller' : 'instance_geometry',
              { url: `#${controller || geometryIds[node.mesh]!}` },
              instance,
            )
          if (lightOf.has(index)) xml.leaf('instance_light', { url: `#${lightOf.get(index)!}` })
          for (const child of children[index]!) writeNode(child)
          const notes = {
            ...(node.visible ? {} : { visible: false }),
            ...(Object.keys(node.properties).length ? { properties: node.properties } : {}),
          }
          if (Object.keys(notes).length) writeNotes(xml, notes)
        },
      )
    }
    xml.element('library_visual_scenes', {}, () =>
      xml.element('visual_scene', { id: idOf('scene') }, () =>
        scene.nodes.forEach(({ parent }, index) => parent < 0 && writeNode(index)),
      ),
    )
    xml.element('scene', {}, () => xml.leaf('instance_visual_scene', { url: '#scene' }))
  })
  for (const what of lossesOfKept(scene, 'collada')) lost.add(what)
  for (const what of lost) messages.add('write.not-carried', { format: 'COLLADA', what })
  return {
    files: [{ name: fileName, bytes: xml.bytes() }, ...files],
    findings: messages.list(),
    space: scene.space,
  }
}

/** The root that a joint hangs under. */
function rootOf({ nodes }: Scene, joint: number): number {
  let root = joint
  while (nodes[root]!.parent >= 0) root = nodes[root]!.parent
  return root
}

const targetId = (geometry: string, shape: number): string => `${geometry}-shape${shape}`

/** A shape as a geometry of its own: the points as they are when it is reached. */
function writeTarget(xml: XmlWriter, { points }: Mesh, shape: BlendShape, id: string): void {
  const moved = points.slice()
  shape.points.forEach((point, at) => {
    for (let axis = 0; axis < 3; axis++) moved[3 * point + axis]! += shape.offsets[3 * at + axis]!
  })
  xml.element('geometry', { id, name: shape.name }, () =>
    xml.element('mesh', {}, () => {
      writeSource(xml, `${id}-points`, moved, ['X', 'Y', 'Z'])
      xml.element('vertices', { id: `${id}-vertices` }, () =>
        xml.leaf('input', { semantic: 'POSITION', source: `#${id}-points` }),
      )
    }),
  )
}

function writeWords(
  xml: XmlWriter,
  kind: 'Name_array' | 'IDREF_array',
  id: string,
  words: readonly string[],
  param: string,
): void {
  xml.element('source', { id }, () => {
    xml.leaf(kind, { id: `${id}-array`, count: words.length }, words.join(' '))
    xml.element('technique_common', {}, () =>
      xml.element('accessor', { source: `#${id}-array`, count: words.length, stride: 1 }, () =>
        xml.leaf('param', { name: param, type: kind === 'Name_array' ? 'name' : 'IDREF' }),
      ),
    )
  })
}

function writeMorph(xml: XmlWriter, { shapes, name }: Mesh, geometry: string, id: string): void {
  xml.element('controller', { id, name }, () =>
    xml.element('morph', { source: `#${geometry}`, method: 'NORMALIZED' }, () => {
      writeWords(
        xml,
        'IDREF_array',
        `${id}-targets`,
        shapes.map((_shape, at) => targetId(geometry, at)),
        'IDREF',
      )
      writeSource(
        xml,
        `${id}-weights`,
        shapes.map(({ weight = 0 }) => weight / 100),
        ['MORPH_WEIGHT'],
      )
      xml.element('targets', {}, () => {
        xml.leaf('input', { semantic: 'MORPH_TARGET', source: `#${id}-targets` })
        xml.leaf('input', { semantic: 'MORPH_WEIGHT', source: `#${id}-weights` })
      })
    }),
  )
}

function writeSkin(
  xml: XmlWriter,
  { skin, name, points }: Mesh,
  source: string,
  id: string,
  nodeIds: readonly string[],
  worlds: readonly (readonly number[])[],
  node: number,
): void {
  const { jointNodes, meshBinds, jointBinds, offsets, joints, weights } = skin!
  const binds = [...jointNodes].flatMap((jointNode, joint) => {
    if (meshBinds) return rows(meshBinds.subarray(16 * joint, 16 * joint + 16))
    const here = jointBinds ? [...jointBinds.subarray(16 * joint, 16 * joint + 16)] : worlds[jointNode]!
    return rows(multiplyMatrices(invertAffine(here) ?? IDENTITY_MATRIX, worlds[node]!))
  })
  const pointCount = points.length / 3
  xml.element('controller', { id, name }, () =>
    xml.element('skin', { source: `#${source}` }, () => {
      xml.numbers('bind_shape_matrix', {}, rows(IDENTITY_MATRIX), 16)
      writeWords(
        xml,
        'Name_array',
        `${id}-joints`,
        [...jointNodes].map((joint) => nodeIds[joint]!),
        'JOINT',
      )
      writeSource(xml, `${id}-binds`, binds, ['TRANSFORM'], 'float4x4')
      writeSource(xml, `${id}-weights`, weights, ['WEIGHT'])
      xml.element('joints', {}, () => {
        xml.leaf('input', { semantic: 'JOINT', source: `#${id}-joints` })
        xml.leaf('input', { semantic: 'INV_BIND_MATRIX', source: `#${id}-binds` })
      })
      xml.element('vertex_weights', { count: pointCount }, () => {
        xml.leaf('input', { semantic: 'JOINT', source: `#${id}-joints`, offset: 0 })
        xml.leaf('input', { semantic: 'WEIGHT', source: `#${id}-weights`, offset: 1 })
        xml.numbers(
          'vcount',
          {},
          Array.from({ length: pointCount }, (_none, point) => offsets[point + 1]! - offsets[point]!),
          40,
        )
        xml.numbers(
          'v',
          {},
          Array.from({ length: 2 * joints.length }, (_none, at) => (at % 2 ? (at - 1) / 2 : joints[at / 2]!)),
          40,
        )
      })
    }),
  )
}

/** Libraries that came with the file, as they stand there. */
function writeKept(xml: XmlWriter, scene: Scene, messages: ReturnType<typeof collectMessages>): void {
  const { kept } = scene
  if (kept?.format !== 'collada' || kept.sections.length === 0) return
  if (kept.since && (kept.since.turned || kept.since.scale !== 1))
    messages.add('write.not-converted', { what: 'animation and what else the file has beside the model' })
  const bySource = new Map(scene.nodes.map((node) => [node.source, node]))
  const moved = (kept.animated ?? []).flatMap(({ node: source, local }) => {
    const node = bySource.get(source)
    if (!node || kept.since) return []
    const size = Math.max(1, ...local.map(Math.abs))
    return node.local.some((value, at) => Math.abs(value - local[at]!) > 1e-6 * size) ? [node.name] : []
  })
  if (moved.length)
    messages.add('write.moved-animation', { count: moved.length, parts: moved.slice(0, 4).join(', ') })
  for (const { values } of kept.sections) if (typeof values[0] === 'string') xml.raw(values[0])
}
