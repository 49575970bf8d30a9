/** Polygons whose own outline runs through itself in the UVs: a place within it is painted twice, or from behind. */
import type { Mesh, UvSet } from '../scene/mesh.ts'
import { isMapped, uvAreas } from './uv-measures.ts'

/** Less than this share of the square about a polygon is rounding: its sides touch. */
const CLEARLY = 1e-6
/** Of polygons of more than a few sides: sides beyond which one is not looked at, and pairs of sides in all beyond which no more are. */
const [FEW_SIDES, MOST_SIDES, MOST_PAIRS] = [32, 2000, 50_000_000]
/** Times the square of the tile's side; less is no area, which is told as such. */
const LEAST_AREA = 1e-12

/**
 * @param clear how far sides have to reach past each other, in tiles.
 * @returns faces in rising order; those with a corner without UVs, or without area, are none of them.
 */
export function crossedFaces(mesh: Mesh, set: UvSet, clear: number): number[] {
  const areas = uvAreas(mesh, set)
  const found: number[] = []
  let pairs = 0
  for (let face = 0; face < areas.length; face++) {
    const start = mesh.faceOffsets[face]!
    const size = mesh.faceOffsets[face + 1]! - start
    if (size < 4 || size > MOST_SIDES || (size > FEW_SIDES && pairs > MOST_PAIRS)) continue
    if (!(Math.abs(areas[face]!) > LEAST_AREA) || !isMapped(mesh, set, face)) continue
    if (size > FEW_SIDES) pairs += (size * size) / 2
    if (crossesItself(set, start, size, clear)) found.push(face)
  }
  return found
}

function crossesItself({ values, indices }: UvSet, start: number, size: number, clear: number): boolean {
  const u = (corner: number): number => values[2 * indices[start + corner]!]!
  const v = (corner: number): number => values[2 * indices[start + corner]! + 1]!
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity]
  for (let corner = 0; corner < size; corner++) {
    u0 = Math.min(u0, u(corner))
    u1 = Math.max(u1, u(corner))
    v0 = Math.min(v0, v(corner))
    v1 = Math.max(v1, v(corner))
  }
  const least = CLEARLY * ((u1 - u0) ** 2 + (v1 - v0) ** 2)
  const turn = (a: number, b: number, c: number): number =>
    (u(b) - u(a)) * (v(c) - v(a)) - (v(b) - v(a)) * (u(c) - u(a))
  /** Whether two corners lie on either side of a line, clearly. */
  const parts = (a: number, b: number, c: number, d: number): boolean => {
    const [one, other] = [turn(a, b, c), turn(a, b, d)]
    if (one > 0 === other > 0) return false
    const length = Math.hypot(u(b) - u(a), v(b) - v(a))
    return Math.min(Math.abs(one), Math.abs(other)) > Math.max(least, clear * length)
  }
  for (let a = 0; a < size; a++)
    // sides that share a corner don't cross
    for (let c = a + 2; c < size - (a === 0 ? 1 : 0); c++) {
      const [b, d] = [a + 1, (c + 1) % size]
      if (parts(a, b, c, d) && parts(c, d, a, b)) return true
    }
  return false
}
