/** The order in which a scene's arrays go to a page. */
import { arraysIn } from '../../core/scene/pack-scene.ts'

interface PackedDocument {
  readonly nodes?: readonly { readonly mesh?: number; readonly visible?: boolean }[]
  readonly meshes?: readonly unknown[]
}

/**
 * Arrays mesh by mesh, what is shown before what is hidden, then everything else; each once.
 * @param document a scene as `packScene` made it.
 */
export function viewOrder(document: unknown, arrayCount: number): number[] {
  const { nodes = [], meshes = [] } = (document ?? {}) as PackedDocument
  const order = new Set<number>()
  const shown = new Set(
    nodes.flatMap((node) => (node.visible !== false && (node.mesh ?? -1) >= 0 ? [node.mesh!] : [])),
  )
  for (const mesh of shown) for (const place of arraysIn(meshes[mesh])) order.add(place)
  meshes.forEach((mesh, index) => {
    if (shown.has(index)) return
    for (const place of arraysIn(mesh)) order.add(place)
  })
  for (let place = 0; place < arrayCount; place++) order.add(place)
  return [...order].filter((place) => place < arrayCount)
}
