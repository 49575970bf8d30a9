import { carryIndexed, carrySets } from '../carry-values.ts'
import { type ColorSet, type Mesh } from '../../../scene/mesh.ts'
import type { CarryMap } from '../trait.ts'

/**
 * The target with the source’s colour sets, on points or corners as they were; elements without counterpart keep
 * theirs.
 */
export function carryColours(target: Mesh, source: Mesh, map: CarryMap, ontoMaster: boolean): Mesh {
  const all = (of: ColorSet): Int32Array =>
    of.indices.length
      ? of.indices
      : Int32Array.from({ length: of.values.length / of.components }, (_value, index) => index)
  const colorSets = carrySets(target.colorSets, source.colorSets, ontoMaster, (own, set): ColorSet => {
    const usable = own && own.per === set.per && own.components === set.components ? own : null
    const carried = carryIndexed(
      usable && { values: usable.values, indices: all(usable) },
      { values: set.values, indices: all(set) },
      set.per === 'points' ? map.points : map.corners,
      set.components,
    )
    return { name: set.name, components: set.components, per: set.per, ...carried }
  })
  return { ...target, colorSets: ontoMaster && source.colorSets.length === 0 ? [] : colorSets }
}
