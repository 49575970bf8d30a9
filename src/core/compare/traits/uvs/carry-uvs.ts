import { withUvSets } from '../../../mesh/rebuilding/with-uv-sets.ts'
import { carryIndexed, carrySets } from '../carry-values.ts'
import { type Mesh, type UvSet } from '../../../scene/mesh.ts'
import type { CarryMap } from '../trait.ts'

/** The target with the source’s UV sets by corner; corners without counterpart keep theirs. */
export function carryUvs(target: Mesh, source: Mesh, map: CarryMap, ontoMaster: boolean): Mesh {
  const uvSets = carrySets(target.uvSets, source.uvSets, ontoMaster, (own, set): UvSet => {
    const carried = carryIndexed(own, set, map.corners, 2)
    const depthsOf = (of: UvSet) => ({
      values: of.depths ?? new Float64Array(of.values.length / 2),
      indices: of.indices,
    })
    const depths =
      set.depths || own?.depths
        ? carryIndexed(own && depthsOf(own), depthsOf(set), map.corners, 1).values
        : null
    return { name: set.name, ...carried, depths: depths?.some((depth) => depth !== 0) ? depths : null }
  })
  // nothing came back at all: that is what was asked for
  return withUvSets(target, ontoMaster && source.uvSets.length === 0 ? [] : uvSets)
}
