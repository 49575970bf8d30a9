/** The order in which a scene's arrays go to a page. */

interface PackedDocument {
  readonly nodes?: readonly { readonly mesh?: number; readonly visible?: boolean }[]
  readonly meshes?: readonly unknown[]
}

/** Numbers of the arrays that a piece of a packed document names. */
function arraysIn(value: unknown, into: Set<number>): void {
  if (Array.isArray(value)) for (const entry of value) arraysIn(entry, into)
  else if (value !== null && typeof value === 'object') {
    const { $array: place } = value as { $array?: number }
    if (typeof place === 'number') into.add(place)
    else for (const entry of Object.values(value)) arraysIn(entry, into)
  }
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
  for (const mesh of shown) arraysIn(meshes[mesh], order)
  meshes.forEach((mesh, index) => {
    if (!shown.has(index)) arraysIn(mesh, order)
  })
  for (let place = 0; place < arrayCount; place++) order.add(place)
  return [...order].filter((place) => place < arrayCount)
}
