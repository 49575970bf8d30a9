/**
 * Parts and what tools do to them, as files: every point and polygon knows which it was, so that what is found and told of
 * a return can be held against the truth. Nothing here stands on Kelbo's own meshes; it writes OBJ text.
 */
export type Place = readonly [number, number, number]
type Uv = readonly [number, number]
export type Chance = () => number

export interface Corner {
  readonly point: number
  readonly uv: Uv | null
}
export interface Polygon {
  readonly corners: readonly Corner[]
  readonly material: string
  readonly smoothing: number
  readonly group: string
  /** The polygon that it was; '' for one that is new. */
  readonly of: string
}
export interface FilePart {
  readonly name: string
  readonly places: readonly Place[]
  /** The point that each was; '' for one that is new. */
  readonly ids: readonly string[]
  readonly polygons: readonly Polygon[]
}
/** A part as OBJ text. @param digits behind the point. */
export function textOf(parts: readonly FilePart[], digits = 6): string {
  const lines: string[] = []
  let [firstPoint, uvCount] = [1, 0]
  for (const { name, places, polygons } of parts) {
    lines.push(
      `o ${name}`,
      ...places.map((place) => `v ${place.map((one) => one.toFixed(digits)).join(' ')}`),
    )
    const uvs = new Map<string, number>()
    const faces: string[] = []
    let said = { material: '', smoothing: -2, group: '\0' }
    for (const { corners, material, smoothing, group } of polygons) {
      if (group !== said.group) faces.push(`g ${group}`)
      if (material !== said.material) faces.push(`usemtl ${material}`)
      if (smoothing !== said.smoothing) faces.push(`s ${smoothing}`)
      said = { material, smoothing, group }
      const words = corners.map(({ point, uv }) => {
        if (!uv) return String(firstPoint + point)
        const key = uv.map((one) => one.toFixed(digits)).join(' ')
        if (!uvs.has(key)) {
          uvs.set(key, ++uvCount)
          lines.push(`vt ${key}`)
        }
        return `${firstPoint + point}/${uvs.get(key)!}`
      })
      faces.push(`f ${words.join(' ')}`)
    }
    lines.push(...faces)
    firstPoint += places.length
  }
  return `${lines.join('\n')}\n`
}

/** The same values in any order. */
export const shuffled = <Value>(values: readonly Value[], chance: Chance): Value[] => {
  const all = [...values]
  for (let at = all.length - 1; at > 0; at--) {
    const other = Math.floor((at + 1) * chance())
    ;[all[at], all[other]] = [all[other]!, all[at]!]
  }
  return all
}

export const upTo = (chance: Chance, from: number, to: number): number =>
  from + Math.floor((to - from) * chance())
