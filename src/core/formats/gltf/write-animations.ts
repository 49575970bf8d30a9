/** Animation that came with the file, written as it came. Source: glTF 2.0, section 3.11. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import type { Scene } from '../../scene/scene.ts'
import type { BufferWriter } from './buffer-writer.ts'

const TYPES = { 1: 'SCALAR', 2: 'VEC2', 3: 'VEC3', 4: 'VEC4' } as const

/** Sources of the nodes that kept animation moves. */
export const animatedSources = ({ kept }: Scene): ReadonlySet<string> =>
  new Set(kept?.format === 'gltf' ? kept.animated?.map(({ node }) => node) : [])

/**
 * @param written the number of each node in the file, by its source.
 * Findings: `write.not-converted` where axes were turned since, `write.moved-animation` where a node stands elsewhere.
 */
export function writeAnimations(
  scene: Scene,
  written: ReadonlyMap<string, number>,
  writer: BufferWriter,
  messages: MessageCollector,
): object[] {
  const { kept } = scene
  const sections = kept?.format === 'gltf' ? kept.sections.filter(({ name }) => name === 'animation') : []
  if (!kept || sections.length === 0) return []
  if (kept.since?.turned) {
    messages.add('write.not-converted', { what: 'animation (which was left out)' })
    return []
  }
  const by = kept.since?.scale ?? 1
  const nodes = new Map(scene.nodes.map((node) => [node.source, node]))
  const moved = (kept.animated ?? []).flatMap(({ node: source, local }) => {
    const node = nodes.get(source)
    if (!node) return []
    const wanted = local.map((value, at) => (at >= 12 && at < 15 ? value * by : value))
    const size = Math.max(1, ...wanted.map(Math.abs))
    return node.local.some((value, at) => Math.abs(value - wanted[at]!) > 1e-6 * size) ? [node.name] : []
  })
  if (moved.length)
    messages.add('write.moved-animation', { count: moved.length, parts: moved.slice(0, 4).join(', ') })
  const inputs = new Map<unknown, number>()
  return sections.flatMap(({ values: [name], children }) => {
    const samplers: object[] = []
    const channels: object[] = []
    for (const { values } of children) {
      const [source, path, interpolation, width, times, output] = values
      const node = written.get(String(source))
      if (node === undefined || !(times instanceof Float64Array) || !(output instanceof Float64Array))
        continue
      if (!inputs.has(times))
        inputs.set(times, writer.floats(Float32Array.from(times), 'SCALAR', { bounds: true }))
      const scaled = path === 'translation' && by !== 1 ? output.map((value) => value * by) : output
      samplers.push({
        input: inputs.get(times),
        interpolation,
        output: writer.floats(Float32Array.from(scaled), TYPES[width as 1]),
      })
      channels.push({ sampler: samplers.length - 1, target: { node, path } })
    }
    return channels.length ? [{ ...(name ? { name } : {}), samplers, channels }] : []
  })
}
