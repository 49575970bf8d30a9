import { principalAxes } from './principal-axes.ts'

type Vec3 = readonly [number, number, number]

/** Area, middle and second moments of surfaces, gathered triangle by triangle. */
export class SurfaceMoments {
  area = 0
  /** Integrals of x, y and z over the surface. */
  readonly #first = new Float64Array(3)
  /** Integrals of the products of coordinates, row by row. */
  readonly #second = new Float64Array(9)

  /** @param points 3 x n. */
  addTriangle(points: Float64Array, a: number, b: number, c: number): void {
    const at = (point: number, axis: number): number => points[3 * point + axis]!
    const [ux, uy, uz] = [0, 1, 2].map((axis) => at(b, axis) - at(a, axis)) as [number, number, number]
    const [vx, vy, vz] = [0, 1, 2].map((axis) => at(c, axis) - at(a, axis)) as [number, number, number]
    const area = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2
    if (!(area > 0) || !Number.isFinite(area)) return
    this.area += area
    for (let row = 0; row < 3; row++) {
      const sum = at(a, row) + at(b, row) + at(c, row)
      this.#first[row]! += (area * sum) / 3
      // exact over a triangle: area / 12 of the products of the sum and of each corner
      for (let column = 0; column < 3; column++)
        this.#second[3 * row + column]! +=
          (area / 12) *
          (sum * (at(a, column) + at(b, column) + at(c, column)) +
            at(a, row) * at(a, column) +
            at(b, row) * at(b, column) +
            at(c, row) * at(c, column))
    }
  }

  /**
   * Where the middle lies, along which axes the surface extends, and how far.
   *
   * @returns null without area, or where numbers are too large; `spread` is the root of the mean square distance from the
   *   middle along each axis, the longest first; `axes` stand upright on each other, three rows of 3, right-handed.
   */
  axes(): { readonly middle: Vec3; readonly axes: readonly number[]; readonly spread: Vec3 } | null {
    if (!(this.area > 0)) return null
    const middle = [...this.#first].map((value) => value / this.area) as unknown as Vec3
    const central = [...this.#second].map(
      (value, at) => value / this.area - middle[Math.floor(at / 3)]! * middle[at % 3]!,
    )
    const found = principalAxes(central)
    if (!found) return null
    const spread = found.moments.map((moment) => Math.sqrt(Math.max(0, moment))) as unknown as Vec3
    return { middle, axes: found.axes, spread }
  }
}
