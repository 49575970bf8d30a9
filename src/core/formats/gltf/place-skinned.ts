/**
 * Where a mesh stands that joints move: its node's own place doesn't count, its joints hold it. Source: glTF 2.0, section
 * 3.7.3.3.
 */
import { invertAffine, multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import type { Skin } from '../../scene/mesh.ts'
import type { SceneNode } from '../../scene/scene.ts'
import { IDENTITY_MATRIX, plainNode } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'

/** What differs by less than this share is one: single precision through a chain of joints. */
const SAME = 1e-4

const largest = (values: readonly number[]): number =>
  values.reduce((most, value) => Math.max(most, Math.abs(value)), 0)

/** Whether two places turn and size alike, and move alike: each by its own measure, for a small part may stand far away. */
export const samePlace = (a: Matrix, b: Matrix): boolean => {
  const within = (from: number, to: number, most: number): boolean =>
    a.slice(from, to).every((value, at) => Math.abs(value - b[from + at]!) <= SAME * most)
  const size = Math.max(largest(a.slice(0, 12)), largest(b.slice(0, 12)))
  const away = Math.max(largest(a.slice(12, 15)), largest(b.slice(12, 15)))
  return within(0, 12, size) && within(12, 16, Math.max(size, away))
}

export interface HeldPlace {
  /** From the mesh's own space to the world. */
  readonly place: Matrix
  /** All joints hold it alike: it stands as it was bound. Else it is the place that the strongest joint gives it. */
  readonly asBound: boolean
}

/** @param worlds of all nodes. @returns null where no joint holds a point, or its place is none. */
export function heldPlace(skin: Skin, worlds: readonly Matrix[]): HeldPlace | null {
  const pulls = new Float64Array(skin.jointNodes.length)
  skin.joints.forEach((joint, at) => (pulls[joint]! += skin.weights[at]!))
  let strongest = -1
  const places = [...skin.jointNodes].map((node, joint): Matrix | null => {
    if (!(pulls[joint]! > 0) || node < 0) return null
    const bind = skin.meshBinds ? [...skin.meshBinds.subarray(16 * joint, 16 * joint + 16)] : IDENTITY_MATRIX
    const place = multiplyMatrices(worlds[node]!, bind)
    if (!place.every(Number.isFinite) || !invertAffine(place)) return null
    if (strongest < 0 || pulls[joint]! > pulls[strongest]!) strongest = joint
    return place
  })
  if (strongest < 0) return null
  const place = places[strongest]!
  return { place, asBound: places.every((other) => !other || samePlace(place, other)) }
}

/** Whether two skins of one mesh differ in nothing but where they hold it: their binds by one and the same place. */
export function holdsAlike(a: Skin | null, b: Skin): boolean {
  if (!a?.meshBinds || !b.meshBinds) return false
  if (a.jointNodes.length !== b.jointNodes.length || a.jointNodes.some((node, at) => node !== b.jointNodes[at])) return false // prettier-ignore
  const bindOf = ({ meshBinds }: Skin, joint: number): number[] => [...meshBinds!.subarray(16 * joint, 16 * joint + 16)] // prettier-ignore
  const back = a.jointNodes.length ? invertAffine(bindOf(a, 0)) : null
  if (!back) return false
  const apart = multiplyMatrices(back, bindOf(b, 0))
  return [...a.jointNodes].every((_node, joint) =>
    samePlace(multiplyMatrices(bindOf(a, joint), apart), bindOf(b, joint)),
  )
}

export interface PlacedSkins {
  /** All nodes as they stand now; those that were added come last. */
  readonly nodes: readonly SceneNode[]
  /** Names of parts that by the places of their nodes stood elsewhere, and of those whose joints don’t stand as they were bound. */
  readonly moved: readonly string[]
  readonly posed: readonly string[]
}

/**
 * Parts that joints move, put where these hold them. What hangs under one stays where it is: the mesh then gets a node of
 * its own there.
 *
 * @param skinOf the one that a node is shown by.
 * @param isLifted whether a node stands at the top of the file, though it hangs under another.
 */
export function placeSkinned(
  nodes: readonly SceneNode[],
  skinOf: (node: number) => Skin | null,
  isLifted: (node: number) => boolean,
): PlacedSkins {
  const worlds = worldMatrices({ nodes })
  const placed = [...nodes]
  const moved: string[] = []
  const posed: string[] = []
  const parents = new Set(nodes.map(({ parent }) => parent))
  nodes.forEach((node, at) => {
    const skin = node.mesh < 0 ? null : skinOf(at)
    const held = skin && heldPlace(skin, worlds)
    if (!held) return
    if (!held.asBound) posed.push(node.name)
    if (samePlace(held.place, worlds[at]!)) return
    // one at the top without a place says nothing of where it stands
    if (!isLifted(at) && !samePlace(worlds[at]!, IDENTITY_MATRIX)) moved.push(node.name)
    const { mesh, name } = node
    const parent = parents.has(at) ? at : node.parent
    const back = parent < 0 ? IDENTITY_MATRIX : invertAffine(worlds[parent]!)
    const local = back ? multiplyMatrices(back, held.place) : held.place
    if (parent === node.parent && back) placed[at] = { ...node, local, transform: null }
    else {
      placed[at] = { ...node, mesh: -1 }
      // under a parent that flattens all it would be flat
      placed.push(plainNode(name, { parent: back ? parent : -1, mesh, local }))
    }
  })
  return { nodes: placed, moved, posed }
}
