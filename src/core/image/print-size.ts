/** How many pixels a print needs. */

export const CENTIMETRES_PER_INCH = 2.54

/** @param length of the longer side, in centimetres. @param dots an inch. @returns whole pixels, rounded up. */
export const pixelsForPrint = (length: number, dots: number): number =>
  Math.ceil((length / CENTIMETRES_PER_INCH) * dots - 1e-9)

/** The size of a map, which are powers of two by common practice, that has at least so many pixels. */
export const mapSizeFor = (pixels: number): number => 2 ** Math.max(0, Math.ceil(Math.log2(pixels)))
