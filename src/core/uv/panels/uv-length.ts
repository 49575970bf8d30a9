/** How long one UV unit is, as the name of a UV set states it: `panels (1 = 2 m)`. */

const STATED = / ?\(1 = (\d+(?:\.\d+)?(?:e-?\d+)?) m\)$/

/** Metres; null where the name states none. */
export function statedLength(name: string): number | null {
  const found = STATED.exec(name)
  const length = found ? Number(found[1]) : 0
  return length > 0 && Number.isFinite(length) ? length : null
}

export const withLength = (name: string, metres: number): string =>
  `${baseName(name)} (1 = ${Number(metres.toPrecision(6))} m)`

/** The name without the length. */
export const baseName = (name: string): string => name.replace(STATED, '')
