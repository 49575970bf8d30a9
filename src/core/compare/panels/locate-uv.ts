/** Where in an island a UV lies. */
import { flatBoundsOf } from '../../base/math/box.ts'
import type { LaidIsland } from '../../uv/islands/laid-island.ts'

export interface Located {
  /** Of the island's net. */
  readonly triangle: number
  /** Of its three vertices; together 1. */
  readonly shares: readonly [number, number, number]
  /** 0 inside; else how far the nearest place is, UV units. */
  readonly distance: number
}
export type Locator = (u: number, v: number) => Located

/** UVs nearer to a vertex than this, by the island's size, are its own: files hold few digits of them. */
const SAME = 1e-5

/** Cells are about as many as triangles. */
export function createLocator({ net, flat }: LaidIsland): Locator {
  const count = net.triangles.length / 3
  const [u0, v0, u1, v1] = flatBoundsOf([flat])
  const same = SAME * Math.hypot(u1 - u0, v1 - v0)
  const side =
    Math.max(Math.sqrt(((u1 - u0) * (v1 - v0)) / Math.max(1, count)), (u1 - u0 + v1 - v0) / 4096) || 1
  const [columns, rows] = [Math.floor((u1 - u0) / side) + 1, Math.floor((v1 - v0) / side) + 1]
  const cells: number[][] = Array.from({ length: columns * rows }, () => [])
  const clamp = (value: number, most: number): number => Math.max(0, Math.min(most - 1, Math.floor(value)))
  const corner = (triangle: number, k: number): [number, number] => {
    const vertex = net.triangles[3 * triangle + k]!
    return [flat[2 * vertex]!, flat[2 * vertex + 1]!]
  }
  for (let triangle = 0; triangle < count; triangle++) {
    const own = [corner(triangle, 0), corner(triangle, 1), corner(triangle, 2)]
    const us = own.map(([u]) => u)
    const vs = own.map(([, v]) => v)
    for (
      let row = clamp((Math.min(...vs) - v0) / side, rows);
      row <= clamp((Math.max(...vs) - v0) / side, rows);
      row++
    )
      for (
        let column = clamp((Math.min(...us) - u0) / side, columns);
        column <= clamp((Math.max(...us) - u0) / side, columns);
        column++
      )
        cells[row * columns + column]!.push(triangle)
  }
  return (u, v) => {
    let best: Located = { triangle: 0, shares: [1, 0, 0], distance: Infinity }
    const look = (triangle: number): void => {
      if (best.distance === 0) return
      const found = nearestOn(u, v, corner(triangle, 0), corner(triangle, 1), corner(triangle, 2))
      if (found.distance < best.distance) best = { triangle, ...found }
    }
    const [column, row] = [clamp((u - u0) / side, columns), clamp((v - v0) / side, rows)]
    // a vertex at the very place says more than triangles that may lie over each other there
    for (const triangle of cells[row * columns + column]!)
      for (let k = 0; k < 3; k++) {
        const [cu, cv] = corner(triangle, k)
        if (Math.hypot(cu - u, cv - v) > same) continue
        const shares: [number, number, number] = [0, 0, 0]
        shares[k] = 1
        return { triangle, shares, distance: 0 }
      }
    // rings of cells, until none can hold anything nearer
    for (let ring = 0; ring <= Math.max(columns, rows); ring++) {
      for (let y = row - ring; y <= row + ring; y++)
        for (let x = column - ring; x <= column + ring; x++) {
          if (x < 0 || y < 0 || x >= columns || y >= rows) continue
          if (Math.max(Math.abs(x - column), Math.abs(y - row)) !== ring) continue
          for (const triangle of cells[y * columns + x]!) look(triangle)
        }
      if (best.distance <= ring * side) break
    }
    return best
  }
}

type Place = readonly [number, number]

function nearestOn(u: number, v: number, a: Place, b: Place, c: Place): Omit<Located, 'triangle'> {
  const doubled = (b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1])
  if (doubled !== 0) {
    const s = ((b[0] - u) * (c[1] - v) - (c[0] - u) * (b[1] - v)) / doubled
    const t = ((c[0] - u) * (a[1] - v) - (a[0] - u) * (c[1] - v)) / doubled
    if (s >= -1e-12 && t >= -1e-12 && s + t <= 1 + 1e-12) return { shares: [s, t, 1 - s - t], distance: 0 }
  }
  let best: Omit<Located, 'triangle'> = { shares: [1, 0, 0], distance: Infinity }
  const corners = [a, b, c]
  for (let k = 0; k < 3; k++) {
    const [p, q] = [corners[k]!, corners[(k + 1) % 3]!]
    const [du, dv] = [q[0] - p[0], q[1] - p[1]]
    const squared = du * du + dv * dv
    const share = squared > 0 ? Math.max(0, Math.min(1, ((u - p[0]) * du + (v - p[1]) * dv) / squared)) : 0
    const distance = Math.hypot(u - p[0] - share * du, v - p[1] - share * dv)
    if (distance >= best.distance) continue
    const shares: [number, number, number] = [0, 0, 0]
    shares[k] = 1 - share
    shares[(k + 1) % 3] = share
    best = { shares, distance }
  }
  return best
}
