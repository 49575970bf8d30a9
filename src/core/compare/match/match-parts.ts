import type { Box } from '../../base/math/box.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { nodePaths, partNodes } from '../../scene/world.ts'
import { findPlaces } from './part-places.ts'

export interface PartMatch {
  /** Node index in the master, -1 where the returned part is new. */
  readonly masterNode: number
  /** Node index in the returned scene, -1 where the part did not come back. */
  readonly returnedNode: number
  readonly by: 'path' | 'name' | 'similar-name' | 'shape' | 'place' | 'pieces' | 'hand' | 'none'
  /** Names of the returned parts that held its polygons, where these say which part it is. */
  readonly from?: readonly string[]
  /** Another of the master's parts is made like it, and nothing says which of them its polygons are of. */
  readonly guess?: boolean
  /** It came back subdivided so many times, and its cage is what is compared; absent: it did not. */
  readonly levels?: number
  /** It came back as so many panels in other polygons, and its own were laid over them; absent: it did not. */
  readonly panels?: number
}

/** Name without case, a namespace in front, or a number that a program appended to a clash. */
const plainName = (name: string): string =>
  name
    .toLowerCase()
    .replace(/^.*[:|]/, '')
    .replace(/[._ -]?\d{1,4}$/, '')
    .replace(/[._ -]?(mesh|shape|geo|geometry)$/, '')
    .replace(/[^\p{L}\p{N}]+/gu, '_')

/** Counts that don't change when points move or are renumbered. */
export function shapeSignature(mesh: Mesh): string {
  const sizes = new Map<number, number>()
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const size = mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]!
    sizes.set(size, (sizes.get(size) ?? 0) + 1)
  }
  const histogram = [...sizes].sort((a, b) => a[0] - b[0]).map(([size, faces]) => `${size}:${faces}`)
  return `${pointCountOf(mesh)} ${cornerCountOf(mesh)} ${histogram.join(' ')}`
}

/** How far the corners of two boxes lie apart, in diagonals of the whole. */
function boxDistance(a: Box | null, b: Box | null): number {
  if (!a || !b) return Infinity
  let squares = 0
  for (let axis = 0; axis < 3; axis++)
    squares += (a.min[axis]! - b.min[axis]!) ** 2 + (a.max[axis]! - b.max[axis]!) ** 2
  return Math.sqrt(squares)
}

/** In diagonals of the whole: parts of alike names that stand this near are the same, and any that fill the same box. */
const NEAR = 0.05
const SAME_PLACE = 0.002
/** The only ones left on either side are one part where they stand this near. */
const ROUGHLY_THERE = 0.25

function groupBy(nodes: Iterable<number>, key: (node: number) => string): Map<string, number[]> {
  const groups = new Map<string, number[]>()
  for (const node of nodes) {
    const held = groups.get(key(node))
    if (held) held.push(node)
    else groups.set(key(node), [node])
  }
  return groups
}

/** More pairs than this are not all looked at. */
const MOST_PAIRS = 1_000_000

/** Pairs of nodes by the distance of their boxes, each node once; very many of them in the order of their places. */
function nearestPairs(
  a: readonly number[],
  b: readonly number[],
  placesA: ReadonlyMap<number, Box | null>,
  placesB: ReadonlyMap<number, Box | null>,
  most: number,
): [number, number][] {
  const apart = (x: number, y: number): number => boxDistance(placesA.get(x)!, placesB.get(y)!)
  if (a.length * b.length > MOST_PAIRS) {
    const inOrder = (nodes: readonly number[], places: ReadonlyMap<number, Box | null>): number[] =>
      [...nodes].sort((x, y) => {
        const [p, q] = [places.get(x)?.min ?? [0, 0, 0], places.get(y)?.min ?? [0, 0, 0]]
        return p[0] - q[0] || p[1] - q[1] || p[2] - q[2]
      })
    const others = inOrder(b, placesB)
    return inOrder(a, placesA)
      .slice(0, others.length)
      .flatMap((x, at): [number, number][] => (apart(x, others[at]!) <= most ? [[x, others[at]!]] : []))
  }
  const pairs = a
    .flatMap((x) => b.map((y) => ({ x, y, distance: apart(x, y) })))
    .filter(({ distance }) => distance <= most)
    .sort((p, q) => p.distance - q.distance)
  const [takenA, takenB] = [new Set<number>(), new Set<number>()]
  return pairs.flatMap(({ x, y }): [number, number][] => {
    if (takenA.has(x) || takenB.has(y)) return []
    takenA.add(x)
    takenB.add(y)
    return [[x, y]]
  })
}

/**
 * Pairs parts: by path, by name, by a similar name with the same shape, by shape alone (same counts; of several
 * the nearest), by a similar name, by the place where they stand, and parts named alike in their order where
 * there are as many on both sides. What finds no partner is listed with -1. Master order, then new parts.
 *
 * @param known pairs that are known already.
 *
 * A name pairs only where it is unique on both sides, so that twins named alike go by their shape or place.
 */
export function matchParts(master: Scene, returned: Scene, known: readonly PartMatch[] = []): PartMatch[] {
  const masterOpen = new Set(partNodes(master))
  const returnedOpen = new Set(partNodes(returned))
  const matches: PartMatch[] = []
  const meshOf = (scene: Scene, node: number): Mesh => scene.meshes[scene.nodes[node]!.mesh]!
  const take = (masterNode: number, returnedNode: number, by: PartMatch['by']): void => {
    matches.push({ masterNode, returnedNode, by })
    masterOpen.delete(masterNode)
    returnedOpen.delete(returnedNode)
  }
  for (const match of known) {
    matches.push(match)
    masterOpen.delete(match.masterNode)
    returnedOpen.delete(match.returnedNode)
  }
  const byUniqueKey = (
    masterKey: (node: number) => string,
    returnedKey: (node: number) => string,
    by: PartMatch['by'],
  ): void => {
    const others = groupBy(returnedOpen, returnedKey)
    for (const [key, nodes] of groupBy(masterOpen, masterKey)) {
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
  const { masterPlaces, returnedPlaces } = findPlaces(master, returned)
  const masterNames = new Map([...masterOpen].map((node) => [node, plainName(master.nodes[node]!.name)]))
  const returnedNames = new Map(
    [...returnedOpen].map((node) => [node, plainName(returned.nodes[node]!.name)]),
  )
  /** Of parts with the same key the nearest pairs first, as far as they lie no farther apart than `most`. */
  const byPlace = (
    most: number,
    masterKey: (node: number) => string,
    returnedKey: (node: number) => string,
    by: PartMatch['by'],
  ): void => {
    const others = groupBy(returnedOpen, returnedKey)
    for (const [key, nodes] of groupBy(masterOpen, masterKey))
      for (const [a, b] of nearestPairs(nodes, others.get(key) ?? [], masterPlaces, returnedPlaces, most))
        take(a, b, by)
  }
  const masterName = (node: number): string => masterNames.get(node)!
  const returnedName = (node: number): string => returnedNames.get(node)!
  const masterShape = (node: number): string => masterSignatures.get(node)!
  const returnedShape = (node: number): string => returnedSignatures.get(node)!
  byPlace(
    Infinity,
    (node) => `${masterName(node)} ${masterShape(node)}`,
    (node) => `${returnedName(node)} ${returnedShape(node)}`,
    'shape',
  )
  byPlace(Infinity, masterShape, returnedShape, 'shape')
  // a changed part that kept a similar name
  byUniqueKey(masterName, returnedName, 'similar-name')
  byPlace(NEAR, masterName, returnedName, 'place')
  byPlace(
    SAME_PLACE,
    () => '',
    () => '',
    'place',
  )
  // as many of a name on both sides: files keep their parts in order (common practice)
  const others = groupBy(returnedOpen, returnedName)
  for (const [name, nodes] of groupBy(masterOpen, masterName)) {
    const partners = others.get(name) ?? []
    if (nodes.length === partners.length)
      nodes.forEach((node, at) => take(node, partners[at]!, 'similar-name'))
  }
  // the only part of either side: nothing else can be meant; the only one left of several may be lost, and new
  if (partNodes(master).length === 1 && partNodes(returned).length === 1 && masterOpen.size === 1)
    take([...masterOpen][0]!, [...returnedOpen][0]!, 'none')
  else if (masterOpen.size === 1 && returnedOpen.size === 1)
    byPlace(
      ROUGHLY_THERE,
      () => '',
      () => '',
      'none',
    )
  for (const masterNode of masterOpen) matches.push({ masterNode, returnedNode: -1, by: 'none' })
  const order = (match: PartMatch): number =>
    match.masterNode >= 0 ? match.masterNode : master.nodes.length + match.returnedNode
  for (const returnedNode of returnedOpen) matches.push({ masterNode: -1, returnedNode, by: 'none' })
  return matches.sort((x, y) => order(x) - order(y))
}
