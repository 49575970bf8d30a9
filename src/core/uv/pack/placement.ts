/** Where an outline comes to lie. */

/** (u, v) becomes scale * (cos u - sin v, sin u + cos v) + (shiftU, shiftV), in the tile's own square. */
export interface Placement {
  readonly tile: number
  readonly angle: number
  readonly shiftU: number
  readonly shiftV: number
}
