/** Builds a part out of quad grids, each an island in the UV tile. */
import { createUnion } from '../../mesh/relations/adjacency.ts'
import { EMPTY_MESH, type Mesh } from '../../scene/mesh.ts'
import { edgeKey } from '../../mesh/relations/adjacency.ts'

export type Vec = readonly [number, number, number]

/** A rectangle of the UV tile: u0, v0, u1, v1. */
export type UvRect = readonly [number, number, number, number]

export interface GridOptions {
  /** Cells along u and v. */
  readonly columns: number
  readonly rows: number
  /** The last column joins the first. */
  readonly closed?: boolean
  /** The last row joins the first. */
  readonly closedRows?: boolean
  /** Position of the grid point in column i, row j. */
  readonly point: (column: number, row: number) => Vec
  /** The rectangle that the island fills; without one it lies at its own size, to be given a place by layUvs. */
  readonly uv?: UvRect
  /** Places of the island's points, at its own size, in place of the lengths of its rows. */
  readonly place?: (column: number, row: number) => readonly [number, number]
  readonly material: number
  readonly smoothing: number
  /** Group names of a cell. */
  readonly groups: (column: number, row: number) => readonly string[]
  /** Sharpness of the edge along row j (joining columns), 0 for none. */
  readonly rowCrease?: (row: number) => number
  /** Sharpness of the edge along column i (joining rows). */
  readonly columnCrease?: (column: number) => number
}

/** More than any island is wide. */
const ISLANDS_APART = 1000

/** A point's place in the tile. */
type UvPlace = (column: number, row: number) => readonly [number, number]

function filling([u0, v0, u1, v1]: UvRect, { columns, rows }: GridOptions): UvPlace {
  return (column, row) => [u0 + ((u1 - u0) * column) / columns, v0 + ((v1 - v0) * row) / rows]
}

/**
 * Rows are as long as they are on the part, and as far from each other in the mean: a strip that grows narrow where the
 * part does, so that no polygon gets much more or less room than another.
 */
function strip({ columns, rows, point, closed, closedRows }: GridOptions): UvPlace {
  const places = Array.from({ length: rows + 1 }, (_row, row) =>
    Array.from({ length: columns + 1 }, (_column, column) =>
      point(closed ? column % columns : column, closedRows ? row % rows : row),
    ),
  )
  const apart = (a: Vec, b: Vec): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])
  const along = places.map((line) => {
    let length = 0
    return line.map((place, column) => (length += column ? apart(place, line[column - 1]!) : 0))
  })
  let height = 0
  const heights = places.map((line, row) => {
    const before = places[row - 1]
    if (before)
      height += line.reduce((sum, place, column) => sum + apart(place, before[column]!), 0) / line.length
    return height
  })
  return (column, row) => [along[row]![column]! - along[row]![columns]! / 2, heights[row]!]
}

export interface PartBuilder {
  /** Adds a grid; @returns its point numbers, row by row. */
  grid(options: GridOptions): number[][]
  /** Points that are to be one (the seam between two grids). */
  join(a: number, b: number): void
  build(name: string): Mesh
}

export function createPartBuilder(): PartBuilder {
  const points: number[] = []
  const faces: number[][] = []
  const uvs: number[] = []
  const faceUvs: number[][] = []
  const materials: number[] = []
  const smoothing: number[] = []
  const groupNames: string[] = []
  const groupSets: number[][] = []
  const setIds = new Map<string, number>()
  const faceSets: number[] = []
  const creases: [number, number, number][] = []
  const joins: [number, number][] = []
  let gridCount = 0

  const internSet = (names: readonly string[]): number => {
    if (names.length === 0) return -1
    const key = names.join(' ')
    let id = setIds.get(key)
    if (id === undefined) {
      id = groupSets.length
      setIds.set(key, id)
      groupSets.push(
        names.map((name) => {
          if (!groupNames.includes(name)) groupNames.push(name)
          return groupNames.indexOf(name)
        }),
      )
    }
    return id
  }

  return {
    grid(options) {
      const { columns, rows, closed = false, closedRows = false } = options
      const pointColumns = closed ? columns : columns + 1
      const pointRows = closedRows ? rows : rows + 1
      const numbers: number[][] = []
      for (let row = 0; row < pointRows; row++) {
        const line: number[] = []
        for (let column = 0; column < pointColumns; column++) {
          line.push(points.length / 3)
          for (const value of options.point(column, row)) points.push(Number(value.toFixed(5)))
        }
        numbers.push(line)
      }
      const { uv, place } = options
      const placeOf = uv ? filling(uv, options) : (place ?? strip(options))
      // islands that are laid later may not touch each other by chance before
      const apart = uv ? 0 : ISLANDS_APART * gridCount++
      const uvBase = uvs.length / 2
      for (let row = 0; row <= rows; row++)
        for (let column = 0; column <= columns; column++)
          for (const value of placeOf(column, row)) uvs.push(Math.round((value + apart) * 1e6) / 1e6)
      const at = (column: number, row: number): number => numbers[row % pointRows]![column % pointColumns]!
      const uvAt = (column: number, row: number): number => uvBase + row * (columns + 1) + column
      for (let row = 0; row < rows; row++)
        for (let column = 0; column < columns; column++) {
          faces.push([at(column, row), at(column + 1, row), at(column + 1, row + 1), at(column, row + 1)])
          faceUvs.push([
            uvAt(column, row),
            uvAt(column + 1, row),
            uvAt(column + 1, row + 1),
            uvAt(column, row + 1),
          ])
          materials.push(options.material)
          smoothing.push(options.smoothing)
          faceSets.push(internSet(options.groups(column, row)))
        }
      for (let row = 0; row < pointRows; row++) {
        const sharpness = options.rowCrease?.(row) ?? 0
        if (sharpness > 0)
          for (let column = 0; column < columns; column++)
            creases.push([at(column, row), at(column + 1, row), sharpness])
      }
      for (let column = 0; column < pointColumns; column++) {
        const sharpness = options.columnCrease?.(column) ?? 0
        if (sharpness > 0)
          for (let row = 0; row < rows; row++) creases.push([at(column, row), at(column, row + 1), sharpness])
      }
      return numbers
    },
    join(a, b) {
      joins.push([a, b])
    },
    build(name) {
      const pointCount = points.length / 3
      const union = createUnion(pointCount)
      for (const [a, b] of joins) union.join(a, b)
      const oldToNew = new Int32Array(pointCount)
      const kept: number[] = []
      for (let point = 0; point < pointCount; point++)
        if (union.rootOf(point) === point) {
          oldToNew[point] = kept.length / 3
          kept.push(points[3 * point]!, points[3 * point + 1]!, points[3 * point + 2]!)
        }
      const newOf = (point: number): number => oldToNew[union.rootOf(point)]!
      const faceOffsets = new Uint32Array(faces.length + 1)
      faces.forEach((face, index) => (faceOffsets[index + 1] = faceOffsets[index]! + face.length))
      const creaseOf = new Map<number, [number, number, number]>()
      for (const [a, b, sharpness] of creases)
        creaseOf.set(edgeKey(newOf(a), newOf(b)), [newOf(a), newOf(b), sharpness])
      const distinct = [...creaseOf.values()]
      return {
        ...EMPTY_MESH,
        name,
        points: Float64Array.from(kept),
        faceOffsets,
        faceVertices: Uint32Array.from(faces.flat(), newOf),
        uvSets: [
          {
            name: 'uv',
            values: Float64Array.from(uvs),
            indices: Int32Array.from(faceUvs.flat()),
            depths: null,
          },
        ],
        smoothing: { kind: 'groups', faceGroups: Int32Array.from(smoothing) },
        creases: distinct.length
          ? {
              edgePoints: Uint32Array.from(distinct.flatMap(([a, b]) => [a, b])),
              edgeSharpness: Float64Array.from(distinct, ([, , sharpness]) => sharpness),
              cornerPoints: new Uint32Array(0),
              cornerSharpness: new Float64Array(0),
            }
          : null,
        faceMaterials: Int32Array.from(materials),
        groups: groupSets.length
          ? { names: groupNames, sets: groupSets, faceSets: Int32Array.from(faceSets) }
          : null,
      }
    },
  }
}
