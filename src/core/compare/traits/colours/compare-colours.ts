import { furtherCorners, furtherPoints } from '../further-counterparts.ts'
import { soundDeviation } from '../sound-deviation.ts'
import type { Correspondence } from '../../match/correspondence.ts'
import { cornerCountOf, pointCountOf, type ColorSet, type Mesh } from '../../../scene/mesh.ts'
import { onCorners } from './carry-colours.ts'
import { pairSets, setNames } from '../pair-sets.ts'
import { compared, NOTHING, sameWhereMatched, toldDeviation, type TraitComparison } from '../trait.ts'

/** Colours are 8-bit in many programs; half a step of that would hide real changes, so text noise only. */
export const COLOUR_TOLERANCE = 1e-5

/** What a colour of 8 bits is off by less than where it was one of more: some programs round, others cut. */
const ONE_STEP = 1 / 255 - COLOUR_TOLERANCE

/**
 * Place among a set’s values of a point’s or corner’s colour; sets without indices have one an element, in order.
 */
export const colorIndex = (set: ColorSet, element: number): number =>
  set.indices.length ? set.indices[element]! : element

/** Colour sets by name; values are the same within `COLOUR_TOLERANCE`, absolute. Those of points and those of corners are held against each other at the corners. */
export function compareColours(master: Mesh, returned: Mesh, match: Correspondence): TraitComparison {
  const totalOf = (set: ColorSet): number =>
    set.per === 'points' ? pointCountOf(master) : cornerCountOf(master)
  const total = master.colorSets.reduce((sum, set) => sum + totalOf(set), 0)
  if (master.colorSets.length === 0) return returned.colorSets.length ? compared('gained', 'gained') : NOTHING
  if (returned.colorSets.length === 0) return compared('lost', 'lost', { totalCount: total })
  const { pairs, gained } = pairSets(master.colorSets, returned.colorSets)
  if (match.kind === 'none') return compared('incomparable', 'not-matched')
  const compares = pairs.flatMap(({ from, to }) => {
    if (!to) return []
    if (from.per === to.per) return [compareColourSet(from, to, match)]
    const shown = compareColourSet(onCorners(from, master), onCorners(to, returned), match)
    // what no polygon has shows nowhere, and its colour was held against nothing
    return [from.per === 'points' ? { ...shown, without: shown.without + loosePoints(master) } : shown]
  })
  const deviation = Math.max(...compares.map((set) => set.largest))
  const changedCount = compares.reduce((sum, set) => sum + set.changed.length, 0)
  const common = { changedCount, totalCount: total, deviation }
  const lost = pairs.filter((pair) => !pair.to).map((pair) => pair.from)
  if (lost.length)
    return compared('changed', 'colour-sets-lost', {
      ...common,
      parameters: { lost: lost.length, total: master.colorSets.length, names: setNames(lost) },
    })
  const isRounded = deviation < ONE_STEP && compares.every(({ oneSided }) => oneSided === 0)
  // the first set that differs is the one that can be shown
  const shown = compares.find((set) => set.changed.length > 0)
  if (shown)
    return compared('changed', isRounded ? 'colours-rounded' : 'colours-changed', {
      ...common,
      parameters: { changed: changedCount, total, deviation: toldDeviation(deviation) },
      places: {
        element: shown.per,
        master: Uint32Array.from(shown.changed),
        returned: Uint32Array.from(shown.changedReturned),
      },
    })
  if (gained.length)
    return compared('gained', 'colour-sets-gained', {
      ...common,
      parameters: { added: gained.length, names: setNames(gained) },
    })
  const otherwise = pairs.find(({ from, to }) => to && to.per !== from.per)
  const without = compares.reduce((sum, set) => sum + set.without, 0)
  if (otherwise && without === 0)
    return compared('changed', otherwise.from.per === 'points' ? 'colours-on-corners' : 'colours-on-points', {
      ...common,
    })
  const renamed = pairs.find(({ from, to }) => to && to.name !== from.name)
  if (renamed)
    return compared('changed', 'colour-set-renamed', {
      ...common,
      parameters: { from: renamed.from.name, to: renamed.to!.name },
    })
  if (without > 0) return sameWhereMatched(without, total)
  return deviation > 0
    ? compared('within', 'within', { ...common, parameters: { deviation } })
    : compared('same', 'same', common)
}

/** Points that no polygon has. */
function loosePoints(mesh: Mesh): number {
  const isUsed = new Uint8Array(pointCountOf(mesh))
  for (const point of mesh.faceVertices) isUsed[point] = 1
  return isUsed.reduce((count, used) => count + 1 - used, 0)
}

/** A colour's red, green, blue and opacity; what states no opacity is opaque. */
const componentOf = (set: ColorSet, color: number, component: number): number =>
  component < set.components ? set.values[color * set.components + component]! : 1

/**
 * Elements of one set whose colours differ, what came back for them, the largest deviation of a component, and how many
 * elements have no counterpart: those are neither changed nor the same.
 */
export function compareColourSet(a: ColorSet, b: ColorSet, match: Correspondence) {
  const map = a.per === 'points' ? match.pointToReturned : match.cornerToReturned
  const further = a.per === 'points' ? furtherPoints(match) : furtherCorners(match)
  const changed: number[] = []
  const changedReturned: number[] = []
  const isChanged = new Uint8Array(map.length)
  const most = Math.max(a.components, b.components)
  let largest = 0
  let without = 0
  /** Times that one side has a colour and the other none. */
  let oneSided = 0
  const differs = (element: number, other: number): boolean => {
    const [from, to] = [colorIndex(a, element), colorIndex(b, other)]
    if (from < 0 || to < 0) {
      if (from < 0 && to < 0) return false
      oneSided++
      return true
    }
    let deviation = 0
    for (let component = 0; component < most; component++) {
      const [own, its] = [componentOf(a, from, component), componentOf(b, to, component)]
      deviation = Math.max(
        deviation,
        soundDeviation(Math.abs(own - its), () => Object.is(own, its)),
      )
    }
    if (deviation > largest) largest = deviation
    return deviation > COLOUR_TOLERANCE
  }
  const look = (element: number, other: number): void => {
    if (!differs(element, other)) return
    if (!isChanged[element]) changed.push(element)
    isChanged[element] = 1
    changedReturned.push(other)
  }
  for (let element = 0; element < map.length; element++)
    if (map[element]! < 0) without++
    else look(element, map[element]!)
  for (let at = 0; at < further.own.length; at++) look(further.own[at]!, further.other[at]!)
  return { changed, changedReturned, largest, without, oneSided, per: a.per }
}
