import { placeOfMaterial } from '../scene/bare-material.ts'
import type { Material } from '../scene/material.ts'

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

/** From here on colours stand for groups, so that none is taken for a material's. */
export const GROUP_COLORS_FROM = ON_LATTICE * (LATTICES - 1)

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

/** Whole steps of 255 by which a tool may have changed a colour on its way. */
const WITHIN = 3

/**
 * Materials by the colours that `idColor` gave them.
 * @param materials those there are; one that a colour of none of them needs is added, named after the colour.
 * @returns the place of a colour's material, in whole steps of 255; -1 for black.
 */
export function createIdMaterials(materials: Material[]): (color: readonly number[]) => number {
  const palette = materials.map((_material, place) => idColor(place))
  const known = new Map<string, number>()
  return (color) => {
    const key = hexOf(color)
    const before = known.get(key)
    if (before !== undefined) return before
    let place = color.every((one) => one <= WITHIN)
      ? -1
      : palette.findIndex((own) => own.every((one, at) => Math.abs(one - color[at]!) <= WITHIN))
    if (place < 0 && color.some((one) => one > WITHIN)) place = placeOfMaterial(materials, `color_${key}`)
    known.set(key, place)
    return place
  }
}
