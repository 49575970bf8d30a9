import { boundsOf, diagonalOf } from '../math/box.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../scene/mesh.ts'
import { nodePaths } from '../scene/world.ts'
import type { Scene } from '../scene/scene.ts'

export interface PartMatch {
  /** Node index in the master, -1 where the returned part is new. */
  readonly masterNode: number
  /** Node index in the returned scene, -1 where the part did not come back. */
  readonly returnedNode: number
  readonly by: 'path' | 'name' | 'similar-name' | 'shape' | 'none'
}

const partNodes = (scene: Scene): number[] =>
  scene.nodes.flatMap((node, index) => (node.mesh >= 0 ? [index] : []))

/** Name without case, a namespace in front, or a number that a program appended to a clash. */
const plainName = (name: string): string =>
  name
    .toLowerCase()
    .replace(/^.*[:|]/, '')
    .replace(/[._ -]?\d{1,4}$/, '')
    .replace(/[._ -]?(mesh|shape|geo|geometry)$/, '')
    .replace(/[^\p{L}\p{N}]+/gu, '_')

/** Counts that don't change when points move or are renumbered. */
function shapeSignature(mesh: Mesh): string {
  const sizes = new Map<number, number>()
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const size = mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]!
    sizes.set(size, (sizes.get(size) ?? 0) + 1)
  }
  const histogram = [...sizes].sort((a, b) => a[0] - b[0]).map(([size, faces]) => `${size}:${faces}`)
  return `${pointCountOf(mesh)} ${cornerCountOf(mesh)} ${histogram.join(' ')}`
}

/** How unlike two parts' places and sizes are: distance of the boxes' corners over the master's diagonal. */
function boxDistance(a: Mesh, b: Mesh): number {
  const boxA = boundsOf(a.points)
  const boxB = boundsOf(b.points)
  if (!boxA || !boxB) return Infinity
  let squares = 0
  for (let axis = 0; axis < 3; axis++)
    squares += (boxA.min[axis]! - boxB.min[axis]!) ** 2 + (boxA.max[axis]! - boxB.max[axis]!) ** 2
  return Math.sqrt(squares) / (diagonalOf(boxA) || 1)
}

/**
 * Pairs parts: by path, by name, by a similar name with the same shape, then by shape alone (same counts;
 * of several the nearest). What finds no partner is listed with -1. Master order, then new parts.
 *
 * A name pairs only where it is unique on both sides, so that twins named alike go by their shape.
 */
export function matchParts(master: Scene, returned: Scene): PartMatch[] {
  const masterOpen = new Set(partNodes(master))
  const returnedOpen = new Set(partNodes(returned))
  const matches: PartMatch[] = []
  const meshOf = (scene: Scene, node: number): Mesh => scene.meshes[scene.nodes[node]!.mesh]!
  const take = (masterNode: number, returnedNode: number, by: PartMatch['by']): void => {
    matches.push({ masterNode, returnedNode, by })
    masterOpen.delete(masterNode)
    returnedOpen.delete(returnedNode)
  }
  const byUniqueKey = (
    masterKey: (node: number) => string,
    returnedKey: (node: number) => string,
    by: PartMatch['by'],
  ): void => {
    const index = (open: Set<number>, key: (node: number) => string): Map<string, number[]> => {
      const map = new Map<string, number[]>()
      for (const node of open) map.set(key(node), [...(map.get(key(node)) ?? []), node])
      return map
    }
    const others = index(returnedOpen, returnedKey)
    for (const [key, nodes] of index(masterOpen, masterKey)) {
      const partners = others.get(key)
      if (nodes.length === 1 && partners?.length === 1) take(nodes[0]!, partners[0]!, by)
    }
  }
  const masterPaths = nodePaths(master)
  const returnedPaths = nodePaths(returned)
  byUniqueKey(
    (node) => masterPaths[node]!,
    (node) => returnedPaths[node]!,
    'path',
  )
  byUniqueKey(
    (node) => master.nodes[node]!.name,
    (node) => returned.nodes[node]!.name,
    'name',
  )
  const masterSignatures = new Map(
    [...masterOpen].map((node) => [node, shapeSignature(meshOf(master, node))]),
  )
  const returnedSignatures = new Map(
    [...returnedOpen].map((node) => [node, shapeSignature(meshOf(returned, node))]),
  )
  byUniqueKey(
    (node) => `${plainName(master.nodes[node]!.name)} ${masterSignatures.get(node)}`,
    (node) => `${plainName(returned.nodes[node]!.name)} ${returnedSignatures.get(node)}`,
    'similar-name',
  )
  // by shape: nearest pairs first among those with the same counts
  const pairs: { a: number; b: number; distance: number }[] = []
  for (const a of masterOpen)
    for (const b of returnedOpen)
      if (masterSignatures.get(a) === returnedSignatures.get(b))
        pairs.push({ a, b, distance: boxDistance(meshOf(master, a), meshOf(returned, b)) })
  pairs.sort((x, y) => x.distance - y.distance)
  for (const { a, b } of pairs) if (masterOpen.has(a) && returnedOpen.has(b)) take(a, b, 'shape')
  // a changed part that kept a similar name
  byUniqueKey(
    (node) => plainName(master.nodes[node]!.name),
    (node) => plainName(returned.nodes[node]!.name),
    'similar-name',
  )
  // the only one left on either side: nothing else can be meant
  if (masterOpen.size === 1 && returnedOpen.size === 1)
    take([...masterOpen][0]!, [...returnedOpen][0]!, 'none')
  for (const masterNode of masterOpen) matches.push({ masterNode, returnedNode: -1, by: 'none' })
  const order = (match: PartMatch): number =>
    match.masterNode >= 0 ? match.masterNode : master.nodes.length + match.returnedNode
  for (const returnedNode of returnedOpen) matches.push({ masterNode: -1, returnedNode, by: 'none' })
  return matches.sort((x, y) => order(x) - order(y))
}
