/** A scene to glTF 2.0: one binary file, or text with its numbers and maps inside or beside it. */
import { encodeBase64 } from '../../base/bytes/base64.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages } from '../../base/messages/collector.ts'
import { type Scene, type Space } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { chooseNodes, moveToSpace, triangulateScene, visibleNodes } from '../arrange/arrange-scene.ts'
import { lossesOfKept } from '../arrange/losses-of-kept.ts'
import { stemOf, type PackageFile } from '../package/package-file.ts'
import { createBufferWriter, type BufferWriter } from './buffer-writer.ts'
import { binaryContainer } from './container.ts'
import { writeExtras } from './kept-extras.ts'
import { GLTF_WRITE_DEFAULTS, type GltfWriteOptions } from './options.ts'
import { placeNode } from './place-node.ts'
import { animatedSources, writeAnimations } from './write-animations.ts'
import { cameraWords, lightWords } from './write-cameras.ts'
import { hasPlace, liftSkinned } from './lift-skinned.ts'
import { writeSkins } from './write-skins.ts'
import { writeMaterials } from './write-materials.ts'
import { writeMesh } from './write-mesh.ts'
import { writeVariants } from './write-variants.ts'

/** A node that shears more than this, of its largest entry, is told. */
const SHEARS = 1e-6

function formOf(settings: GltfWriteOptions, fileName: string): 'binary' | 'beside' | 'inside' {
  if (settings.form) return settings.form
  return fileName.toLowerCase().endsWith('.gltf') ? 'beside' : 'binary'
}

const listed = (name: string, list: readonly unknown[]): Record<string, unknown> =>
  list.length ? { [name]: list } : {}

/**
 * Writes what the options ask for, in metres with Y up. The same scene and options give the same bytes.
 *
 * Findings: `write.not-carried` for what was asked for and glTF has no words for; `write.unit-assumed`;
 * `write.part-skipped`; `gltf.image-kind`, `gltf.map-channels`.
 */
export function writeGltf(
  whole: Scene,
  fileName: string,
  options: Partial<GltfWriteOptions> = {},
): { files: PackageFile[]; findings: readonly Finding[]; space: Space } {
  const settings: GltfWriteOptions = { ...GLTF_WRITE_DEFAULTS, ...options }
  const form = formOf(settings, fileName)
  const messages = collectMessages(fileName)
  let chosen = chooseNodes(whole, settings)
  if (settings.triangulate || !settings.polygons) chosen = triangulateScene(chosen)
  if (chosen.space.unitMeters === null)
    messages.add('write.unit-assumed', { format: 'glTF', unit: 'a metre' })
  const scene = moveToSpace(chosen, {
    unitMeters: settings.takenFor ?? 1,
    unitAs: settings.unitAs,
    scale: settings.scale,
    upAxis: 'y',
    frontAxis: 'z',
    mirrored: false,
    axesAs: 'points',
  })
  const ratio =
    settings.unitAs === 'points'
      ? ((whole.space.unitMeters ?? settings.takenFor ?? 1) / (settings.takenFor ?? 1)) * settings.scale
      : 1

  const writer: BufferWriter = createBufferWriter()
  const files: PackageFile[] = []
  const lost = new Set<string>()
  const used = new Set<string>()
  const surfaces =
    settings.materials === 'none' ? null : writeMaterials(scene, settings, form, writer, files, messages)
  const written = scene.meshes.map((mesh) =>
    writeMesh(
      mesh,
      scene,
      surfaces ?? { normalSets: new Map(), setCounts: new Map() },
      settings,
      writer,
      messages,
      lost,
    ),
  )
  const looks = surfaces
    ? writeVariants(
        scene,
        written.map((mesh) => mesh && (mesh.json as { primitives: [] })),
        lost,
      )
    : null
  for (const extension of Object.keys(looks ?? {})) used.add(extension)
  for (const mesh of written) for (const extension of mesh?.extensions ?? []) used.add(extension)
  const meshes = written.flatMap((mesh) => (mesh ? [mesh.json] : []))
  let meshCount = 0
  const meshNumbers = written.map((mesh) => (mesh ? meshCount++ : -1))
  for (const extension of surfaces?.extensions ?? []) used.add(extension)

  const worlds = worldMatrices(scene)
  const {
    skins,
    ofNode: skinOfNode,
    areBroken,
  } = settings.shapes
    ? writeSkins(scene, worlds, writer, (mesh) => meshNumbers[mesh]! >= 0)
    : { skins: [], ofNode: scene.nodes.map(() => -1), areBroken: false }
  if (areBroken) lost.add('skins with joints that are not there')
  const isSkinned = new Set(scene.nodes.flatMap(({ mesh }, node) => (skinOfNode[node]! >= 0 ? [mesh] : [])))
  // weights without a skin mean nothing
  meshes.forEach((json, number) => {
    const index = meshNumbers.indexOf(number)
    if (isSkinned.has(index)) return
    for (const primitive of json.primitives as { attributes: Record<string, number> }[])
      for (const semantic of Object.keys(primitive.attributes))
        if (/^(JOINTS|WEIGHTS)_/.test(semantic)) delete primitive.attributes[semantic]
  })

  const animated = animatedSources(scene)
  const cameraOf = new Map(scene.cameras.map((camera, index) => [camera.node, index]))
  const lightOf = new Map(scene.lights.map((light, index) => [light.node, index]))
  const sheared: number[] = []
  const words = scene.nodes.map((node, index) => {
    const { words: place, error } = placeNode(node.local, animated.has(node.source ?? ''))
    if (error > SHEARS) sheared.push(index)
    const extensions: Record<string, object> = {}
    if (lightOf.has(index)) extensions.KHR_lights_punctual = { light: lightOf.get(index) }
    if (!node.visible) extensions.KHR_node_visibility = { visible: false }
    for (const extension of Object.keys(extensions)) used.add(extension)
    const mesh = node.mesh >= 0 ? meshNumbers[node.mesh]! : -1
    const skin = skinOfNode[index]!
    return {
      name: node.name,
      ...place,
      ...(mesh >= 0 ? { mesh } : {}),
      ...(skin >= 0 ? { skin } : {}),
      ...(cameraOf.has(index) ? { camera: cameraOf.get(index) } : {}),
      ...(Object.keys(extensions).length ? { extensions } : {}),
      ...writeExtras(node.properties, node.kept),
    }
  })
  const shown = visibleNodes(scene)
  const { nodes, roots } = liftSkinned(
    words,
    scene.nodes.map(({ parent }) => parent),
    (node) => !shown[node],
  )
  // where joints hold a mesh its binds have the shear
  for (const node of sheared)
    if (hasPlace(nodes[node]!)) lost.add(`the shear of “${scene.nodes[node]!.name}”`)
  const sources = new Map(
    scene.nodes.flatMap(({ source }, index) => (source === undefined ? [] : [[source, index] as const])),
  )
  const animations = writeAnimations(scene, sources, writer, messages)
  if (!surfaces && scene.kept?.sections.some(({ name }) => name === 'looks'))
    lost.add('looks of its materials')
  for (const what of lossesOfKept(scene, 'gltf')) lost.add(what)
  for (const what of lost) messages.add('write.not-carried', { format: 'glTF', what })

  const chunk = writer.chunk()
  const apart = (): Uint8Array => {
    const bytes = new Uint8Array(chunk.length)
    chunk.writeTo(bytes)
    return bytes
  }
  const binName = `${stemOf(fileName)}.bin`
  const buffer = {
    ...(form === 'beside' ? { uri: encodeURIComponent(binName) } : {}),
    ...(form === 'inside' ? { uri: `data:application/octet-stream;base64,${encodeBase64(apart())}` } : {}),
    byteLength: chunk.length,
  }
  const lights = scene.lights.map((light) => lightWords(light, ratio))
  const required = [...(surfaces?.required ?? [])].sort()
  const document = {
    asset: { version: '2.0', generator: 'Kelbo' },
    ...listed('extensionsUsed', [...used].sort()),
    ...listed('extensionsRequired', required),
    scene: 0,
    scenes: [{ ...listed('nodes', roots), ...writeExtras(scene.properties, undefined) }],
    ...listed('nodes', nodes),
    ...listed('meshes', meshes),
    ...listed('materials', surfaces?.materials ?? []),
    ...listed('textures', surfaces?.textures ?? []),
    ...listed('images', surfaces?.images ?? []),
    ...listed('samplers', surfaces?.samplers ?? []),
    ...listed('skins', skins),
    ...listed('animations', animations),
    ...listed(
      'cameras',
      scene.cameras.map((camera) => cameraWords(camera, ratio)),
    ),
    ...listed('accessors', writer.accessors),
    ...listed('bufferViews', writer.views),
    ...(chunk.length ? { buffers: [buffer] } : {}),
    ...(lights.length || looks
      ? { extensions: { ...looks, ...(lights.length ? { KHR_lights_punctual: { lights } } : {}) } }
      : {}),
  }
  const text = encodeUtf8(JSON.stringify(document, null, form === 'binary' ? undefined : 1))
  const model = form === 'binary' ? binaryContainer(text, chunk.length ? chunk : null) : text
  return {
    files: [
      { name: fileName, bytes: model },
      ...(form === 'beside' && chunk.length ? [{ name: binName, bytes: apart() }] : []),
      ...files,
    ],
    findings: messages.list(),
    space: scene.space,
  }
}
