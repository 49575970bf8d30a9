/** Colours and shapes: what points carry besides their place. */
import { furtherPoints } from '../further-counterparts.ts'
import type { Correspondence } from '../../match/correspondence.ts'
import { boundsOf, diagonalOf } from '../../../base/math/box.ts'
import { type BlendShape, type Mesh, type Skin } from '../../../scene/mesh.ts'
import type { Scene } from '../../../scene/scene.ts'
import { sameSpace } from '../../../scene/space.ts'
import { soundDeviation } from '../sound-deviation.ts'
import { compared, NOTHING, sameWhereMatched, type TraitComparison } from '../trait.ts'

/** Offsets below this share of the part's diagonal are the same. */
const SHAPE_TOLERANCE = 1e-6
/** Changes of normals are told with 32 bits. */
const NORMAL_TOLERANCE = 1e-5
/** Percent: weights are told with 32 bits. */
const WEIGHT_TOLERANCE = 1e-4
/** Share of the largest number in the matrices of one skin. */
const BIND_TOLERANCE = 1e-6

/**
 * How far two shapes differ, a point that a shape doesn't name being moved by nothing; infinite where they turn normals
 * otherwise. Points without counterpart on the other side say nothing.
 */
function shapeDeviation(a: BlendShape, b: BlendShape, match: Correspondence): number {
  const placesIn = ({ points }: BlendShape): Map<number, number> =>
    new Map(Array.from(points, (point, at) => [point, 3 * at]))
  const [from, to] = [placesIn(a), placesIn(b)]
  let largest = 0
  const look = (point: number, other: number): void => {
    const [own, its] = [from.get(point), to.get(other)]
    if (own === undefined && its === undefined) return
    for (let axis = 0; axis < 3; axis++) {
      const offset = own === undefined ? 0 : a.offsets[own + axis]!
      const back = its === undefined ? 0 : b.offsets[its + axis]!
      largest = Math.max(
        largest,
        soundDeviation(Math.abs(offset - back), () => Object.is(offset, back)),
      )
      for (const kind of ['normals', 'tangents'] as const) {
        const [turns, turnsBack] = [a[kind], b[kind]]
        if (!turns || !turnsBack) continue
        const turn = own === undefined ? 0 : turns[own + axis]!
        const turnBack = its === undefined ? 0 : turnsBack[its + axis]!
        if (!(Math.abs(turn - turnBack) <= NORMAL_TOLERANCE)) largest = Infinity
      }
    }
  }
  match.pointToReturned.forEach((other, point) => other >= 0 && look(point, other))
  // what was split off moves as what it was split from
  const { own, other } = furtherPoints(match)
  own.forEach((point, at) => look(point, other[at]!))
  return largest
}

/** Weights of a point by the name of the joint, those of nothing left out. */
function weightsAt(skin: Skin, scene: Scene, point: number): Map<string, number> {
  const weights = new Map<string, number>()
  for (let at = skin.offsets[point]!; at < skin.offsets[point + 1]!; at++) {
    const name = scene.nodes[skin.jointNodes[skin.joints[at]!]!]?.name ?? ''
    if (skin.weights[at] !== 0) weights.set(name, (weights.get(name) ?? 0) + skin.weights[at]!)
  }
  return weights
}

function skinsAgree(
  a: Skin | null,
  b: Skin | null,
  match: Correspondence,
  masterScene: Scene,
  returnedScene: Scene,
): boolean {
  if (!a || !b) return a === b
  const agree = (point: number, other: number): boolean => {
    const [from, to] = [weightsAt(a, masterScene, point), weightsAt(b, returnedScene, other)]
    if (from.size !== to.size) return false
    for (const [name, weight] of from) if (!(Math.abs(weight - (to.get(name) ?? -1)) <= 1e-6)) return false
    return true
  }
  for (let point = 0; point + 1 < a.offsets.length; point++) {
    const other = match.pointToReturned[point]!
    // of what has no counterpart nothing is known
    if (other >= 0 && !agree(point, other)) return false
  }
  const further = furtherPoints(match)
  return further.own.every((point, at) => agree(point, further.other[at]!))
}

/** Whether both say how the joints stood when the skin was bound, and it is not the same; joints go by their names. */
function isBoundOtherwise(a: Skin, b: Skin, masterScene: Scene, returnedScene: Scene): boolean {
  if (a.method !== undefined && b.method !== undefined && a.method !== b.method) return true
  // in another space the matrices are other ones, as that file's way of getting there has it
  if (!sameSpace(masterScene.space, returnedScene.space)) return false
  const jointOf = new Map(Array.from(b.jointNodes, (node, joint) => [returnedScene.nodes[node]?.name, joint]))
  for (const kind of ['jointBinds', 'meshBinds'] as const) {
    const [own, its] = [a[kind], b[kind]]
    if (!own || !its) continue
    const size = own.reduce((most, value) => Math.max(most, Math.abs(value)), 1)
    for (let joint = 0; joint < a.jointNodes.length; joint++) {
      const other = jointOf.get(masterScene.nodes[a.jointNodes[joint]!]?.name)
      if (other === undefined) continue
      for (let at = 0; at < 16; at++)
        if (!(Math.abs(own[16 * joint + at]! - its[16 * other + at]!) <= BIND_TOLERANCE * size)) return true
    }
  }
  return false
}

/** Points that a shape moves or a joint holds. */
const carriedPoints = ({ shapes, skin }: Mesh): number[] => [
  ...new Set([
    ...shapes.flatMap(({ points }) => [...points]),
    ...Array.from({ length: skin ? skin.offsets.length - 1 : 0 }, (_value, point) => point).filter(
      (point) => skin!.offsets[point + 1]! > skin!.offsets[point]!,
    ),
  ]),
]

/** Blend shapes, paired by name, and skin weights, by the joints' names. */
export function compareShapes(
  masterScene: Scene,
  master: Mesh,
  returnedScene: Scene,
  returned: Mesh,
  match: Correspondence,
): TraitComparison {
  const has = (mesh: Mesh): boolean => mesh.shapes.length > 0 || mesh.skin !== null
  if (!has(master)) return has(returned) ? compared('gained', 'gained') : NOTHING
  const total = master.shapes.length + (master.skin ? 1 : 0)
  if (!has(returned)) return compared('lost', 'lost', { totalCount: total })
  if (match.kind === 'none') return compared('incomparable', 'not-matched')
  const tolerance = diagonalOf(boundsOf(master.points)) * SHAPE_TOLERANCE
  let largest = 0
  let changed = 0
  let weighted = 0
  for (const shape of master.shapes) {
    const other = returned.shapes.find(
      (candidate) =>
        candidate.name === shape.name &&
        (candidate.channel ?? candidate.name) === (shape.channel ?? shape.name) &&
        (candidate.fullWeight ?? 100) === (shape.fullWeight ?? 100),
    )
    const deviation = other ? shapeDeviation(shape, other, match) : Infinity
    if (!(deviation <= tolerance)) changed++
    else largest = Math.max(largest, deviation)
    if (
      shape.weight !== undefined &&
      other?.weight !== undefined &&
      !(Math.abs(shape.weight - other.weight) <= WEIGHT_TOLERANCE)
    )
      weighted++
  }
  if (master.skin && !skinsAgree(master.skin, returned.skin, match, masterScene, returnedScene)) changed++
  changed += Math.max(0, returned.shapes.length - master.shapes.length)
  if (changed)
    return compared('changed', 'shapes-partly', {
      changedCount: changed,
      totalCount: total,
      parameters: { changed, total },
    })
  if (weighted)
    return compared('changed', 'shape-weights', {
      changedCount: weighted,
      totalCount: total,
      parameters: { changed: weighted, total: master.shapes.length },
    })
  if (
    master.skin &&
    returned.skin &&
    isBoundOtherwise(master.skin, returned.skin, masterScene, returnedScene)
  )
    return compared('changed', 'skin-bound-otherwise', { changedCount: 1, totalCount: total })
  const carried = carriedPoints(master)
  const without = carried.filter((point) => match.pointToReturned[point]! < 0).length
  if (without > 0) return sameWhereMatched(without, carried.length)
  return largest > 0
    ? compared('within', 'within', { deviation: largest, parameters: { deviation: largest } })
    : compared('same', 'same', { totalCount: total })
}
