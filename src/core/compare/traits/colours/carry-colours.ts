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

/** The same colours, one a corner: what polygons show where a point has one colour. */
export const onCorners = (set: ColorSet, { faceVertices }: Mesh): ColorSet =>
  set.per === 'corners'
    ? set
    : {
        ...set,
        per: 'corners',
        indices: set.indices.length
          ? Int32Array.from(faceVertices, (point) => set.indices[point] ?? -1)
          : Int32Array.from(faceVertices),
      }

/**
 * The target with the source’s colour sets, on points or corners as they were, on corners where the two differ; elements
 * without counterpart keep theirs.
 */
export function carryColours(target: Mesh, source: Mesh, map: CarryMap, ontoMaster: boolean): Mesh {
  const colorSets = carrySets(target.colorSets, source.colorSets, ontoMaster, (kept, taken): ColorSet => {
    const isOtherwise = kept && kept.per !== taken.per
    const set = isOtherwise ? onCorners(taken, source) : taken
    const usable = kept && withComponents(isOtherwise ? onCorners(kept, target) : kept, set.components)
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
