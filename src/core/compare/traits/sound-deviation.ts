/** Said of what has no number any more, or an endless one: farther than anything, and still a number in a document. */
export const FARTHEST = Number.MAX_VALUE

/** A deviation that can be held against others, whatever broken numbers it came from. @param same the very same broken ones. */
export const soundDeviation = (deviation: number, same: () => boolean): number =>
  deviation <= FARTHEST ? deviation : same() ? 0 : FARTHEST

/** Share of a number by which it is another after two roundings to 32-bit floats, as most tools and many formats keep them. */
export const FLOAT_ROUNDING = 2 ** -22

/**
 * Largest difference of a matrix's entries, relative to the largest of its kind: most tools hold transforms in single
 * precision (2 ** -24 of a number), and take them apart and together.
 */
export const TRANSFORM_TOLERANCE = 1e-6
