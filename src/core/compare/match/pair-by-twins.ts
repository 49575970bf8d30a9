/** Parts under other names and of other polygons than they left with: known by what others that are made alike came back as. */
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { shapeSignature, type PartMatch } from './match-parts.ts'

/**
 * What was done to one of several that are made alike was done to the others: they look like it still.
 *
 * @param pairs what is paired already; parts without a partner stand in it with -1.
 * @returns pairs for parts that had none, in the order of the files (which of them is which is for others to settle).
 */
export function pairByTwins(master: Scene, returned: Scene, pairs: readonly PartMatch[]): PartMatch[] {
  const own = pairs.flatMap(({ masterNode, returnedNode }) => (returnedNode < 0 ? [masterNode] : []))
  const came = pairs.flatMap(({ masterNode, returnedNode }) => (masterNode < 0 ? [returnedNode] : []))
  if (own.length === 0 || came.length === 0) return []
  const meshOf = (scene: Scene, node: number): Mesh => scene.meshes[scene.nodes[node]!.mesh]!
  const cameAs = new Map<string, Set<string>>()
  for (const { masterNode, returnedNode } of pairs) {
    if (masterNode < 0 || returnedNode < 0) continue
    const shape = shapeSignature(meshOf(returned, returnedNode))
    const known = cameAs.get(shape) ?? new Set()
    cameAs.set(shape, known.add(shapeSignature(meshOf(master, masterNode))))
  }
  const open = new Map<string, number[]>()
  for (const node of own) {
    const shape = shapeSignature(meshOf(master, node))
    open.set(shape, [...(open.get(shape) ?? []), node])
  }
  return came.flatMap((returnedNode): PartMatch[] => {
    const shapes = cameAs.get(shapeSignature(meshOf(returned, returnedNode)))
    // a shape that parts of several shapes came back as says nothing
    const [shape] = shapes?.size === 1 ? shapes : []
    const masterNode = shape === undefined ? undefined : open.get(shape)?.shift()
    return masterNode === undefined ? [] : [{ masterNode, returnedNode, by: 'shape' }]
  })
}
