import { carryIndexed } from '../carry-values.ts'
import { type CornerNormals, type Mesh } from '../../../scene/mesh.ts'
import type { CarryMap } from '../trait.ts'

/** The target with the source’s normals by corner; corners without counterpart keep theirs. */
export function carryNormals(target: Mesh, source: Mesh, map: CarryMap): Mesh {
  const normals: CornerNormals | null = source.normals
    ? carryIndexed(target.normals, source.normals, map.corners, 3)
    : null
  return { ...target, normals }
}
