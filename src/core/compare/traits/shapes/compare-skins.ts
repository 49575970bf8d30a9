/** Which joint holds how much of which point, with joints paired by name and then by their order. */
import type { Correspondence } from '../../match/correspondence.ts'
import type { Skin } from '../../../scene/mesh.ts'
import type { Scene } from '../../../scene/scene.ts'
import { sameSpace } from '../../../scene/space.ts'
import { furtherPoints } from '../further-counterparts.ts'
import { pairSets } from '../pair-sets.ts'

/** Weights are told with 32 bits. */
const WEIGHT_TOLERANCE = 1e-6
/** Share of the largest number in the matrices of one skin. */
const BIND_TOLERANCE = 1e-6

export interface SkinDifference {
  /** Points of the master whose weights differ, in rising order. */
  readonly changed: readonly number[]
  /** What came back for them. */
  readonly changedReturned: readonly number[]
  /** The most by which a joint's share of a point differs; 0 to 1. */
  readonly largest: number
  /** Points with a counterpart. */
  readonly held: number
  /** Names of joints before and after, where they are others. */
  readonly renamed: readonly (readonly [string, string])[]
  /** Both say how the joints stood when the skin was bound, and it is not the same. */
  readonly isBoundOtherwise: boolean
}

interface Joint {
  readonly name: string
  readonly joint: number
}
const jointsOf = ({ jointNodes }: Skin, scene: Scene): Joint[] =>
  Array.from(jointNodes, (node, joint) => ({ name: scene.nodes[node]?.name ?? '', joint }))

export function compareSkins(
  own: Skin,
  its: Skin,
  match: Correspondence,
  masterScene: Scene,
  returnedScene: Scene,
): SkinDifference {
  const { pairs } = pairSets(jointsOf(own, masterScene), jointsOf(its, returnedScene))
  const ownOf = new Map(pairs.flatMap(({ from, to }) => (to ? [[to.joint, from.joint] as const] : [])))
  /** Shares of a point by the master's joints; those of a joint that the master has not by numbers below 0. */
  const sharesAt = (skin: Skin, point: number, jointOf: (joint: number) => number): Map<number, number> => {
    const shares = new Map<number, number>()
    for (let at = skin.offsets[point] ?? 0; at < (skin.offsets[point + 1] ?? 0); at++) {
      const joint = jointOf(skin.joints[at]!)
      if (skin.weights[at] !== 0) shares.set(joint, (shares.get(joint) ?? 0) + skin.weights[at]!)
    }
    return shares
  }
  const changed = new Map<number, number>()
  let largest = 0
  let held = 0
  const look = (point: number, other: number): void => {
    const from = sharesAt(own, point, (joint) => joint)
    const to = sharesAt(its, other, (joint) => ownOf.get(joint) ?? -1 - joint)
    let most = 0
    for (const joint of new Set([...from.keys(), ...to.keys()]))
      most = Math.max(most, Math.abs((from.get(joint) ?? 0) - (to.get(joint) ?? 0)))
    largest = Math.max(largest, most)
    // what is no number is another
    if (!(most <= WEIGHT_TOLERANCE) && !changed.has(point)) changed.set(point, other)
  }
  for (let point = 0; point + 1 < own.offsets.length; point++) {
    const other = match.pointToReturned[point]!
    // of what has no counterpart nothing is known
    if (other < 0) continue
    held++
    look(point, other)
  }
  const further = furtherPoints(match)
  further.own.forEach((point, at) => look(point, further.other[at]!))
  const points = [...changed.keys()].sort((a, b) => a - b)
  return {
    changed: points,
    changedReturned: points.map((point) => changed.get(point)!),
    largest,
    held,
    renamed: pairs.flatMap(({ from, to }) => (to && to.name !== from.name ? [[from.name, to.name] as const] : [])), // prettier-ignore
    isBoundOtherwise: isBoundOtherwise(own, its, pairs, sameSpace(masterScene.space, returnedScene.space)),
  }
}

function isBoundOtherwise(
  own: Skin,
  its: Skin,
  pairs: readonly { readonly from: Joint; readonly to: Joint | null }[],
  inSameSpace: boolean,
): boolean {
  if (own.method !== undefined && its.method !== undefined && own.method !== its.method) return true
  // in another space the matrices are other ones, as that file's way of getting there has it
  if (!inSameSpace) return false
  for (const kind of ['jointBinds', 'meshBinds'] as const) {
    const [before, after] = [own[kind], its[kind]]
    if (!before || !after) continue
    const size = before.reduce((most, value) => Math.max(most, Math.abs(value)), 1)
    for (const { from, to } of pairs)
      for (let at = 0; to && at < 16; at++)
        if (!(Math.abs(before[16 * from.joint + at]! - after[16 * to.joint + at]!) <= BIND_TOLERANCE * size))
          return true
  }
  return false
}
