/** Shapes to make returns of: grown, symmetrical, many alike, with both sides, on one edge, of polygons with many corners. */
import { upTo, type Chance, type Corner, type FilePart, type Place, type Polygon } from './file-part.ts'

/** Polygons over a grid of places; columns or rows that close join the first again. */
function gridPart(
  [columns, rows]: readonly [number, number],
  [closesAlong, closesAcross]: readonly [boolean, boolean],
  placeAt: (u: number, v: number) => Place,
  { from = 0, half = columns, hasUvs = true } = {},
): Pick<FilePart, 'places'> & { polygons: Omit<Polygon, 'of'>[] } {
  const [width, height] = [closesAlong ? columns : columns + 1, closesAcross ? rows : rows + 1]
  const places = Array.from({ length: width * height }, (_, at) =>
    placeAt((at % width) / columns, Math.floor(at / width) / rows),
  )
  const polygons = Array.from({ length: columns * rows }, (_, at) => {
    const [column, row] = [at % columns, Math.floor(at / columns)]
    const around = [[0, 0], [1, 0], [1, 1], [0, 1]].map(([i, j]) => [column + i!, row + j!] as const) // prettier-ignore
    return {
      corners: around.map(([i, j]): Corner => ({
        point: from + (j % height) * width + (i % width),
        uv: hasUvs ? [i / columns, j / rows] : null,
      })),
      material: column >= half ? 'other' : 'one',
      smoothing: row < rows / 2 ? 1 : 2,
      group: row % 3 === 0 ? 'bands' : 'between',
    }
  })
  return { places, polygons }
}

/** Shapes without a name yet; all but the last two may have UVs. */
const SHAPES = {
  lump: (chance: Chance, hasUvs: boolean) => {
    const [a, b, c] = [6 * chance(), 6 * chance(), 6 * chance()]
    const size = [upTo(chance, 8, 18), upTo(chance, 5, 13)] as const
    const at = (u: number, v: number): Place => {
      const [t, f] = [0.15 + 2.8 * v, 2 * Math.PI * u]
      const out = 1 + 0.25 * Math.sin(3 * f + a) * Math.sin(2 * t + b) + 0.15 * Math.sin(f + c)
      return [out * Math.sin(t) * Math.cos(f), out * Math.cos(t), out * Math.sin(t) * Math.sin(f)]
    }
    return gridPart(size, [true, false], at, { hasUvs, half: upTo(chance, 2, size[0]) })
  },
  ring: (chance: Chance, hasUvs: boolean) => {
    const size = [upTo(chance, 8, 20), upTo(chance, 4, 9)] as const
    const at = (u: number, v: number): Place => {
      const [f, t] = [2 * Math.PI * u, 2 * Math.PI * v]
      const out = 2 + 0.5 * Math.cos(t)
      return [out * Math.cos(f), 0.5 * Math.sin(t), out * Math.sin(f)]
    }
    return gridPart(size, [true, true], at, { hasUvs, half: upTo(chance, 2, size[0]) })
  },
  cloth: (chance: Chance, hasUvs: boolean) => {
    const size = [upTo(chance, 6, 20), upTo(chance, 5, 19)] as const
    const at = (u: number, v: number): Place => [3 * u, 0.1 * Math.sin(7 * u), 2 * v]
    return gridPart(size, [false, false], at, { hasUvs, half: upTo(chance, 2, size[0]) })
  },
  cards: (chance: Chance, hasUvs: boolean) => {
    const all = { places: [] as Place[], polygons: [] as Omit<Polygon, 'of'>[] }
    for (let card = upTo(chance, 10, 35); card > 0; card--) {
      const [x, z, turn] = [4 * chance(), 4 * chance(), 6 * chance()]
      const at = (u: number, v: number): Place => [
        x + 0.1 * u * Math.cos(turn),
        v,
        z + 0.1 * u * Math.sin(turn),
      ]
      const own = gridPart([1, 3 + (card % 2)], [false, false], at, { from: all.places.length, hasUvs })
      all.places.push(...own.places)
      all.polygons.push(...own.polygons)
    }
    return all
  },
  /** A sheet with both sides, on the same points or each on its own. */
  sheet: (chance: Chance, hasUvs: boolean) => {
    const count = upTo(chance, 5, 11)
    const front = gridPart([count, count], [false, false], (u, v) => [2 * u, 0.2 * u * v, 2 * v], { hasUvs, half: upTo(chance, 2, count) }) // prettier-ignore
    const off = chance() < 0.5 ? front.places.length : 0
    const back = front.polygons.map(({ corners }) => ({
      corners: corners.map(({ point, uv }): Corner => ({ point: point + off, uv: uv && [uv[0] + 1, uv[1]] })).reverse(), // prettier-ignore
      material: 'lining',
      smoothing: 3,
      group: 'back',
    }))
    return {
      places: off ? [...front.places, ...front.places] : front.places,
      polygons: [...front.polygons, ...back],
    }
  },
  /** Three sheets on one edge. */
  fins: (chance: Chance, hasUvs: boolean) => {
    const count = upTo(chance, 6, 12)
    const places: Place[] = Array.from({ length: count + 1 }, (_, at) => [0, at / count, 0])
    const polygons = [0, 1, 2].flatMap((fin) => {
      const from = places.length
      for (let at = 0; at <= count; at++)
        places.push([Math.cos(2 * fin) * (1 + 0.2 * fin), at / count, Math.sin(2 * fin)])
      return Array.from({ length: count }, (_, at) => ({
        corners: [[at, 0, at], [from + at, 1, at], [from + at + 1, 1, at + 1], [at + 1, 0, at + 1]].map(([point, u, v]): Corner => ({ point: point!, uv: hasUvs ? [u! + 1.5 * fin, v! / count] : null })), // prettier-ignore
        material: `fin ${fin}`,
        smoothing: fin,
        group: `fin_${fin}`,
      }))
    })
    return { places, polygons }
  },
  /** With a polygon of many corners at either end. */
  prism: (chance: Chance, hasUvs: boolean) => {
    const count = upTo(chance, 5, 14)
    const wide = 0.6 + chance()
    const ends = [0, 1.3].flatMap((height) => Array.from({ length: count }, (_, at): Place => [wide * Math.cos((2 * Math.PI * at) / count), height, Math.sin((2 * Math.PI * at) / count)])) // prettier-ignore
    const sides = Array.from({ length: count }, (_, at) => ({
      corners: [[at, 0], [at, 1], [at + 1, 1], [at + 1, 0]].map(([step, end]): Corner => ({ point: (step! % count) + count * end!, uv: hasUvs ? [step! / count, end!] : null })), // prettier-ignore
      material: 'one',
      smoothing: 1,
      group: 'sides',
    }))
    const lid = (top: boolean) => ({
      corners: Array.from({ length: count }, (_, at): Corner => ({ point: top ? 2 * count - 1 - at : at, uv: hasUvs ? [(top ? 2 : 4) + Math.cos(at), Math.sin(at)] : null })), // prettier-ignore
      material: 'other',
      smoothing: 2,
      group: 'lids',
    })
    return { places: ends, polygons: [...sides, lid(true), lid(false)] }
  },
}
export type ShapeName = keyof typeof SHAPES
export const SHAPE_NAMES = Object.keys(SHAPES) as ShapeName[]

export function partOf(shape: ShapeName, hasUvs: boolean, name: string, chance: Chance): FilePart {
  const { places, polygons } = SHAPES[shape](chance, hasUvs)
  return {
    name,
    places,
    ids: places.map((_, at) => `${name}.${at}`),
    polygons: polygons.map((polygon, at) => ({ ...polygon, of: `${name}#${at}` })),
  }
}
