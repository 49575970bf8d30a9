import { NEWLINE, RETURN, BACKSLASH, SPACE, findLineEnd } from './line-bytes.ts'
import { FREE_FORM, DISPLAY_ONLY } from './statements.ts'
import { type CornerScan, scanCorners } from './scan-corners.ts'
import type { ObjStatements } from './statements.ts'
/**
 * The statements of an OBJ file, parsed in one pass over its bytes into flat arrays.
 *
 * Source: "Object Files (.obj)", Wavefront Advanced Visualizer manual, appendix B1 (statements, index forms,
 * negative indices, line continuation); vertex colours behind the coordinates are common practice; the tag
 * lines `t crease` and `t corner` are those of OpenSubdiv's example shapes, with vertices counted from 0.
 */
import { asciiText, createNumberScan, parseNumbers } from '../../base/bytes/parse-number.ts'
import {
  growingFloat64,
  growingInt32,
  pushInt32,
  reserveFloat64,
  reserveInt32,
  type GrowingInt32,
} from '../../base/bytes/growing.ts'
import { createCreaseTags } from './crease-tags.ts'
import { createGroupSets, createNames } from './names.ts'
import { decodeLatin1, decodeUtf8 } from '../../base/bytes/text.ts'
import type { MessageCollector } from '../../base/messages/collector.ts'

/** Parses the bytes of an OBJ file. Indices are not checked here; lines that make no sense are left out and told. */
export function readObjStatements(bytes: Uint8Array, messages: MessageCollector): ObjStatements {
  // Room for what a file of this length may hold: pages that are never touched cost nothing, and lists that
  // don't grow are not copied (a quarter of a second on a million quads).
  const room = (bytesEach: number): number => Math.max(1024, Math.ceil(bytes.length / bytesEach))
  const points = growingFloat64(room(16))
  const weights = growingFloat64(0)
  const colors = growingFloat64(0)
  const uvs = growingFloat64(room(24))
  const uvDepths = growingFloat64(0)
  const normals = growingFloat64(room(16))
  const cornerPoints = growingInt32(room(12))
  const cornerUvs = growingInt32(room(12))
  const cornerNormals = growingInt32(room(12))
  const faceStarts = growingInt32(room(40))
  const faceLines = growingInt32(room(40))
  const faceObjects = growingInt32(room(40))
  const faceGroupSets = growingInt32(room(40))
  const faceSmoothing = growingInt32(room(40))
  const faceMaterials = growingInt32(room(40))
  const lineStarts = growingInt32(0)
  const lineCorners = growingInt32(0)
  const lineUvs = growingInt32(0)
  const lineObjects = growingInt32(0)
  const lineGroupSets = growingInt32(0)
  const lineMaterials = growingInt32(0)
  const pointElements = growingInt32(0)
  const pointObjects = growingInt32(0)
  const pointGroupSets = growingInt32(0)
  const pointMaterials = growingInt32(0)
  const objectNames: string[] = []
  const groups = createGroupSets()
  const materials = createNames()
  const ownerRuns = growingInt32(16)
  const libraries: { file: string; line: number }[] = []
  const tags = createCreaseTags(messages)

  /** Where indices go that an element has no use for. */
  const ignored = growingInt32()

  const length = bytes.length
  let line = 0
  let at = 0
  let colorComponents: 0 | 3 | 4 = 0
  let object = -1
  let groupSet = -1
  let material = -1
  let smoothing = -1
  let smoothingStated = false
  let ownerStale = true
  let latin1Told = false

  const numbers = new Float64Array(16)
  const scan = createNumberScan()

  const nameText = (start: number, end: number): string => {
    let text = decodeUtf8(bytes, start, end)
    if (text === null) {
      text = decodeLatin1(bytes, start, end)
      if (!latin1Told) {
        latin1Told = true
        messages.add('obj.latin1', {}, line)
      }
    }
    if (text.includes('\\')) text = text.replace(/\\\r?\n?$|\\\r?\n/g, ' ')
    return text.trim()
  }
  const reportNumbers = (): void => {
    const text = asciiText(bytes, scan.badStart, scan.badEnd, 40)
    messages.add('obj.malformed-number', { text, value: numbers[Math.min(scan.badIndex, 15)]! }, line)
  }
  /** Numbers of a statement into `numbers`, with those that are missing or not finite mended and reported. */
  const takeNumbers = (start: number, needed: number, keyword: string): number => {
    const found = parseNumbers(bytes, start, length, numbers, scan)
    if (scan.badStart >= 0) {
      const value = numbers[Math.min(scan.badIndex, 15)]!
      if (value - value === 0) reportNumbers()
    }
    if (found < needed) {
      for (let missing = found; missing < needed; missing++) numbers[missing] = 0
      messages.add('obj.missing-number', { keyword }, line)
    }
    const used = Math.min(Math.max(found, needed), 16)
    for (let index = 0; index < used; index++) {
      const value = numbers[index]!
      if (value - value !== 0) {
        // as the file has it: a number too large for a double is no “Infinity” there
        const words = asciiText(bytes, start, scan.end, 2000).trim().split(/\s+/)
        const text = (words[index] ?? String(value)).slice(0, 40)
        messages.add('obj.not-finite', { text }, line)
        numbers[index] = 0
      }
    }
    return found
  }

  const readVertex = (start: number): void => {
    const found = takeNumbers(start, 3, 'v')
    const at = points.length
    const array = at + 3 > points.array.length ? reserveFloat64(points, 3) : points.array
    array[at] = numbers[0]!
    array[at + 1] = numbers[1]!
    array[at + 2] = numbers[2]!
    points.length = at + 3
    if (ownerStale) {
      reserveInt32(ownerRuns, 4)
      ownerRuns.array.set([at / 3, object, groupSet, material], ownerRuns.length)
      ownerRuns.length += 4
      ownerStale = false
    }
    if (found > 3 || weights.length > 0 || colorComponents > 0) readVertexExtras(at / 3, found)
  }
  const readVertexExtras = (vertex: number, found: number): void => {
    if (found === 4 || weights.length > 0) {
      reserveFloat64(weights, vertex + 1 - weights.length)
      weights.array.fill(1, weights.length, vertex + 1)
      weights.length = vertex + 1
      if (found === 4) weights.array[vertex] = numbers[3]!
    }
    if (found >= 6 || colorComponents > 0) {
      const wanted = 4 * (vertex + 1)
      reserveFloat64(colors, wanted - colors.length)
      colors.array.fill(NaN, colors.length, wanted)
      colors.length = wanted
      if (found >= 6) {
        if (colorComponents === 0) colorComponents = 3
        if (found >= 7) colorComponents = 4
        for (let component = 0; component < 4; component++)
          colors.array[4 * vertex + component] = component < 3 || found >= 7 ? numbers[3 + component]! : 1
      }
    }
  }
  const readUv = (start: number): void => {
    const found = takeNumbers(start, 1, 'vt')
    const at = uvs.length
    const array = at + 2 > uvs.array.length ? reserveFloat64(uvs, 2) : uvs.array
    array[at] = numbers[0]!
    array[at + 1] = found > 1 ? numbers[1]! : 0
    uvs.length = at + 2
    if (found > 2 || uvDepths.length > 0) {
      const uv = at / 2
      reserveFloat64(uvDepths, uv + 1 - uvDepths.length)
      uvDepths.array.fill(0, uvDepths.length, uv)
      uvDepths.array[uv] = found > 2 ? numbers[2]! : 0
      uvDepths.length = uv + 1
    }
  }
  const readNormal = (start: number): void => {
    takeNumbers(start, 3, 'vn')
    const at = normals.length
    const array = at + 3 > normals.array.length ? reserveFloat64(normals, 3) : normals.array
    array[at] = numbers[0]!
    array[at + 1] = numbers[1]!
    array[at + 2] = numbers[2]!
    normals.length = at + 3
  }

  const corners: CornerScan = {
    points: 0,
    uvs: 0,
    normals: 0,
    badStart: -1,
    badEnd: -1,
    end: 0,
    joinedLines: 0,
  }
  const readCorners = (
    start: number,
    intoPoints: GrowingInt32,
    intoUvs: GrowingInt32,
    intoNormals: GrowingInt32,
  ): number => {
    corners.points = points.length / 3
    corners.uvs = uvs.length / 2
    corners.normals = normals.length / 3
    corners.badStart = -1
    const read = scanCorners(bytes, start, corners, intoPoints, intoUvs, intoNormals)
    if (corners.badStart >= 0)
      messages.add(
        'obj.malformed-number',
        { text: asciiText(bytes, corners.badStart, corners.badEnd, 40), value: 'nothing' },
        line,
      )
    return read
  }
  const readFace = (start: number): void => {
    pushInt32(faceStarts, cornerPoints.length)
    pushInt32(faceLines, line)
    pushInt32(faceObjects, object)
    pushInt32(faceGroupSets, groupSet)
    pushInt32(faceSmoothing, smoothing)
    pushInt32(faceMaterials, material)
    readCorners(start, cornerPoints, cornerUvs, cornerNormals)
  }
  const readLineElement = (start: number): void => {
    pushInt32(lineStarts, lineCorners.length)
    pushInt32(lineObjects, object)
    pushInt32(lineGroupSets, groupSet)
    pushInt32(lineMaterials, material)
    readCorners(start, lineCorners, lineUvs, ignored)
  }
  const readPointElements = (start: number): void => {
    const read = readCorners(start, pointElements, ignored, ignored)
    for (let element = 0; element < read; element++) {
      pushInt32(pointObjects, object)
      pushInt32(pointGroupSets, groupSet)
      pushInt32(pointMaterials, material)
    }
  }
  const readKeyword = (start: number, end: number): void => {
    let at = start
    while (at < end && bytes[at]! > 32) at++
    const keyword = asciiText(bytes, start, at, 40)
    if (keyword.startsWith('#')) return
    switch (keyword) {
      case 'o':
        objectNames.push(nameText(at, end))
        object = objectNames.length - 1
        ownerStale = true
        return
      case 'g':
        groupSet = groups.setOf(nameText(at, end))
        ownerStale = true
        return
      case 's': {
        const text = nameText(at, end)
        const group = text === '' || text === 'off' ? 0 : text === 'on' ? 1 : Number.parseInt(text, 10)
        if (Number.isNaN(group))
          messages.add('obj.malformed-number', { text: text.slice(0, 40), value: 0 }, line)
        smoothing = Number.isNaN(group) ? 0 : Math.min(Math.abs(group), 2147483647)
        smoothingStated = true
        return
      }
      case 'usemtl': {
        const name = nameText(at, end)
        ownerStale = true
        material = name === '' ? -1 : materials.numberOf(name)
        return
      }
      case 'mtllib':
        libraries.push({ file: nameText(at, end), line })
        return
      case 'l':
        return readLineElement(at)
      case 'p':
        return readPointElements(at)
      case 'fo':
        return readFace(at)
      case 't':
        return tags.read(nameText(at, end), line)
    }
    if (FREE_FORM.has(keyword)) messages.add('obj.not-read', { keyword }, line)
    else if (!DISPLAY_ONLY.has(keyword))
      messages.add('obj.unknown-statement', { keyword: keyword.replace(/[^\x20-\x7e]/g, '·') }, line)
  }

  while (at < length) {
    line++
    // leading blanks
    while (at < length && (bytes[at] === SPACE || bytes[at] === 9)) at++
    const start = at
    const first = at < length ? bytes[at]! : NEWLINE
    const second = at + 1 < length ? bytes[at + 1]! : NEWLINE
    const third = at + 2 < length ? bytes[at + 2]! : NEWLINE
    let joinedLines = 0
    let end = at
    if (first === 118 && second <= SPACE) {
      readVertex(start + 1)
      end = scan.end
      joinedLines = scan.joinedLines
    } else if (first === 118 && third <= SPACE && (second === 116 || second === 110)) {
      if (second === 116) readUv(start + 2)
      else readNormal(start + 2)
      end = scan.end
      joinedLines = scan.joinedLines
    } else if (first === 102 && second <= SPACE) {
      readFace(start + 1)
      end = corners.end
      joinedLines = corners.joinedLines
    } else {
      end = findLineEnd(bytes, start)
      // a backslash just before the end of a line goes on in the next one
      while (end < length && end > start && bytes[end - 1] === BACKSLASH && first !== 35) {
        joinedLines++
        end = findLineEnd(bytes, end + (bytes[end] === RETURN && bytes[end + 1] === NEWLINE ? 2 : 1))
      }
      if (end > start && first !== 35) readKeyword(start, end)
    }
    at = end + 1
    if (bytes[end] === RETURN && bytes[at] === NEWLINE) at++
    line += joinedLines
  }

  return {
    points,
    weights,
    colors,
    colorComponents,
    uvs,
    uvDepths,
    normals,
    cornerPoints,
    cornerUvs,
    cornerNormals,
    faceStarts,
    faceLines,
    faceObjects,
    faceGroupSets,
    faceSmoothing,
    faceMaterials,
    lineStarts,
    lineCorners,
    lineUvs,
    lineObjects,
    lineGroupSets,
    lineMaterials,
    pointElements,
    pointObjects,
    pointGroupSets,
    pointMaterials,
    objectNames,
    groupNames: groups.names,
    groupSets: groups.sets,
    materialNames: materials.names,
    ownerRuns,
    libraries,
    creaseTags: tags.creases,
    cornerTags: tags.corners,
    smoothingStated,
    lineCount: line,
  }
}
