import { readableNumber } from '../../base/messages/render.ts'

/** How a length in a scene's unit is written: ' cm' for a hundredth of a metre, nothing for an unknown unit. */
export function unitSuffix(unitMeters: number | null): string {
  const names: Record<string, string> = {
    1: ' m',
    0.1: ' dm',
    0.01: ' cm',
    0.001: ' mm',
    0.0254: ' in',
    0.3048: ' ft',
  }
  return unitMeters === null ? '' : (names[String(unitMeters)] ?? ` × ${unitMeters} m`)
}

/** A length with its unit. */
export const lengthText = (length: number, unitMeters: number | null): string =>
  `${readableNumber(length)}${unitSuffix(unitMeters)}`
