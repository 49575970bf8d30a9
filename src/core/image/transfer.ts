/**
 * Light as numbers of colours, and back: the transfer of sRGB. Source: IEC 61966-2-1 (decode below 0.04045 by 12.92,
 * encode below 0.0031308).
 */

/** @param value 0 to 1 as it is stored; what lies below 0 is mirrored, so that nothing becomes no number. */
export const decodeSrgb = (value: number): number =>
  value < 0 ? -decodeSrgb(-value) : value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4

/** @param light linear, 1 for white. */
export const encodeSrgb = (light: number): number =>
  light < 0 ? -encodeSrgb(-light) : light <= 0.0031308 ? light * 12.92 : 1.055 * light ** (1 / 2.4) - 0.055

/** Values of whole steps as light (or as they are): one for each step. */
export function stepValues(full: 255 | 65535, space: 'sRGB' | 'linear'): Float32Array {
  const values = new Float32Array(full + 1)
  for (let step = 0; step <= full; step++)
    values[step] = space === 'sRGB' ? decodeSrgb(step / full) : step / full
  return values
}
