import { checkFaces } from './check-faces.ts'
import { OBJ_UV_SET_NAME } from './part-elements.ts'
import { createPartKeys, bucket } from './part-keys.ts'
import {
  pick,
  identity,
  eachLineCorner,
  pickLines,
  pickWeights,
  pickColors,
  pickGroups,
  createCreaseIndex,
} from './part-elements.ts'
/** Makes parts out of an OBJ's statements: which faces belong together, and the arrays of each. */
import { growingInt32, pushInt32, type GrowingInt32 } from '../../base/bytes/growing.ts'
import type { MessageCollector } from '../../base/messages/collector.ts'
import { EMPTY_MESH, type Creases, type Mesh } from '../../scene/mesh.ts'
import type { ObjReadOptions } from './options.ts'
import { type ObjStatements } from './statements.ts'

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
