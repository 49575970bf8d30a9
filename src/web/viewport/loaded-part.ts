import type { Box } from '../../core/base/math/box.ts'
import type { Mesh } from '../../core/scene/mesh.ts'
import type { DrawMesh } from '../../core/view/prepare-mesh.ts'

/** A node's mesh, ready to be drawn. */
export interface LoadedPart {
  readonly node: number
  readonly mesh: Mesh
  readonly drawn: DrawMesh
  /** So many polygons that its edges are drawn only where it is selected. */
  readonly isDense: boolean
  readonly bounds: Box | null
}
