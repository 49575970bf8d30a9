/**
 * One colour for each of many regions, by its place in their list. They lie on a lattice of seven levels a channel, so
 * that any two differ by 12 of 255 in some channel and survive what tools round; the lattice is walked in long steps,
 * so that neighbours in the list are far apart. Hues a golden section apart were tried: two of the first 150 lay within
 * 3 of 255.
 */
const LEVELS = [255, 219, 183, 147, 111, 75, 39] as const
const ON_LATTICE = LEVELS.length ** 3
/** Prime to the number of points of the lattice. */
const STEP = 197
/** The lattice again, moved by so much: colours of a long list. */
const SHIFT = 12
const LATTICES = 3

/** How many differ; the next has the first one's colour again. */
export const ID_COLOR_COUNT = ON_LATTICE * LATTICES

/** @returns red, green, blue in whole steps of 255, as they are written. */
export function idColor(place: number): [number, number, number] {
  const lattice = Math.floor(place / ON_LATTICE) % LATTICES
  const point = (((place % ON_LATTICE) + 1) * STEP) % ON_LATTICE
  const level = (digit: number): number => LEVELS[digit]! - lattice * SHIFT
  return [level(point % 7), level(Math.floor(point / 7) % 7), level(Math.floor(point / 49))]
}

/** A colour as people write it: `c8a030`. */
export const hexOf = (color: readonly number[]): string =>
  color.map((one) => Math.round(one).toString(16).padStart(2, '0')).join('')
