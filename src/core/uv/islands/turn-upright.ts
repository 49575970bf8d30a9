/** Which way an island should be turned. */
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { Matrix } from '../../base/math/matrix.ts'
import { axisVector } from '../../scene/space.ts'
import type { Axis } from '../../scene/scene.ts'
import type { LaidIsland } from './laid-island.ts'

export type IslandDirection = 'up' | 'longestBorder' | 'grid'

/** Sides that turn less than this go on straight: cosine of 3 degrees. */
const STRAIGHT = 0.9986

/**
 * @param up the direction in the mesh's own space that should run upwards in the UVs, for `up`.
 * @returns radians counter-clockwise; 0 where nothing says a direction.
 */
export function turnTo(
  to: IslandDirection,
  island: LaidIsland,
  facts: MeshFacts,
  up: readonly [number, number, number],
): number {
  const angle =
    to === 'up' ? turnUp(island, facts, up) : to === 'grid' ? turnToGrid(island) : turnToBorder(island)
  return Number.isFinite(angle) ? angle : 0
}

/** Where the way up runs in the UVs, by area, is turned upwards. */
function turnUp({ net, flat }: LaidIsland, facts: MeshFacts, up: readonly [number, number, number]): number {
  const points = facts.points()
  let [u, v] = [0, 0]
  for (let at = 0; at < net.triangles.length; at += 3) {
    const [i, j, k] = [net.triangles[at]!, net.triangles[at + 1]!, net.triangles[at + 2]!]
    const [p, q, r] = [3 * net.vertexPoints[i]!, 3 * net.vertexPoints[j]!, 3 * net.vertexPoints[k]!]
    // heights over the triangle as a linear function of the UVs; its gradient is the way up
    const [h1, h2] = [0, 0].map((_, side) =>
      [0, 1, 2].reduce(
        (sum, axis) => sum + up[axis]! * (points[(side ? r : q) + axis]! - points[p + axis]!),
        0,
      ),
    ) as [number, number]
    const [ux, uy] = [flat[2 * j]! - flat[2 * i]!, flat[2 * j + 1]! - flat[2 * i + 1]!]
    const [vx, vy] = [flat[2 * k]! - flat[2 * i]!, flat[2 * k + 1]! - flat[2 * i + 1]!]
    // times the area, so that no triangle divides by nothing
    const share = net.shares[at / 3]! * Math.sign(ux * vy - uy * vx)
    u += share * (h1 * vy - h2 * uy)
    v += share * (h2 * ux - h1 * vx)
  }
  return Math.hypot(u, v) > 0 ? Math.PI / 2 - Math.atan2(v, u) : 0
}

/** Sides of polygons run along the axes as far as they can: the mean of four times their directions. */
function turnToGrid({ net, flat }: LaidIsland): number {
  let [c, s] = [0, 0]
  for (let face = 0; face + 1 < net.faceStarts.length; face++)
    for (let k = net.faceStarts[face]!; k < net.faceStarts[face + 1]!; k++) {
      const next = k + 1 < net.faceStarts[face + 1]! ? k + 1 : net.faceStarts[face]!
      const [a, b] = [2 * net.vertices[k]!, 2 * net.vertices[next]!]
      const [du, dv] = [flat[b]! - flat[a]!, flat[b + 1]! - flat[a + 1]!]
      const length = Math.hypot(du, dv)
      const angle = 4 * Math.atan2(dv, du)
      c += length * Math.cos(angle)
      s += length * Math.sin(angle)
    }
  return Math.hypot(c, s) > 0 ? -Math.atan2(s, c) / 4 : 0
}

/** The longest straight stretch of a border runs along the nearer axis. */
function turnToBorder({ net, flat }: LaidIsland): number {
  let best = { length: 0, angle: 0 }
  for (const loop of net.loops) {
    const count = loop.length
    const side = (at: number): [number, number] => {
      const [a, b] = [2 * loop[at % count]!, 2 * loop[(at + 1) % count]!]
      return [flat[b]! - flat[a]!, flat[b + 1]! - flat[a + 1]!]
    }
    let begin = 0
    let [u, v] = [0, 0]
    // twice round, so that a stretch over the end is found whole
    for (let at = 0; at < 2 * count; at++) {
      const [du, dv] = side(at)
      const [length, own] = [Math.hypot(u, v), Math.hypot(du, dv)]
      const goesOn = length === 0 || own === 0 || u * du + v * dv >= STRAIGHT * length * own
      if (!goesOn || at - begin >= count) {
        begin = at
        ;[u, v] = [0, 0]
      }
      u += du
      v += dv
      const now = Math.hypot(u, v)
      if (now > best.length * (1 + 1e-9)) best = { length: now, angle: Math.atan2(v, u) }
    }
  }
  const quarter = Math.PI / 2
  return Math.round(best.angle / quarter) * quarter - best.angle
}

/** Up in the world as a direction of a part's own space: where its points rise fastest. */
export function upOf(axis: Axis, m: Matrix): [number, number, number] {
  const [x, y, z] = axisVector(axis)
  return [
    m[0]! * x + m[1]! * y + m[2]! * z,
    m[4]! * x + m[5]! * y + m[6]! * z,
    m[8]! * x + m[9]! * y + m[10]! * z,
  ]
}

/** The island turned about the origin. @param angle radians, counter-clockwise. */
export function turnedBy(island: LaidIsland, angle: number): LaidIsland {
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  const flat = new Float64Array(island.flat.length)
  for (let at = 0; at < flat.length; at += 2) {
    flat[at] = c * island.flat[at]! - s * island.flat[at + 1]!
    flat[at + 1] = s * island.flat[at]! + c * island.flat[at + 1]!
  }
  return { ...island, flat }
}
