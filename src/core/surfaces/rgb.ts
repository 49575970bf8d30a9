/** Colours as three linear numbers. */
export type Rgb = readonly [number, number, number]

export const scaled = (rgb: Rgb, factor: number): Rgb => [rgb[0] * factor, rgb[1] * factor, rgb[2] * factor]
export const times = (a: Rgb, b: Rgb): Rgb => [a[0] * b[0], a[1] * b[1], a[2] * b[2]]
/** From `from` at 0 to `to` at 1. */
export const mixed = (from: Rgb, to: Rgb, share: number): Rgb => [
  from[0] * (1 - share) + to[0] * share,
  from[1] * (1 - share) + to[1] * share,
  from[2] * (1 - share) + to[2] * share,
]
/** Of three alike exactly that number. */
export const mean = ([r, g, b]: Rgb): number => (r === g && g === b ? r : (r + g + b) / 3)
export const largest = ([r, g, b]: Rgb): number => Math.max(r, g, b)
export const WHITE: Rgb = [1, 1, 1]
export const BLACK: Rgb = [0, 0, 0]
/** A strength of at most one and the colour that it is times of: black is white at no strength. */
export function weighted(rgb: Rgb): { weight: number; color: Rgb } {
  const weight = largest(rgb)
  // below this a quotient can be without end, and no light is left to be seen
  if (!(weight > 1e-12)) return { weight: 0, color: WHITE }
  return { weight, color: [rgb[0] / weight, rgb[1] / weight, rgb[2] / weight] }
}
