/**
 * Crease weights between files and the scene. Sharpness runs to 10 and beyond (OpenSubdiv's scale); files hold
 * weights from 0 to 1, their squares, or 0 to 10: common practice, told apart by nothing in the file.
 */
import type { CreaseScale } from './options.ts'

const FULL_SHARPNESS = 10

/** Sharpness (0 to 10) of a crease’s weight in a file. */
export const sharpnessOf = (weight: number, { creaseScale, creaseExponent }: CreaseScale): number => {
  const share = weight / creaseScale
  return FULL_SHARPNESS * (creaseExponent === 1 ? share : share ** (1 / creaseExponent))
}

/** Weight in a file of a sharpness (0 to 10). */
export const weightOf = (sharpness: number, { creaseScale, creaseExponent }: CreaseScale): number => {
  const share = sharpness / FULL_SHARPNESS
  return creaseScale * (creaseExponent === 1 ? share : share ** creaseExponent)
}
