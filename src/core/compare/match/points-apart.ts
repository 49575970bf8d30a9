import type { Mesh } from '../../scene/mesh.ts'

/** Between two points, of one mesh or of two in one space. */
export function pointsApart(a: Mesh, pointA: number, b: Mesh, pointB: number): number {
  return Math.hypot(
    a.points[3 * pointA]! - b.points[3 * pointB]!,
    a.points[3 * pointA + 1]! - b.points[3 * pointB + 1]!,
    a.points[3 * pointA + 2]! - b.points[3 * pointB + 2]!,
  )
}
