/** Animation: carried as it came, and written back into the same format. Source: glTF 2.0, section 3.11. */
import { counted } from '../../base/messages/render.ts'
import type { KeptContent, KeptRecord } from '../../scene/kept.ts'
import type { SceneNode } from '../../scene/scene.ts'
import { listOf, objectOf, partOf, textOf, wholeOf } from '../notes/json.ts'
import type { Accessors } from './read-accessor.ts'
import type { GltfReading } from './read-buffers.ts'

const TYPES = ['SCALAR', 'VEC2', 'VEC3', 'VEC4']

export const record = (
  name: string,
  values: KeptRecord['values'],
  children: readonly KeptRecord[] = [],
): KeptRecord => ({ name, kinds: '', values, children })

/**
 * Each animation as a record `animation`: its name; a child `channel` for each of its channels: the node that it moves by
 * its source, what it moves of it, how it goes from key to key, the type of its values, times and values.
 */
export function keepAnimations(
  { document, messages }: GltfReading,
  accessors: Accessors,
  nodes: readonly SceneNode[],
): KeptContent | null {
  const sources = new Map(nodes.map((node) => [node.source, node]))
  const moved = new Set<string>()
  const sections = listOf(document.animations).flatMap((entry, index): KeptRecord[] => {
    const animation = objectOf(entry)
    const samplers = listOf(animation?.samplers)
    const channels = listOf(animation?.channels).flatMap((one): KeptRecord[] => {
      const channel = objectOf(one)
      const target = partOf(channel, 'target')
      const source = String(wholeOf(target?.node) ?? '')
      const sampler = objectOf(samplers[wholeOf(channel?.sampler) ?? -1])
      if (!sampler || !sources.has(source)) {
        messages.add('gltf.value', { place: `A channel of animation ${index}` })
        return []
      }
      const times = accessors.read(sampler.input, ['SCALAR'])
      const values = accessors.read(sampler.output, TYPES)
      if (!times || !values) return []
      moved.add(source)
      return [
        record('channel', [
          source,
          textOf(target?.path),
          textOf(sampler.interpolation) || 'LINEAR',
          values.width,
          times.values,
          values.values,
        ]),
      ]
    })
    return channels.length ? [record('animation', [textOf(animation?.name)], channels)] : []
  })
  if (sections.length === 0) return null
  messages.add('gltf.kept', {
    what: 'animation',
    objects: `${sections.length} with ${counted(
      sections.reduce((sum, { children }) => sum + children.length, 0),
      'channel',
    )}`,
  })
  return {
    format: 'gltf',
    objects: [],
    links: [],
    sections,
    settings: [],
    animated: [...moved].map((node) => ({ node, local: [...sources.get(node)!.local] })),
  }
}
