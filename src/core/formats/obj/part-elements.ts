/** What of a file's lists belongs to one part: lines, weights, colours, groups, creases. */
import { type ColorSet, type Creases, type FaceGroups, type PolyLines } from '../../scene/mesh.ts'

import { type ObjStatements } from './statements.ts'

/** Rows of `width` numbers at the wanted places, in that order. */
export function pick(source: Float64Array, wanted: Int32Array, width: number): Float64Array {
  const picked = new Float64Array(wanted.length * width)
  for (let index = 0, at = 0; index < wanted.length; index++)
    for (let part = 0, from = wanted[index]! * width; part < width; part++)
      picked[at++] = source[from + part]!
  return picked
}

/** 0 to length - 1. */
export const identity = (length: number): Int32Array => {
  const list = new Int32Array(length)
  for (let index = 0; index < length; index++) list[index] = index
  return list
}

/** Calls with the number of each corner of a line element. */
export function eachLineCorner(
  statements: ObjStatements,
  line: number,
  visit: (corner: number) => void,
): void {
  const starts = statements.lineStarts
  const end = line + 1 < starts.length ? starts.array[line + 1]! : statements.lineCorners.length
  for (let corner = starts.array[line]!; corner < end; corner++) visit(corner)
}

/**
 * The line elements of one part over its own points; null for none. Lines with a corner that is not valid are left
 * out.
 */
export function pickLines(
  statements: ObjStatements,
  lines: Int32Array,
  lineUvs: readonly number[],
  localPoint: (vertex: number) => number,
  valid: (vertex: number) => boolean,
): PolyLines | null {
  if (lines.length === 0) return null
  const offsets = [0]
  const points: number[] = []
  for (const line of lines) {
    eachLineCorner(statements, line, (corner) => {
      const vertex = statements.lineCorners.array[corner]!
      if (valid(vertex)) points.push(localPoint(vertex))
    })
    offsets.push(points.length)
  }
  return {
    offsets: Uint32Array.from(offsets),
    points: Uint32Array.from(points),
    uvs: Int32Array.from(lineUvs),
  }
}

/** Fourth numbers of a part’s vertices; null where none says one other than 1. */
export function pickWeights(statements: ObjStatements, list: Int32Array): Float64Array | null {
  const weights = new Float64Array(list.length)
  let stated = false
  for (let index = 0; index < list.length; index++) {
    const vertex = list[index]!
    weights[index] = vertex < statements.weights.length ? statements.weights.array[vertex]! : 1
    if (weights[index] !== 1) stated = true
  }
  return stated ? weights : null
}

/** Vertex colours of a part as one set on points, equal colours once. */
export function pickColors(statements: ObjStatements, list: Int32Array): ColorSet[] {
  const components = statements.colorComponents
  if (components === 0) return []
  const source = statements.colors
  const indices = new Int32Array(list.length)
  const values: number[] = []
  let complete = true
  for (let index = 0; index < list.length; index++) {
    const at = 4 * list[index]!
    if (at >= source.length || Number.isNaN(source.array[at]!)) {
      indices[index] = -1
      complete = false
    } else {
      indices[index] = values.length / components
      for (let component = 0; component < components; component++) values.push(source.array[at + component]!)
    }
  }
  if (values.length === 0) return []
  return [
    {
      name: OBJ_COLOR_SET_NAME,
      components,
      values: Float64Array.from(values),
      per: 'points',
      indices: complete ? new Int32Array(0) : indices,
    },
  ]
}

/** Groups of a part’s faces with only the names that it uses; null where it has none. */
export function pickGroups(
  statements: ObjStatements,
  faceSets: Int32Array,
  map: Int32Array,
): FaceGroups | null {
  map.fill(-1)
  const sets: number[][] = []
  const names: string[] = []
  const nameIds = new Map<number, number>()
  for (let face = 0; face < faceSets.length; face++) {
    const set = faceSets[face]!
    if (set < 0) continue
    if (map[set]! < 0) {
      map[set] = sets.length
      sets.push(
        statements.groupSets[set]!.map((group) => {
          let id = nameIds.get(group)
          if (id === undefined) {
            id = names.length
            nameIds.set(group, id)
            names.push(statements.groupNames[group]!)
          }
          return id
        }),
      )
    }
    faceSets[face] = map[set]!
  }
  return sets.length ? { names, sets, faceSets } : null
}

/** Tag lines sorted to their points, so that each part finds its own. */
export function createCreaseIndex(
  statements: ObjStatements,
): (points: Int32Array, pointLocal: Int32Array) => Creases | null {
  const { creaseTags, cornerTags } = statements
  if (creaseTags.length === 0 && cornerTags.length === 0) return () => null
  const creasesAt = new Map<number, number[]>()
  for (let tag = 0; tag < creaseTags.length; tag += 3) {
    const from = creaseTags[tag]!
    const list = creasesAt.get(from)
    if (list) list.push(tag)
    else creasesAt.set(from, [tag])
  }
  const cornersAt = new Map<number, number>()
  for (let tag = 0; tag < cornerTags.length; tag += 2) cornersAt.set(cornerTags[tag]!, cornerTags[tag + 1]!)
  return (points) => {
    const localOf = new Map<number, number>()
    for (let index = 0; index < points.length; index++) localOf.set(points[index]!, index)
    const edges: [number, number, number, number][] = []
    const corners: [number, number][] = []
    for (let index = 0; index < points.length; index++) {
      const vertex = points[index]!
      for (const tag of creasesAt.get(vertex) ?? []) {
        const other = localOf.get(creaseTags[tag + 1]!)
        if (other !== undefined) edges.push([tag, index, other, creaseTags[tag + 2]!])
      }
      const sharpness = cornersAt.get(vertex)
      if (sharpness !== undefined) corners.push([index, sharpness])
    }
    if (edges.length === 0 && corners.length === 0) return null
    edges.sort((a, b) => a[0] - b[0])
    return {
      edgePoints: Uint32Array.from(edges.flatMap((edge) => [edge[1], edge[2]])),
      edgeSharpness: Float64Array.from(edges, (edge) => edge[3]),
      cornerPoints: Uint32Array.from(corners, (corner) => corner[0]),
      cornerSharpness: Float64Array.from(corners, (corner) => corner[1]),
    }
  }
}

/** The name that an OBJ's only UV set gets; the format has none. */
export const OBJ_UV_SET_NAME = 'uv'

export const OBJ_COLOR_SET_NAME = 'color'
