import { carryIndexed, carrySets } from '../carry-values.ts'
import { type Mesh, type UvSet } from '../../../scene/mesh.ts'
import type { CarryMap } from '../trait.ts'

/** The target with the source’s UV sets by corner; corners without counterpart keep theirs. */
export function carryUvs(target: Mesh, source: Mesh, map: CarryMap, ontoMaster: boolean): Mesh {
  const uvSets = carrySets(target.uvSets, source.uvSets, ontoMaster, (own, set): UvSet => {
    const carried = carryIndexed(own, set, map.corners, 2)
    const complete = carried.values.length === set.values.length
    return { name: set.name, ...carried, depths: complete ? set.depths : null }
  })
  // nothing came back at all: that is what was asked for
  return { ...target, uvSets: ontoMaster && source.uvSets.length === 0 ? [] : uvSets }
}
