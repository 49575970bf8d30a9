/** Cameras and lights, in the format's own words. Source: glTF 2.0, section 3.10; KHR_lights_punctual. */
import type { CustomProperties, SceneCamera } from '../../scene/scene.ts'
import {
  extensionOf,
  listOf,
  numbersOf,
  objectOf,
  partOf,
  textOf,
  wholeOf,
  type Json,
} from '../notes/json.ts'
import type { OrderedNode } from './read-nodes.ts'
import type { GltfReading } from './read-buffers.ts'

/** Plain values of an object, with those of an object inside it beside them. */
function plainOf(source: Json, inside: string): CustomProperties {
  const entries = [...Object.entries(source), ...Object.entries(partOf(source, inside) ?? {})]
  return Object.fromEntries(
    entries.filter(
      ([key, value]) =>
        key !== 'name' &&
        (['string', 'number', 'boolean'].includes(typeof value) || numbersOf(value, 3) !== null),
    ),
  ) as CustomProperties
}

export function readCameras(
  { document, messages }: GltfReading,
  ordered: readonly OrderedNode[],
  names: readonly string[],
): { cameras: SceneCamera[]; lights: SceneCamera[] } {
  const cameras: SceneCamera[] = []
  const lights: SceneCamera[] = []
  const stated = listOf(document.cameras)
  const listed = listOf(extensionOf(document, 'KHR_lights_punctual')?.lights)
  ordered.forEach(({ node, source }, index) => {
    if (node.camera !== undefined) {
      const camera = objectOf(stated[wholeOf(node.camera) ?? -1])
      if (!camera) messages.add('gltf.value', { place: `The camera of node ${source}` })
      else
        cameras.push({
          name: textOf(camera.name) || names[index]!,
          node: index,
          properties: plainOf(camera, textOf(camera.type)),
        })
    }
    const lit = extensionOf(node, 'KHR_lights_punctual')
    if (lit) {
      const light = objectOf(listed[wholeOf(lit.light) ?? -1])
      if (!light) messages.add('gltf.value', { place: `The light of node ${source}` })
      else
        lights.push({
          name: textOf(light.name) || names[index]!,
          node: index,
          properties: plainOf(light, 'spot'),
        })
    }
  })
  return { cameras, lights }
}
