/** Makes parts out of an OBJ's statements: which faces belong together, and the arrays of each. */
import { growingInt32, pushInt32, type GrowingInt32 } from '../../base/bytes/growing.ts'
import type { MessageCollector } from '../../base/messages/collector.ts'
import {
  EMPTY_MESH,
  type ColorSet,
  type Creases,
  type FaceGroups,
  type Mesh,
  type PolyLines,
} from '../../scene/mesh.ts'
import type { ObjReadOptions, PartsBy } from './options.ts'
import { INDEX_ZERO, type ObjStatements } from './read-statements.ts'

/** The name that an OBJ's only UV set gets; the format has none. */
export const OBJ_UV_SET_NAME = 'uv'
export const OBJ_COLOR_SET_NAME = 'color'

/**
 * @param fallbackName name of a part that no `o` or `g` names (the file's name without its ending).
 * @returns one mesh a part, in the order in which the file first mentions them. Points keep the file's order
 * within a part; points no polygon uses stay with the part they were declared in.
 */
export function buildParts(
  statements: ObjStatements,
  options: ObjReadOptions,
  fallbackName: string,
  messages: MessageCollector,
): Mesh[] {
  const faceCount = statements.faceStarts.length
  const kept = checkFaces(statements, messages)
  const keys = createPartKeys(statements, options.partsBy, fallbackName)

  const partOfFace = new Int32Array(faceCount)
  for (let face = 0; face < faceCount; face++)
    partOfFace[face] = keys.partOf(
      statements.faceObjects.array[face]!,
      statements.faceGroupSets.array[face]!,
      statements.faceMaterials.array[face]!,
    )
  const partOfLine = new Int32Array(statements.lineStarts.length)
  for (let line = 0; line < partOfLine.length; line++)
    partOfLine[line] = keys.partOf(
      statements.lineObjects.array[line]!,
      statements.lineGroupSets.array[line]!,
      statements.lineMaterials.array[line]!,
    )
  const partOfElement = new Int32Array(statements.pointElements.length)
  for (let element = 0; element < partOfElement.length; element++)
    partOfElement[element] = keys.partOf(
      statements.pointObjects.array[element]!,
      statements.pointGroupSets.array[element]!,
      statements.pointMaterials.array[element]!,
    )
  const runs = statements.ownerRuns
  const partOfRun = new Int32Array(runs.length / 4)
  for (let run = 0; run < partOfRun.length; run++)
    partOfRun[run] = keys.partOf(runs.array[4 * run + 1]!, runs.array[4 * run + 2]!, runs.array[4 * run + 3]!)

  const partCount = keys.names.length
  const facesOf = bucket(partOfFace, partCount, kept)
  const linesOf = bucket(partOfLine, partCount, null)
  const elementsOf = bucket(partOfElement, partCount, null)

  const vertexCount = statements.points.length / 3
  const used = new Uint8Array(vertexCount)
  markUsed(statements, kept, used)
  const looseOf: GrowingInt32[] = []
  for (let run = 0; run < partOfRun.length; run++) {
    const end = run + 1 < partOfRun.length ? runs.array[4 * (run + 1)]! : vertexCount
    for (let vertex = runs.array[4 * run]!; vertex < end; vertex++)
      if (!used[vertex]) pushInt32((looseOf[partOfRun[run]!] ??= growingInt32(16)), vertex)
  }

  const pointStamp = new Int32Array(vertexCount)
  const pointLocal = new Int32Array(vertexCount)
  const uvStamp = new Int32Array(statements.uvs.length / 2)
  const uvLocal = new Int32Array(uvStamp.length)
  const normalStamp = new Int32Array(statements.normals.length / 3)
  const normalLocal = new Int32Array(normalStamp.length)
  const scratch: Scratch = {
    pointStamp,
    pointLocal,
    uvStamp,
    uvLocal,
    normalStamp,
    normalLocal,
    sharedPoints: 0,
  }
  const groupSetMap = new Int32Array(statements.groupSets.length)
  const creasesOf = createCreaseIndex(statements)

  const meshes: Mesh[] = []
  for (let part = 0; part < partCount; part++) {
    const loose = looseOf[part]
    const mesh = buildPart(
      statements,
      keys.names[part]!,
      part + 1,
      facesOf(part),
      linesOf(part),
      elementsOf(part),
      loose ? loose.array.subarray(0, loose.length) : new Int32Array(0),
      scratch,
      groupSetMap,
      creasesOf,
      partCount === 1,
      options.flipV,
    )
    if (mesh) meshes.push(mesh)
  }
  if (scratch.sharedPoints > 0) messages.add('obj.shared-points', { count: scratch.sharedPoints })
  return meshes
}

interface Scratch {
  readonly pointStamp: Int32Array
  readonly pointLocal: Int32Array
  readonly uvStamp: Int32Array
  readonly uvLocal: Int32Array
  readonly normalStamp: Int32Array
  readonly normalLocal: Int32Array
  sharedPoints: number
}

/** Checks every corner's indices. @returns faces to leave out as 1, or null if all are sound. */
function checkFaces(statements: ObjStatements, messages: MessageCollector): Uint8Array | null {
  const faceCount = statements.faceStarts.length
  const cornerCount = statements.cornerPoints.length
  const pointCount = statements.points.length / 3
  const uvCount = statements.uvs.length / 2
  const normalCount = statements.normals.length / 3
  const points = statements.cornerPoints.array
  const uvs = statements.cornerUvs.array
  const normals = statements.cornerNormals.array
  let left: Uint8Array | null = null
  const shown = (index: number, total: number): number =>
    index === INDEX_ZERO ? 0 : index < 0 ? index + 1 - total : index + 1
  for (let face = 0; face < faceCount; face++) {
    const start = statements.faceStarts.array[face]!
    const end = face + 1 < faceCount ? statements.faceStarts.array[face + 1]! : cornerCount
    const line = statements.faceLines.array[face]!
    let sound = true
    if (end - start < 3) {
      messages.add('obj.short-face', { corners: end - start }, line)
      sound = false
    }
    for (let corner = start; corner < end; corner++) {
      const point = points[corner]!
      if (point < 0 || point >= pointCount) {
        if (sound) {
          if (point === INDEX_ZERO) messages.add('obj.index-zero', { kind: 'vertex' }, line)
          else
            messages.add(
              'obj.index-out-of-range',
              { kind: 'vertex', value: shown(point, pointCount), available: pointCount },
              line,
            )
        }
        sound = false
      }
      const uv = uvs[corner]!
      if (uv < -1 || uv >= uvCount) {
        const value = shown(uv, uvCount)
        messages.add('obj.attribute-out-of-range', { kind: 'UV', value, available: uvCount }, line)
        uvs[corner] = -1
      }
      const normal = normals[corner]!
      if (normal < -1 || normal >= normalCount) {
        const value = shown(normal, normalCount)
        messages.add('obj.attribute-out-of-range', { kind: 'normal', value, available: normalCount }, line)
        normals[corner] = -1
      }
    }
    if (!sound) {
      left ??= new Uint8Array(faceCount)
      left[face] = 1
    }
  }
  return left
}

function createPartKeys(
  statements: ObjStatements,
  by: PartsBy,
  fallbackName: string,
): { names: string[]; partOf(object: number, groupSet: number, material: number): number } {
  const names: string[] = []
  const known = new Map<number, number>()
  const nameOf = (key: number): string => {
    if (key >= 0 && by === 'object') return statements.objectNames[key] || fallbackName
    if (key >= 0 && by === 'group')
      return statements.groupSets[key]!.map((group) => statements.groupNames[group]!).join(' ')
    if (key >= 0 && by === 'material') return statements.materialNames[key] || fallbackName
    return fallbackName
  }
  return {
    names,
    partOf(object, groupSet, material) {
      const key = by === 'object' ? object : by === 'group' ? groupSet : by === 'material' ? material : -1
      let part = known.get(key)
      if (part === undefined) {
        part = names.length
        known.set(key, part)
        names.push(nameOf(key))
      }
      return part
    },
  }
}

/** Items sorted by their part, keeping their order. */
function bucket(
  partOf: Int32Array,
  partCount: number,
  left: Uint8Array | null,
): (part: number) => Int32Array {
  const starts = new Uint32Array(partCount + 1)
  for (let item = 0; item < partOf.length; item++) if (!left?.[item]) starts[partOf[item]! + 1]!++
  for (let part = 0; part < partCount; part++) starts[part + 1]! += starts[part]!
  const items = new Int32Array(starts[partCount]!)
  const next = starts.slice()
  for (let item = 0; item < partOf.length; item++) if (!left?.[item]) items[next[partOf[item]!]!++] = item
  return (part) => items.subarray(starts[part]!, starts[part + 1]!)
}

function markUsed(statements: ObjStatements, left: Uint8Array | null, used: Uint8Array): void {
  const corners = statements.cornerPoints
  if (!left) for (let corner = 0; corner < corners.length; corner++) used[corners.array[corner]!] = 1
  else {
    const faceCount = statements.faceStarts.length
    for (let face = 0; face < faceCount; face++) {
      if (left[face]) continue
      const end = face + 1 < faceCount ? statements.faceStarts.array[face + 1]! : corners.length
      for (let corner = statements.faceStarts.array[face]!; corner < end; corner++)
        used[corners.array[corner]!] = 1
    }
  }
  const mark = (list: GrowingInt32): void => {
    for (let index = 0; index < list.length; index++) {
      const vertex = list.array[index]!
      if (vertex >= 0 && vertex < used.length) used[vertex] = 1
    }
  }
  mark(statements.lineCorners)
  mark(statements.pointElements)
}

/** Ascending distinct values of what `visit` adds, and their places in `local`. */
function gather(
  stamp: Int32Array,
  local: Int32Array,
  stampValue: number,
  visit: (add: (value: number) => void) => void,
): Int32Array {
  const list = growingInt32(64)
  let ascending = true
  let last = -1
  visit((value) => {
    if (stamp[value] === stampValue) return
    stamp[value] = stampValue
    if (value < last) ascending = false
    last = value
    pushInt32(list, value)
  })
  const values = list.array.slice(0, list.length)
  if (!ascending) values.sort()
  for (let index = 0; index < values.length; index++) local[values[index]!] = index
  return values
}

function pick(source: Float64Array, wanted: Int32Array, width: number): Float64Array {
  const picked = new Float64Array(wanted.length * width)
  for (let index = 0, at = 0; index < wanted.length; index++)
    for (let part = 0, from = wanted[index]! * width; part < width; part++)
      picked[at++] = source[from + part]!
  return picked
}

function buildPart(
  statements: ObjStatements,
  name: string,
  stampValue: number,
  faces: Int32Array,
  lines: Int32Array,
  elements: Int32Array,
  loose: Int32Array,
  scratch: Scratch,
  groupSetMap: Int32Array,
  creasesOf: (points: Int32Array, pointLocal: Int32Array) => Creases | null,
  whole: boolean,
  flipV: boolean,
): Mesh | null {
  const allFaces = statements.faceStarts.length
  const allCorners = statements.cornerPoints.length
  const startOf = (face: number): number => statements.faceStarts.array[face]!
  const endOf = (face: number): number => (face + 1 < allFaces ? startOf(face + 1) : allCorners)
  const vertexCount = statements.points.length / 3

  const faceOffsets = new Uint32Array(faces.length + 1)
  for (let index = 0; index < faces.length; index++)
    faceOffsets[index + 1] = faceOffsets[index]! + endOf(faces[index]!) - startOf(faces[index]!)
  const cornerCount = faceOffsets[faces.length]!
  const copyCorners = (source: Int32Array, into: Int32Array | Uint32Array): void => {
    if (faces.length === allFaces) {
      into.set(source.subarray(0, allCorners))
      return
    }
    for (let index = 0, at = 0; index < faces.length; index++)
      for (let corner = startOf(faces[index]!), end = endOf(faces[index]!); corner < end; corner++)
        into[at++] = source[corner]!
  }
  const faceVertices = new Uint32Array(cornerCount)
  copyCorners(statements.cornerPoints.array, faceVertices)
  const valid = (vertex: number): boolean => vertex >= 0 && vertex < vertexCount

  let pointList: Int32Array | null = null
  if (!whole) {
    pointList = gather(scratch.pointStamp, scratch.pointLocal, stampValue, (add) => {
      const once = (vertex: number): void => {
        const before = scratch.pointStamp[vertex]!
        if (before !== 0 && before !== stampValue) scratch.sharedPoints++
        add(vertex)
      }
      for (let corner = 0; corner < cornerCount; corner++) once(faceVertices[corner]!)
      for (const line of lines)
        eachLineCorner(statements, line, (corner) => {
          const vertex = statements.lineCorners.array[corner]!
          if (valid(vertex)) once(vertex)
        })
      for (const element of elements) {
        const vertex = statements.pointElements.array[element]!
        if (valid(vertex)) once(vertex)
      }
      for (const vertex of loose) add(vertex)
    })
    for (let corner = 0; corner < cornerCount; corner++)
      faceVertices[corner] = scratch.pointLocal[faceVertices[corner]!]!
  }
  const pointCount = pointList ? pointList.length : vertexCount
  if (pointCount === 0) return null
  const localPoint = (vertex: number): number => (pointList ? scratch.pointLocal[vertex]! : vertex)

  // UVs
  const cornerUvs = new Int32Array(cornerCount)
  copyCorners(statements.cornerUvs.array, cornerUvs)
  const lineUvs: number[] = []
  for (const line of lines)
    eachLineCorner(statements, line, (corner) => {
      if (!valid(statements.lineCorners.array[corner]!)) return
      const uv = statements.lineUvs.array[corner]!
      lineUvs.push(uv >= 0 && uv < statements.uvs.length / 2 ? uv : -1)
    })
  const mapped = cornerUvs.some((uv) => uv >= 0) || lineUvs.some((uv) => uv >= 0)
  let uvValues: Float64Array | null = null
  let uvDepths: Float64Array | null = null
  if (mapped) {
    if (whole) {
      uvValues = statements.uvs.array.slice(0, statements.uvs.length)
      if (statements.uvDepths.length) {
        uvDepths = new Float64Array(uvValues.length / 2)
        uvDepths.set(statements.uvDepths.array.subarray(0, statements.uvDepths.length))
      }
    } else {
      const list = gather(scratch.uvStamp, scratch.uvLocal, stampValue, (add) => {
        for (let corner = 0; corner < cornerCount; corner++)
          if (cornerUvs[corner]! >= 0) add(cornerUvs[corner]!)
        for (const uv of lineUvs) if (uv >= 0) add(uv)
      })
      uvValues = pick(statements.uvs.array, list, 2)
      if (statements.uvDepths.length) uvDepths = pick(statements.uvDepths.array, list, 1)
      for (let corner = 0; corner < cornerCount; corner++)
        if (cornerUvs[corner]! >= 0) cornerUvs[corner] = scratch.uvLocal[cornerUvs[corner]!]!
      for (let index = 0; index < lineUvs.length; index++)
        if (lineUvs[index]! >= 0) lineUvs[index] = scratch.uvLocal[lineUvs[index]!]!
    }
    if (flipV) for (let at = 1; at < uvValues.length; at += 2) uvValues[at] = 1 - uvValues[at]!
  }

  // normals
  const cornerNormals = new Int32Array(cornerCount)
  copyCorners(statements.cornerNormals.array, cornerNormals)
  let normals: Mesh['normals'] = null
  if (cornerNormals.some((normal) => normal >= 0)) {
    if (whole)
      normals = {
        values: statements.normals.array.slice(0, statements.normals.length),
        indices: cornerNormals,
      }
    else {
      const list = gather(scratch.normalStamp, scratch.normalLocal, stampValue, (add) => {
        for (let corner = 0; corner < cornerCount; corner++)
          if (cornerNormals[corner]! >= 0) add(cornerNormals[corner]!)
      })
      for (let corner = 0; corner < cornerCount; corner++)
        if (cornerNormals[corner]! >= 0) cornerNormals[corner] = scratch.normalLocal[cornerNormals[corner]!]!
      normals = { values: pick(statements.normals.array, list, 3), indices: cornerNormals }
    }
  }

  const faceState = (source: GrowingInt32): Int32Array => {
    const state = new Int32Array(faces.length)
    for (let index = 0; index < faces.length; index++) state[index] = source.array[faces[index]!]!
    return state
  }
  const faceMaterials = faceState(statements.faceMaterials)
  const faceSmoothing = faceState(statements.faceSmoothing)
  const everyPoint = pointList ?? identity(vertexCount)
  return {
    ...EMPTY_MESH,
    name,
    points: pointList
      ? pick(statements.points.array, pointList, 3)
      : statements.points.array.slice(0, statements.points.length),
    pointWeights: statements.weights.length ? pickWeights(statements, everyPoint) : null,
    faceOffsets,
    faceVertices,
    uvSets: uvValues
      ? [{ name: OBJ_UV_SET_NAME, values: uvValues, indices: cornerUvs, depths: uvDepths }]
      : [],
    normals,
    smoothing: faceSmoothing.some((group) => group >= 0)
      ? { kind: 'groups', faceGroups: faceSmoothing }
      : null,
    creases: creasesOf(everyPoint, scratch.pointLocal),
    faceMaterials: faceMaterials.some((material) => material >= 0) ? faceMaterials : null,
    groups: pickGroups(statements, faceState(statements.faceGroupSets), groupSetMap),
    colorSets: pickColors(statements, everyPoint),
    lines: pickLines(statements, lines, lineUvs, localPoint, valid),
    pointElements: elements.length
      ? Uint32Array.from(
          [...elements].map((element) => statements.pointElements.array[element]!).filter(valid),
          localPoint,
        )
      : null,
  }
}

const identity = (length: number): Int32Array => {
  const list = new Int32Array(length)
  for (let index = 0; index < length; index++) list[index] = index
  return list
}

function eachLineCorner(statements: ObjStatements, line: number, visit: (corner: number) => void): void {
  const starts = statements.lineStarts
  const end = line + 1 < starts.length ? starts.array[line + 1]! : statements.lineCorners.length
  for (let corner = starts.array[line]!; corner < end; corner++) visit(corner)
}

function pickLines(
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

function pickWeights(statements: ObjStatements, list: Int32Array): Float64Array | null {
  const weights = new Float64Array(list.length)
  let stated = false
  for (let index = 0; index < list.length; index++) {
    const vertex = list[index]!
    weights[index] = vertex < statements.weights.length ? statements.weights.array[vertex]! : 1
    if (weights[index] !== 1) stated = true
  }
  return stated ? weights : null
}

function pickColors(statements: ObjStatements, list: Int32Array): ColorSet[] {
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

function pickGroups(statements: ObjStatements, faceSets: Int32Array, map: Int32Array): FaceGroups | null {
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
function createCreaseIndex(
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
