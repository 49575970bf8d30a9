/** The hierarchy: nodes with parents before their children, hidden where the shown scene doesn't have them. */
import type { SceneNode } from '../../scene/scene.ts'
import { IDENTITY_MATRIX } from '../../scene/scene.ts'
import { extensionOf, listOf, numbersOf, objectOf, textOf, wholeOf, type Json } from '../notes/json.ts'
import { readExtras } from './kept-extras.ts'
import type { GltfReading } from './read-buffers.ts'
import { isShownItself, lowerSkinned, SKINNED_EXTRAS } from './lift-skinned.ts'
import type { Accessors } from './read-accessor.ts'

export interface OrderedNode {
  /** Its number in the file. */
  readonly source: number
  readonly node: Json
  /** Place of the parent in the list; -1 for a root. */
  readonly parent: number
  readonly isShown: boolean
}

/** Move, turn (a quaternion, x y z w) and scale as a matrix, column-major. */
export function composeMatrix(
  [tx, ty, tz]: readonly number[],
  [x, y, z, w]: readonly number[],
  scale: readonly number[],
): number[] {
  const [qx, qy, qz, qw] = [x!, y!, z!, w!]
  const rows = [
    [1 - 2 * (qy * qy + qz * qz), 2 * (qx * qy - qz * qw), 2 * (qx * qz + qy * qw)],
    [2 * (qx * qy + qz * qw), 1 - 2 * (qx * qx + qz * qz), 2 * (qy * qz - qx * qw)],
    [2 * (qx * qz - qy * qw), 2 * (qy * qz + qx * qw), 1 - 2 * (qx * qx + qy * qy)],
  ]
  const matrix = [...IDENTITY_MATRIX]
  for (let column = 0; column < 3; column++)
    for (let row = 0; row < 3; row++) matrix[4 * column + row] = rows[row]![column]! * scale[column]! + 0
  matrix[12] = tx!
  matrix[13] = ty!
  matrix[14] = tz!
  return matrix
}

/** A node's matrix; what stands there wrongly is as if it were not there. */
export function localOf(node: Json): readonly number[] {
  const matrix = numbersOf(node.matrix, 16)
  // the last row of a matrix that places something is fixed
  if (matrix) return [...matrix].map((value, at) => (at % 4 === 3 ? (at === 15 ? 1 : 0) : value))
  const translation = numbersOf(node.translation, 3)
  const rotation = numbersOf(node.rotation, 4)
  const scale = numbersOf(node.scale, 3)
  if (!translation && !rotation && !scale) return IDENTITY_MATRIX
  const length = rotation ? Math.hypot(...rotation) : 1
  // a turn by floats is longer or shorter than 1 by their rounding
  const turn = rotation && length > 0 ? rotation.map((value) => value / length) : [0, 0, 0, 1]
  return composeMatrix(translation ?? [0, 0, 0], turn, scale ?? [1, 1, 1])
}

/** Nodes of all scenes, those of the shown one first, and then whatever stands in none. */
export function orderNodes({ document, messages }: GltfReading): OrderedNode[] {
  const { nodes, gone, under } = lowerSkinned(listOf(document.nodes))
  const lifted = new Map<number, number[]>()
  for (const [child, parent] of under) lifted.set(parent, [...(lifted.get(parent) ?? []), child])
  const scenes = listOf(document.scenes)
  const shown = wholeOf(document.scene) ?? (scenes.length ? 0 : null)
  const rootsOf = (scene: unknown): number[] =>
    listOf(objectOf(scene)?.nodes).flatMap((node) => wholeOf(node) ?? []).filter((node) => !gone.has(node) && !under.has(node)) // prettier-ignore
  const ordered: OrderedNode[] = []
  const seen = new Set<number>(gone)
  const nameOf = (source: number): string => textOf(objectOf(nodes[source])?.name) || `node ${source}`
  const visit = (root: number, isShown: boolean): void => {
    const stack = [{ source: root, parent: -1 }]
    while (stack.length) {
      const { source, parent } = stack.pop()!
      const node = objectOf(nodes[source])
      if (!node) {
        messages.add('gltf.part', { place: `Node ${source}`, why: 'the file doesn’t have it' })
        continue
      }
      if (seen.has(source)) {
        messages.add('gltf.ring', { name: nameOf(source) })
        continue
      }
      seen.add(source)
      const place = ordered.push({ source, node, parent, isShown }) - 1
      const children = [
        ...listOf(node.children).flatMap((child) => wholeOf(child) ?? []),
        ...(lifted.get(source) ?? []),
      ].sort((a, b) => (lifted.has(source) ? a - b : 0))
      for (const child of children.reverse()) stack.push({ source: child, parent: place })
    }
  }
  if (shown !== null) for (const root of rootsOf(scenes[shown])) visit(root, true)
  const before = ordered.length
  const below = new Set([
    ...nodes.flatMap((node) => listOf(objectOf(node)?.children).flatMap((one) => wholeOf(one) ?? [])),
    ...under.keys(),
  ])
  // a file without scenes shows nothing by itself: what it holds is what was meant
  const isShown = before === 0
  for (const scene of scenes) for (const root of rootsOf(scene)) if (!seen.has(root)) visit(root, isShown)
  nodes.forEach((_node, source) => {
    if (!seen.has(source) && !below.has(source)) visit(source, isShown)
  })
  // what hangs only under itself
  nodes.forEach((_node, source) => {
    if (seen.has(source)) return
    messages.add('gltf.ring', { name: nameOf(source) })
    visit(source, isShown)
  })
  if (before > 0 && ordered.length > before)
    messages.add('gltf.other-scenes', { nodes: ordered.length - before })
  return inFileOrder(ordered)
}

/** The file's own order, where it has every parent before its children. */
function inFileOrder(ordered: OrderedNode[]): OrderedNode[] {
  if (ordered.some(({ source, parent }) => parent >= 0 && ordered[parent]!.source > source)) return ordered
  const sorted = [...ordered].sort((a, b) => a.source - b.source)
  const placeOf = new Map(sorted.map(({ source }, place) => [source, place]))
  return sorted.map((node) => ({
    ...node,
    parent: node.parent < 0 ? -1 : placeOf.get(ordered[node.parent]!.source)!,
  }))
}

export const nodeName = ({ node, source }: OrderedNode, meshName: string): string =>
  textOf(node.name) || meshName || `node_${source + 1}`

/** A node as the scene has it; the mesh is filled in by whoever reads meshes. */
export function toSceneNode(ordered: OrderedNode, name: string): SceneNode {
  const { node, parent, isShown, source } = ordered
  const { properties: all, kept } = readExtras(node)
  const properties = Object.fromEntries(
    Object.entries(all).filter(([key]) => node.skin === undefined || !SKINNED_EXTRAS.includes(key)),
  )
  return {
    id: '',
    name,
    parent,
    mesh: -1,
    visible: (parent >= 0 || isShown) && (isShownItself(node) || extensionOf(node, 'KHR_node_visibility')?.visible !== false), // prettier-ignore
    local: localOf(node),
    transform: null,
    properties,
    source: String(source),
    ...(kept.length ? { kept } : {}),
  }
}

/** Where the instances of a node stand, seen from it; null where it has none. */
export function instancesOf(node: Json, accessors: Accessors): number[][] | null {
  const stated = objectOf(extensionOf(node, 'EXT_mesh_gpu_instancing')?.attributes)
  if (!stated) return null
  const translation = accessors.read(stated.TRANSLATION, ['VEC3'])
  const rotation = accessors.read(stated.ROTATION, ['VEC4'])
  const scale = accessors.read(stated.SCALE, ['VEC3'])
  const count = Math.max(translation?.count ?? 0, rotation?.count ?? 0, scale?.count ?? 0)
  const at = (list: typeof translation, place: number, fallback: number[]): number[] =>
    list && place < list.count
      ? [...list.values.subarray(place * list.width, (place + 1) * list.width)]
      : fallback
  return Array.from({ length: count }, (_none, place) => {
    const turn = at(rotation, place, [0, 0, 0, 1])
    const length = Math.hypot(...turn) || 1
    return composeMatrix(
      at(translation, place, [0, 0, 0]),
      turn.map((value) => value / length),
      at(scale, place, [1, 1, 1]),
    )
  })
}
