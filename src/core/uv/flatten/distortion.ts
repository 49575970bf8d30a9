/** How much a flat triangle differs from the one on the model, as energies without a unit. */

/**
 * An energy of the map's squared stretches: `sum` = a² + b² and `area` = ab of the two stretches a and b, which is
 * positive where the triangle is not turned over; its derivatives by both.
 */
export interface Distortion {
  readonly value: (sum: number, area: number) => number
  readonly bySum: (sum: number, area: number) => number
  readonly byArea: (sum: number, area: number) => number
  /** What a triangle of even stretch and no distortion has. */
  readonly least: number
  /** How steep the valley is at that size: what the matrix of a step is weighed by. */
  readonly steepness: (sum: number, area: number) => number
}

export type FlattenMethod = 'leastDistortion' | 'angles' | 'sizes'

/** Angles and sizes alike: the symmetric Dirichlet energy (Smith & Schaefer 2015). */
const symmetric: Distortion = {
  value: (sum, area) => sum + sum / (area * area),
  bySum: (_sum, area) => 1 + 1 / (area * area),
  byArea: (sum, area) => (-2 * sum) / (area * area * area),
  least: 4,
  steepness: (sum, area) => 2 * (1 + (3 * sum * sum) / Math.max(area ** 4, 1e-300) / 4),
}

/** Share of the symmetric energy that keeps the other two from running off where they don't care. */
const HOLD = 1e-3

/** a/b + b/a (Hormann & Greiner 2000). */
const angles: Distortion = {
  value: (sum, area) => sum / area + HOLD * symmetric.value(sum, area),
  bySum: (sum, area) => 1 / area + HOLD * symmetric.bySum(sum, area),
  byArea: (sum, area) => -sum / (area * area) + HOLD * symmetric.byArea(sum, area),
  least: 2 + HOLD * 4,
  steepness: (sum, area) => sum / (area * area) + HOLD * symmetric.steepness(sum, area),
}

/** ab + 1/ab, with a share of the angles. */
const ANGLES_BESIDE_SIZES = 0.02
const sizes: Distortion = {
  value: (sum, area) =>
    area + 1 / area + (ANGLES_BESIDE_SIZES * sum) / area + HOLD * symmetric.value(sum, area),
  bySum: (sum, area) => ANGLES_BESIDE_SIZES / area + HOLD * symmetric.bySum(sum, area),
  byArea: (sum, area) =>
    1 - 1 / (area * area) - (ANGLES_BESIDE_SIZES * sum) / (area * area) + HOLD * symmetric.byArea(sum, area),
  least: 2 + 2 * ANGLES_BESIDE_SIZES + HOLD * 4,
  steepness: (sum, area) => 1 + 1 / (area * area) + HOLD * symmetric.steepness(sum, area),
}

export const DISTORTIONS: Readonly<Record<FlattenMethod, Distortion>> = {
  leastDistortion: symmetric,
  angles,
  sizes,
}
