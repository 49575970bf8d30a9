/** More shapes to make returns of: chains, trees, boxes in rows, shells in each other, one-sided strips, letters, gears. */
import { upTo, type Chance, type Corner, type FilePart, type Place, type Polygon } from './file-part.ts'

/** A part that is being made. */
interface Made {
  readonly places: Place[]
  readonly polygons: Omit<Polygon, 'of'>[]
}
interface Grid {
  readonly columns: number
  readonly rows: number
  readonly closesAlong?: boolean
  readonly closesAcross?: boolean
  readonly placeAt: (u: number, v: number) => Place
  /** Where its UVs begin; null for none. */
  readonly uvsAt: readonly [number, number] | null
  readonly materialAt?: (column: number, row: number) => string
  readonly groupAt?: (column: number, row: number) => string
}

function addGrid({ places, polygons }: Made, grid: Grid): void {
  const { columns, rows, closesAlong = false, closesAcross = false, placeAt, uvsAt } = grid
  const from = places.length
  const [width, height] = [closesAlong ? columns : columns + 1, closesAcross ? rows : rows + 1]
  for (let at = 0; at < width * height; at++)
    places.push(placeAt((at % width) / columns, Math.floor(at / width) / rows))
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++)
      polygons.push({
        corners: [[0, 0], [1, 0], [1, 1], [0, 1]].map(([i, j]): Corner => ({
          point: from + ((row + j!) % height) * width + ((column + i!) % width),
          uv: uvsAt && [uvsAt[0] + (column + i!) / columns, uvsAt[1] + (row + j!) / rows],
        })), // prettier-ignore
        material: grid.materialAt?.(column, row) ?? 'one',
        smoothing: row < rows / 2 ? 1 : 2,
        group: grid.groupAt?.(column, row) ?? (row % 3 ? 'between' : 'bands'),
      })
}

const SIDES = [[0, 2, 3, 1], [4, 5, 7, 6], [0, 1, 5, 4], [2, 6, 7, 3], [0, 4, 6, 2], [1, 3, 7, 5]] // prettier-ignore

function addBox(
  { places, polygons }: Made,
  low: Place,
  high: Place,
  uvsAt: number | null,
  material = 'one',
): void {
  const from = places.length
  for (let at = 0; at < 8; at++)
    places.push([at & 1 ? high[0] : low[0], at & 2 ? high[1] : low[1], at & 4 ? high[2] : low[2]])
  SIDES.forEach((side, number) =>
    polygons.push({
      corners: side.map((point, at): Corner => ({
        point: from + point,
        uv: uvsAt === null ? null : [uvsAt + number * 0.1 + (at === 1 || at === 2 ? 0.09 : 0), at > 1 ? 0.09 : 0],
      })), // prettier-ignore
      material,
      smoothing: number + 1,
      group: number < 2 ? 'ends' : 'sides',
    }),
  )
}

/** An outline pushed through, with a polygon of many corners at either end. */
function addPushed(
  { places, polygons }: Made,
  outline: readonly (readonly [number, number])[],
  hasUvs: boolean,
): void {
  const count = outline.length
  for (const z of [0, 0.6]) for (const [x, y] of outline) places.push([x, y, z])
  const uv = (u: number, v: number): readonly [number, number] | null => (hasUvs ? [u, v] : null)
  const cap = (point: number, off: number): Corner => {
    const [x, y] = outline[point % count]!
    return { point, uv: uv(off + x * 0.1, y * 0.1) }
  }
  const order = outline.map((_corner, at) => at)
  polygons.push(
    { corners: order.map((at) => cap(count - 1 - at, 0)), material: 'front', smoothing: 0, group: 'caps' },
    { corners: order.map((at) => cap(count + at, 1)), material: 'back', smoothing: 0, group: 'caps' },
  )
  for (const at of order) {
    const next = (at + 1) % count
    const corners = [at, next, count + next, count + at].map((point, corner): Corner => ({
      point,
      uv: uv(2 + at * 0.1 + (corner === 1 || corner === 2 ? 0.1 : 0), corner > 1 ? 0.1 : 0),
    })) // prettier-ignore
    polygons.push({ corners, material: 'side', smoothing: 1, group: 'walls' })
  }
}

const SHAPES = {
  crate: (_chance, hasUvs) => {
    const made: Made = { places: [], polygons: [] }
    addBox(made, [0, 0, 0], [1, 1, 1], hasUvs ? 0 : null)
    return made
  },
  plank: (chance, hasUvs) => {
    const made: Made = { places: [], polygons: [] }
    addBox(made, [0, 0, 0], [1 + chance(), 0.4 + 0.3 * chance(), 0.2 + 0.1 * chance()], hasUvs ? 0 : null)
    return made
  },
  chain: (chance, hasUvs) => {
    const made: Made = { places: [], polygons: [] }
    for (let link = upTo(chance, 3, 8); link > 0; link--)
      addGrid(made, {
        columns: 8,
        rows: 5,
        closesAlong: true,
        closesAcross: true,
        placeAt: (u, v) => {
          const [f, t] = [2 * Math.PI * u, 2 * Math.PI * v]
          const out = 0.5 + 0.12 * Math.cos(t)
          const [x, y, z] = [1.4 * out * Math.cos(f), 0.12 * Math.sin(t), out * Math.sin(f)]
          return link % 2 ? [x + 1.1 * link, z, y] : [x + 1.1 * link, y, z]
        },
        uvsAt: hasUvs ? [link, 0] : null,
        materialAt: () => (link < 2 ? 'other' : 'one'),
        groupAt: () => `link_${link}`,
      })
    return made
  },
  tree: (chance, hasUvs) => {
    const made: Made = { places: [], polygons: [] }
    for (let branch = upTo(chance, 3, 7); branch > 0; branch--) {
      const [x, z, long, wide] = [3 * chance(), 3 * chance(), 0.7 + 2 * chance(), 0.1 + 0.2 * chance()]
      addGrid(made, {
        columns: upTo(chance, 4, 9),
        rows: upTo(chance, 3, 8),
        closesAlong: true,
        placeAt: (u, v) => {
          const out = wide * (1 - 0.6 * v)
          return [x + out * Math.cos(2 * Math.PI * u) + 0.3 * Math.sin(2 * v), long * v, z + out * Math.sin(2 * Math.PI * u)] // prettier-ignore
        },
        uvsAt: hasUvs ? [branch, 0] : null,
        materialAt: (_column, row) => (row < 1 ? 'bark' : 'one'),
      })
    }
    return made
  },
  /** Boxes in rows, all alike. */
  lattice: (chance, hasUvs) => {
    const made: Made = { places: [], polygons: [] }
    const count = upTo(chance, 2, 5)
    for (let at = 0; at < count * count; at++) {
      const [x, z] = [1.5 * Math.floor(at / count), 1.5 * (at % count)]
      addBox(
        made,
        [x, 0, z],
        [x + 1, 0.5, z + 1],
        hasUvs ? at : null,
        (x / 1.5 + z / 1.5) % 2 ? 'one' : 'other',
      )
    }
    return made
  },
  nested: (chance, hasUvs) => {
    const made: Made = { places: [], polygons: [] }
    for (const size of [1, 0.95, 0.4])
      addGrid(made, {
        columns: upTo(chance, 8, 14),
        rows: 6,
        closesAlong: true,
        placeAt: (u, v) => {
          const [t, f] = [0.2 + 2.7 * v, 2 * Math.PI * u]
          return [size * Math.sin(t) * Math.cos(f), size * Math.cos(t), size * Math.sin(t) * Math.sin(f)]
        },
        uvsAt: hasUvs ? [10 * size, 0] : null,
        materialAt: () => (size < 0.5 ? 'core' : 'one'),
      })
    return made
  },
  /** A strip with one side. */
  strip: (chance, hasUvs) => {
    const [columns, rows] = [upTo(chance, 12, 24), 3]
    const places = Array.from({ length: columns * (rows + 1) }, (_place, at): Place => {
      const f = (2 * Math.PI * Math.floor(at / (rows + 1))) / columns
      const s = (at % (rows + 1)) / rows - 0.5
      const out = 2 + s * Math.cos(f / 2)
      return [out * Math.cos(f), s * Math.sin(f / 2), out * Math.sin(f)]
    })
    const pointAt = (column: number, row: number): number =>
      column < columns ? column * (rows + 1) + row : (column - columns) * (rows + 1) + rows - row
    const polygons = Array.from({ length: columns * rows }, (_polygon, at) => {
      const [column, row] = [Math.floor(at / rows), at % rows]
      const corners = [[0, 0], [1, 0], [1, 1], [0, 1]].map(([i, j]): Corner => ({ point: pointAt(column + i!, row + j!), uv: hasUvs ? [(column + i!) / columns, (row + j!) / rows] : null })) // prettier-ignore
      return { corners, material: column < 5 ? 'other' : 'one', smoothing: 1, group: 'strip' }
    })
    return { places, polygons }
  },
  letter: (chance, hasUvs) => {
    const made: Made = { places: [], polygons: [] }
    addPushed(made, [[0, 0], [2, 0], [2, 0.5], [0.5 + 0.2 * chance(), 0.5], [0.5, 3], [0, 3]], hasUvs) // prettier-ignore
    return made
  },
  stairs: (chance, hasUvs) => {
    const made: Made = { places: [], polygons: [] }
    const side: (readonly [number, number])[] = [[0, 0]]
    for (let step = upTo(chance, 3, 9); step > 0; step--) {
      const [z, y] = side.at(-1)!
      side.push([z, y + 0.2], [z + 0.3, y + 0.2])
    }
    addGrid(made, {
      columns: upTo(chance, 1, 4),
      rows: side.length - 1,
      placeAt: (u, v) => [1.2 * u, side[Math.round(v * (side.length - 1))]![1], side[Math.round(v * (side.length - 1))]![0]], // prettier-ignore
      uvsAt: hasUvs ? [0, 0] : null,
      materialAt: (_column, row) => (row % 2 ? 'tread' : 'riser'),
    })
    return made
  },
  gear: (chance, hasUvs) => {
    const made: Made = { places: [], polygons: [] }
    const count = 4 * upTo(chance, 6, 16)
    addGrid(made, {
      columns: count,
      rows: 2,
      closesAlong: true,
      placeAt: (u, v) => {
        const out = Math.round(u * count) % 4 < 2 ? 1.2 : 1
        return [out * Math.cos(2 * Math.PI * u), 0.4 * v, out * Math.sin(2 * Math.PI * u)]
      },
      uvsAt: hasUvs ? [0, 0] : null,
      materialAt: (column) => (column < 4 ? 'marked' : 'one'),
    })
    for (const top of [0, 1])
      made.polygons.push({
        corners: Array.from({ length: count }, (_corner, at): Corner => ({
          point: top ? 3 * count - 1 - at : at,
          uv: hasUvs ? [2 + top + 0.4 * Math.cos(at), 0.4 * Math.sin(at)] : null,
        })), // prettier-ignore
        material: 'lid',
        smoothing: 3,
        group: 'lids',
      })
    return made
  },
  terrain: (chance, hasUvs) => {
    const made: Made = { places: [], polygons: [] }
    const [columns, rows, a, b] = [upTo(chance, 8, 22), upTo(chance, 8, 22), 6 * chance(), 6 * chance()]
    addGrid(made, {
      columns,
      rows,
      placeAt: (u, v) => [4 * u, 0.4 * Math.sin(5 * u + a) * Math.cos(4 * v + b) + 0.15 * Math.sin(13 * u * v + b), 4 * v], // prettier-ignore
      uvsAt: hasUvs ? [0, 0] : null,
      materialAt: (column, row) => (column + row > columns ? 'rock' : 'grass'),
    })
    return made
  },
  /** A body and two arms that mirror each other. */
  figure: (_chance, hasUvs) => {
    const made: Made = { places: [], polygons: [] }
    addGrid(made, {
      columns: 10,
      rows: 8,
      closesAlong: true,
      placeAt: (u, v) => {
        const [t, f] = [0.15 + 2.85 * v, 2 * Math.PI * (u + 0.05)]
        return [0.7 * Math.sin(t) * Math.cos(f), 1.6 * Math.cos(t), 0.5 * Math.sin(t) * Math.sin(f) * (1 + 0.3 * Math.sin(f))] // prettier-ignore
      },
      uvsAt: hasUvs ? [0, 0] : null,
      materialAt: (_column, row) => (row > 5 ? 'cloth' : 'skin'),
    })
    for (const side of [-1, 1])
      addGrid(made, {
        columns: 6,
        rows: 5,
        closesAlong: true,
        placeAt: (u, v) => [side * (0.7 + 1.1 * v), 0.6 + 0.15 * Math.sin(2 * Math.PI * u) - 0.5 * v * v, 0.15 * Math.cos(2 * Math.PI * u * side)], // prettier-ignore
        uvsAt: hasUvs ? [side > 0 ? 1 : 2, 0] : null,
        materialAt: () => 'skin',
        groupAt: () => (side > 0 ? 'arm_left' : 'arm_right'),
      })
    return made
  },
} satisfies Record<string, (chance: Chance, hasUvs: boolean) => Made>
export type MoreShapeName = keyof typeof SHAPES
export const MORE_SHAPE_NAMES = Object.keys(SHAPES) as MoreShapeName[]

export function morePartOf(shape: MoreShapeName, hasUvs: boolean, name: string, chance: Chance): FilePart {
  const { places, polygons } = SHAPES[shape](chance, hasUvs)
  return {
    name,
    places,
    ids: places.map((_place, at) => `${name}.${at}`),
    polygons: polygons.map((polygon, at) => ({ ...polygon, of: `${name}#${at}` })),
  }
}
