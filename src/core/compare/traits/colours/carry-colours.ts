import { carryIndexed, carrySets } from '../carry-values.ts'
import { type ColorSet, type Mesh } from '../../../scene/mesh.ts'
import type { CarryMap } from '../trait.ts'

/** An index for every element: sets of points have none of their own. */
export const everyIndex = (set: ColorSet): Int32Array =>
  set.indices.length
    ? set.indices
    : Int32Array.from({ length: set.values.length / set.components }, (_value, index) => index)

/** The same colours with opacity, which is full where nothing was said of it, or without. */
export function withComponents(set: ColorSet, components: 3 | 4): ColorSet {
  if (set.components === components) return set
  const count = set.values.length / set.components
  const values = new Float64Array(count * components).fill(1)
  for (let color = 0; color < count; color++)
    for (let component = 0; component < Math.min(components, set.components); component++)
      values[color * components + component] = set.values[color * set.components + component]!
  return { ...set, components, values }
}

/**
 * The target with the source’s colour sets, on points or corners as they were; elements without counterpart keep
 * theirs.
 */
export function carryColours(target: Mesh, source: Mesh, map: CarryMap, ontoMaster: boolean): Mesh {
  const colorSets = carrySets(target.colorSets, source.colorSets, ontoMaster, (own, set): ColorSet => {
    const usable = own && own.per === set.per ? withComponents(own, set.components) : null
    const carried = carryIndexed(
      usable && { values: usable.values, indices: everyIndex(usable) },
      { values: set.values, indices: everyIndex(set) },
      set.per === 'points' ? map.points : map.corners,
      set.components,
    )
    return { name: set.name, components: set.components, per: set.per, ...carried }
  })
  return { ...target, colorSets: ontoMaster && source.colorSets.length === 0 ? [] : colorSets }
}
