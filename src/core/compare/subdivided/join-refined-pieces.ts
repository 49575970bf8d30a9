/** Parts that were cut up and subdivided: pieces put together until they are as many polygons as refining gives. */
import type { Box } from '../../base/math/box.ts'
import { invertAffine, multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import { appendMeshes } from '../../mesh/rebuilding/append-meshes.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { drawnBounds } from '../../scene/mesh-bounds.ts'
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { spaceMatrix } from '../../scene/space.ts'
import { worldMatrices } from '../../scene/world.ts'
import type { PartMatch } from '../match/match-parts.ts'
import type { Regrouping } from '../regroup/regroup-parts.ts'
import { findCage, isRefinedCount, levelsOf } from './find-cage.ts'

/** Pieces of one part that are looked among, at most: their sums are tried out. */
const MOST_PIECES = 8
/** Share of the master's box by which a piece may stand over it. */
const OVER = 0.1

/** Every choice of some of a few, all of them first. */
function* choices<Item>(items: readonly Item[]): Generator<readonly Item[]> {
  for (let bits = 2 ** items.length - 1; bits > 0; bits--) yield items.filter((_item, at) => (bits >> at) & 1)
}

/**
 * @param pairs which part is which; pieces are looked for among parts that none of the master's is.
 * @returns null where no part came back so: put together, each of them has a cage.
 */
export function joinRefinedPieces(
  master: Scene,
  returned: Scene,
  pairs: readonly PartMatch[],
): Regrouping | null {
  const free = new Set(
    pairs.flatMap(({ masterNode, returnedNode }) => (masterNode < 0 ? [returnedNode] : [])),
  )
  if (free.size === 0) return null
  const [own, other] = [worldMatrices(master), worldMatrices(returned)]
  const meshOf = (scene: Scene, node: number): Mesh => scene.meshes[scene.nodes[node]!.mesh]!
  const isNamedAfter = (node: number, name: string): boolean => {
    const own = returned.nodes[node]!.name
    return own.length > name.length && own.startsWith(name) && /^[._ -]?\d/.test(own.slice(name.length))
  }
  const change = spaceMatrix(returned.space, master.space)
  const boxes = new Map<string, Box | null>()
  const boxOf = (scene: Scene, node: number, world: Matrix): Box | null => {
    const key = `${scene === master ? 'm' : 'r'}${node}`
    if (!boxes.has(key)) boxes.set(key, drawnBounds(meshOf(scene, node), world))
    return boxes.get(key)!
  }
  const liesIn = (node: number, part: number): boolean => {
    const whole = boxOf(master, part, own[part]!)
    const piece = boxOf(returned, node, multiplyMatrices(change, other[node]!))
    if (!whole || !piece) return false
    const over = OVER * Math.max(...whole.max.map((value, axis) => value - whole.min[axis]!))
    return piece.min.every((value, axis) => value >= whole.min[axis]! - over && piece.max[axis]! <= whole.max[axis]! + over) // prettier-ignore
  }
  /** Pieces in the space of the first of them. */
  const joined = (name: string, nodes: readonly number[]): Mesh | null => {
    const back = invertAffine(other[nodes[0]!]!)
    if (!back) return null
    const meshes = nodes.map((node) => transformMesh(meshOf(returned, node), multiplyMatrices(back, other[node]!))) // prettier-ignore
    return appendMeshes(name, meshes)
  }
  const meshes = [...returned.meshes]
  const nodes = [...returned.nodes]
  const found: PartMatch[] = []
  const told: Regrouping['told'][number][] = []
  for (const { masterNode, returnedNode } of pairs) {
    if (masterNode < 0) continue
    const mesh = meshOf(master, masterNode)
    const first = returnedNode >= 0 ? [returnedNode] : []
    if (first.length && levelsOf(mesh, meshOf(returned, returnedNode))) continue
    const { name } = master.nodes[masterNode]!
    const named = [...free].filter((node) => isNamedAfter(node, first.length ? returned.nodes[returnedNode]!.name : name)) // prettier-ignore
    const near = named.length ? named : [...free].filter((node) => liesIn(node, masterNode))
    if (near.length === 0 || near.length > MOST_PIECES) continue
    for (const pieces of choices(near)) {
      const all = [...first, ...pieces]
      const faces = all.reduce((sum, node) => sum + faceCountOf(meshOf(returned, node)), 0)
      if (all.length < 2 || !isRefinedCount(mesh, faces)) continue
      const whole = joined(name, all)
      if (!whole || !findCage(mesh, whole)) continue
      const [target, ...others] = all as [number, ...number[]]
      nodes[target] = { ...nodes[target]!, mesh: meshes.push({ ...whole, id: '' }) - 1 }
      for (const node of others) nodes[node] = { ...nodes[node]!, mesh: -1 }
      for (const node of all) free.delete(node)
      found.push({ masterNode, returnedNode: target, by: 'pieces', from: all.map((node) => returned.nodes[node]!.name) }) // prettier-ignore
      told.push({ parts: [name], cameAs: all.map((node) => returned.nodes[node]!.name) })
      break
    }
  }
  return found.length ? { scene: { ...returned, meshes, nodes }, pairs: found, told } : null
}
