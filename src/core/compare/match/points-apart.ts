import type { Mesh } from '../../scene/mesh.ts'

/** Between two points, of one mesh or of two in one space. */
export function pointsApart(a: Mesh, pointA: number, b: Mesh, pointB: number): number {
  const x = a.points[3 * pointA]! - b.points[3 * pointB]!
  const y = a.points[3 * pointA + 1]! - b.points[3 * pointB + 1]!
  const z = a.points[3 * pointA + 2]! - b.points[3 * pointB + 2]!
  // many times as quick as what also takes numbers whose squares are too large
  return Math.sqrt(x * x + y * y + z * z)
}
