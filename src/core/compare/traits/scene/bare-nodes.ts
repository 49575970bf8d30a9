/** Nodes that show no polygons: joints, locators, and what only holds others together. */
import { formatById } from '../../../formats/registry.ts'
import { pairBareNodes } from '../../../scene/bring-nodes.ts'
import type { Scene, SceneNode } from '../../../scene/scene.ts'

/** Share of a matrix's largest number. */
const PLACE_TOLERANCE = 1e-6

/** Whether a node stands otherwise under its parent, or is shown where it was hidden. Both in one space. */
export function standsOtherwise(a: SceneNode, b: SceneNode): boolean {
  const size = a.local.reduce((most, value) => Math.max(most, Math.abs(value)), 1)
  return (
    a.visible !== b.visible ||
    a.local.some((value, at) => !(Math.abs(value - b.local[at]!) <= PLACE_TOLERANCE * size))
  )
}

/**
 * Nodes without polygons on both sides: the returned one's number, and the master's.
 *
 * @param parts nodes of the parts that were matched, the master's and the returned one's.
 */
export function bareNodePairs(
  master: Scene,
  returned: Scene,
  parts: readonly (readonly [number, number])[],
): (readonly [other: number, own: number])[] {
  const known = new Map(parts.map(([own, other]) => [other, own]))
  return [...pairBareNodes(master, returned, known)].filter(([other]) => !known.has(other))
}

export interface BareNodeChanges {
  /** Those that stand otherwise. */
  readonly moved: number
  /** The master's of which nothing came back; a format without nodes has none of them. */
  readonly gone: number
}

/**
 * @param parts nodes of the parts that were matched, the master's and the returned one's.
 * @param withPlaces both scenes have the same space.
 */
export function bareNodeChanges(
  master: Scene,
  returned: Scene,
  parts: readonly (readonly [number, number])[],
  withPlaces: boolean,
): BareNodeChanges {
  const pairs = bareNodePairs(master, returned, parts)
  const moved = pairs.filter(
    ([other, own]) => withPlaces && standsOtherwise(master.nodes[own]!, returned.nodes[other]!),
  ).length
  const found = new Set(pairs.map(([, own]) => own))
  const isKept = formatById(returned.format)?.hasTransforms === false
  const gone = isKept ? 0 : master.nodes.filter(({ mesh }, index) => mesh < 0 && !found.has(index)).length
  return { moved, gone }
}

/** So many of them, as a sentence tells it. */
export const bareNodesText = (count: number): string =>
  `${count} node${count === 1 ? '' : 's'} without polygons`
