/** Nodes of one scene brought into another: in their place, under the parent they had. */
import { invertAffine, multiplyMatrices, type Matrix } from '../base/math/matrix.ts'
import type { Scene, SceneNode } from './scene.ts'
import { nodePaths, worldMatrices } from './world.ts'

/**
 * Which node of `target` each node of `source` without a mesh is: by path, then by a name that each side has once.
 *
 * @param known pairs that are known already, source to target; nothing is paired twice.
 */
export function pairBareNodes(
  target: Scene,
  source: Scene,
  known: ReadonlyMap<number, number>,
): Map<number, number> {
  const pairs = new Map(known)
  const taken = new Set(known.values())
  const bare = (scene: Scene): number[] =>
    scene.nodes.flatMap((node, index) => (node.mesh < 0 ? [index] : []))
  const byKey = (targetKey: (node: number) => string, sourceKey: (node: number) => string): void => {
    const count = (nodes: readonly number[], key: (node: number) => string): Map<string, number[]> => {
      const held = new Map<string, number[]>()
      for (const node of nodes) held.set(key(node), [...(held.get(key(node)) ?? []), node])
      return held
    }
    const others = count(
      bare(target).filter((node) => !taken.has(node)),
      targetKey,
    )
    for (const [key, nodes] of count(
      bare(source).filter((node) => !pairs.has(node)),
      sourceKey,
    )) {
      const partners = others.get(key)
      if (nodes.length !== 1 || partners?.length !== 1) continue
      pairs.set(nodes[0]!, partners[0]!)
      taken.add(partners[0]!)
    }
  }
  const targetPaths = nodePaths(target)
  const sourcePaths = nodePaths(source)
  byKey(
    (node) => targetPaths[node]!,
    (node) => sourcePaths[node]!,
  )
  byKey(
    (node) => target.nodes[node]!.name,
    (node) => source.nodes[node]!.name,
  )
  return pairs
}

/**
 * Adds nodes of `source` to a list of nodes as they are asked for, each with what it hangs under.
 *
 * @param nodes the target's list; grows.
 * @param source in the target's space.
 * @param pairs source to target, for nodes that the target has already; grows.
 * @returns gives the place of a source's node in the list; a new one shows no mesh yet.
 */
export function createNodeBringer(
  nodes: SceneNode[],
  source: Scene,
  pairs: Map<number, number>,
): (node: number) => number {
  const sourceWorlds = worldMatrices(source)
  const worldOf = (index: number): Matrix => {
    const { parent, local } = nodes[index]!
    return parent < 0 ? local : multiplyMatrices(worldOf(parent), local)
  }
  const bring = (index: number): number => {
    const known = pairs.get(index)
    if (known !== undefined) return known
    const own = source.nodes[index]!
    const parent = own.parent < 0 ? -1 : bring(own.parent)
    let { local, transform } = own
    if (parent >= 0) {
      const world = worldOf(parent)
      const before = sourceWorlds[own.parent]!
      // under a parent that stands elsewhere it keeps its place in the world
      if (!world.every((value, at) => value === before[at])) {
        const inverse = invertAffine(world)
        if (inverse) {
          local = multiplyMatrices(inverse, sourceWorlds[index]!)
          transform = null
        }
      }
    }
    const { source: _source, ...rest } = own
    const place = nodes.push({ ...rest, id: '', parent, mesh: -1, local, transform }) - 1
    pairs.set(index, place)
    return place
  }
  return bring
}
