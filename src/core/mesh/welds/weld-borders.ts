import { mergePoints } from '../rebuilding/edit-faces.ts'
import { createMeshFacts, type MeshFacts } from '../relations/mesh-facts.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { findBorderWelds } from './find-border-welds.ts'
import { countWelds, weldedPoints } from './find-welds.ts'
import { refineWelds } from './refine-welds.ts'

/** Share of the diagonal within which borders are taken to belong together where no distance is given. */
export const BORDER_SHARE = 1e-3

/** Whether welding borders would weld something. */
export const canWeldBorders = (facts: MeshFacts, distance: number): boolean => {
  const target = findBorderWelds(facts, distance, null)
  return countWelds(target) > 0 && countWelds(refineWelds(facts, target)) > 0
}

/**
 * Welds points of different open borders within a distance (in the points' unit), until there are none: what one
 * round closes makes new borders, so that welding again at the same distance would otherwise find more. Surfaces that
 * would only touch stay apart.
 *
 * @param chosen n flags; points that are not chosen neither move nor take others. Null: all.
 * @returns null where nothing is to be welded; `points` are those that went to another, in the numbers before.
 */
export function weldBorders(
  facts: MeshFacts,
  distance: number,
  chosen: Uint8Array | null,
): { mesh: Mesh; count: number; points: Uint32Array } | null {
  let current = facts
  let open = chosen
  /** The number before of each point that is left. */
  let origin = Uint32Array.from({ length: facts.pointCount }, (_value, point) => point)
  const gone: number[] = []
  for (;;) {
    const target = refineWelds(current, findBorderWelds(current, distance, open))
    if (countWelds(target) === 0) break
    for (const point of weldedPoints(target)) gone.push(origin[point]!)
    const stays = (_value: number, point: number): boolean => target[point] === point
    origin = origin.filter(stays)
    open = open && open.filter(stays)
    current = createMeshFacts(mergePoints(current.mesh, target))
  }
  if (gone.length === 0) return null
  return { mesh: current.mesh, count: gone.length, points: Uint32Array.from(gone).sort() }
}
