/** Blend shapes and skins: how points are moved, and by what. */
import { furtherPoints } from '../further-counterparts.ts'
import type { Correspondence } from '../../match/correspondence.ts'
import { boundsOf, diagonalOf } from '../../../base/math/box.ts'
import { type BlendShape, type Mesh } from '../../../scene/mesh.ts'
import type { Scene } from '../../../scene/scene.ts'
import { soundDeviation } from '../sound-deviation.ts'
import { compared, NOTHING, sameWhereMatched, toldDeviation, type TraitComparison } from '../trait.ts'
import { compareSkins } from './compare-skins.ts'

/** Offsets below this share of the part's diagonal are the same. */
const SHAPE_TOLERANCE = 1e-6
/** Changes of normals are told with 32 bits. */
const NORMAL_TOLERANCE = 1e-5
/** Percent: how far a shape is on; told with 32 bits. */
const WEIGHT_TOLERANCE = 1e-4

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

/** Points that a shape moves or a joint holds. */
const carriedPoints = ({ shapes, skin }: Mesh): number[] => [
  ...new Set([
    ...shapes.flatMap(({ points }) => [...points]),
    ...Array.from({ length: skin ? skin.offsets.length - 1 : 0 }, (_value, point) => point).filter(
      (point) => skin!.offsets[point + 1]! > skin!.offsets[point]!,
    ),
  ]),
]

/** Name, what it is a part of, and how far that is on where it is all of it. */
const isCalledAlike = (a: BlendShape, b: BlendShape): boolean =>
  a.name === b.name &&
  (a.channel ?? a.name) === (b.channel ?? b.name) &&
  (a.fullWeight ?? 100) === (b.fullWeight ?? 100)

const shapeName = ({ name, channel = name, fullWeight = 100 }: BlendShape): string =>
  `${channel && channel !== name ? `${channel}/` : ''}${name}${fullWeight === 100 ? '' : ` at ${fullWeight}`}`

/** Shapes of the two sides by what they are called, then by their order. */
function pairShapes(
  own: readonly BlendShape[],
  came: readonly BlendShape[],
): (readonly [BlendShape, BlendShape | null])[] {
  const open = [...came]
  const take = (at: number): BlendShape | null => (at < 0 ? null : open.splice(at, 1)[0]!)
  const called = own.map((shape) => [shape, take(open.findIndex((other) => isCalledAlike(shape, other)))] as const) // prettier-ignore
  return called.map(([shape, other]) => [shape, other ?? take(open.length ? 0 : -1)] as const)
}

/** Blend shapes, paired by name, and skins. */
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
  const pairs = pairShapes(master.shapes, returned.shapes)
  const renamed: (readonly [string, string])[] = []
  for (const [shape, other] of pairs) {
    const deviation = other ? shapeDeviation(shape, other, match) : Infinity
    if (!other || !(deviation <= tolerance)) {
      changed++
      continue
    }
    largest = Math.max(largest, deviation)
    if (!isCalledAlike(shape, other)) renamed.push([shapeName(shape), shapeName(other)])
    if (
      shape.weight !== undefined &&
      other.weight !== undefined &&
      !(Math.abs(shape.weight - other.weight) <= WEIGHT_TOLERANCE)
    )
      weighted++
  }
  const added = Math.max(0, returned.shapes.length - master.shapes.length)
  const skin = master.skin && returned.skin && compareSkins(master.skin, returned.skin, match, masterScene, returnedScene) // prettier-ignore
  const [skinLost, skinNew] = [master.skin && !returned.skin, !master.skin && returned.skin]
  const weights = skin && {
    points: skin.changed.length,
    held: skin.held,
    most: toldDeviation(skin.largest),
  }
  const isSkinOther = skinLost || skinNew || (skin?.changed.length ?? 0) > 0
  const places = skin?.changed.length
    ? ({
        element: 'points',
        master: Uint32Array.from(skin.changed),
        returned: Uint32Array.from(skin.changedReturned),
      } as const)
    : null
  if (changed + added)
    return compared('changed', 'shapes-partly', {
      changedCount: changed + added + Number(isSkinOther),
      totalCount: total,
      parameters: {
        changed,
        total: master.shapes.length,
        added,
        both: Math.min(changed, added),
        skinLost: Number(Boolean(skinLost)),
        skinNew: Number(Boolean(skinNew)),
        ...(weights ?? { points: 0, held: 0, most: 0 }),
      },
      places,
    })
  if (isSkinOther)
    return weights
      ? compared('changed', 'skin-weights', { changedCount: weights.points, totalCount: weights.held, deviation: skin.largest, parameters: weights, places }) // prettier-ignore
      : compared('changed', skinLost ? 'skin-lost' : 'skin-new', { changedCount: 1, totalCount: total })
  if (weighted)
    return compared('changed', 'shape-weights', {
      changedCount: weighted,
      totalCount: total,
      parameters: { changed: weighted, total: master.shapes.length },
    })
  if (renamed.length)
    return compared('changed', 'shapes-renamed', {
      changedCount: renamed.length,
      totalCount: total,
      parameters: { count: renamed.length, from: renamed[0]![0], to: renamed[0]![1] || '(no name)' },
    })
  if (skin?.isBoundOtherwise)
    return compared('changed', 'skin-bound-otherwise', { changedCount: 1, totalCount: total })
  if (skin?.renamed.length)
    return compared('changed', 'joints-renamed', {
      changedCount: skin.renamed.length,
      totalCount: total,
      parameters: {
        count: skin.renamed.length,
        from: skin.renamed[0]![0],
        to: skin.renamed[0]![1] || '(no name)',
      },
    })
  const carried = carriedPoints(master)
  const without = carried.filter((point) => match.pointToReturned[point]! < 0).length
  if (without > 0) return sameWhereMatched(without, carried.length)
  return largest > 0
    ? compared('within', 'within', { deviation: largest, parameters: { deviation: largest } })
    : compared('same', 'same', { totalCount: total })
}
