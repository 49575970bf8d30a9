import { type Mesh } from '../../../scene/mesh.ts'
import type { CarryMap, PointTolerance } from '../trait.ts'

/** @param tolerance points that lie closer to the source's keep the target's exact numbers. */
export function carryPoints(target: Mesh, source: Mesh, map: CarryMap, tolerance: PointTolerance): Mesh {
  const points = target.points.slice()
  for (let point = 0; point < map.points.length; point++) {
    const from = map.points[point]!
    if (from < 0) continue
    const x = points[3 * point]!
    const y = points[3 * point + 1]!
    const z = points[3 * point + 2]!
    const dx = source.points[3 * from]! - x
    const dy = source.points[3 * from + 1]! - y
    const dz = source.points[3 * from + 2]! - z
    if (Math.sqrt(dx * dx + dy * dy + dz * dz) <= tolerance(x, y, z)) continue
    points[3 * point] = source.points[3 * from]!
    points[3 * point + 1] = source.points[3 * from + 1]!
    points[3 * point + 2] = source.points[3 * from + 2]!
  }
  return { ...target, points, pointWeights: carryWeights(target, source, map) }
}

/** Rational weights as the source has them; a point without counterpart keeps its own. */
function carryWeights(target: Mesh, source: Mesh, map: CarryMap): Float64Array | null {
  if (!target.pointWeights && !source.pointWeights) return null
  const weights = Float64Array.from(map.points, (from, point) =>
    from < 0 ? (target.pointWeights?.[point] ?? 1) : (source.pointWeights?.[from] ?? 1),
  )
  return weights.every((weight) => weight === 1) ? null : weights
}
