/** Polygons (`f`), lines (`l`) and points (`p`), each with what is in force where it stands. */
import { asciiText } from '../../base/bytes/parse-number.ts'
import { pushInt32, type GrowingInt32 } from '../../base/bytes/growing.ts'
import type { ObjReading } from './reading.ts'
import { scanCorners } from './scan-corners.ts'

/** @returns how many corners were read; one that is no index is told: `obj.malformed-number`. */
function readCorners(
  reading: ObjReading,
  start: number,
  intoPoints: GrowingInt32,
  intoUvs: GrowingInt32,
  intoNormals: GrowingInt32,
): number {
  const { bytes, corners, lists, messages, line } = reading
  corners.points = lists.points.length / 3
  corners.uvs = lists.uvs.length / 2
  corners.normals = lists.normals.length / 3
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

/** What stands behind `f`. */
export function readFace(reading: ObjReading, start: number): void {
  const { lists } = reading
  pushInt32(lists.faceStarts, lists.cornerPoints.length)
  pushInt32(lists.faceLines, reading.line)
  pushInt32(lists.faceObjects, reading.object)
  pushInt32(lists.faceGroupSets, reading.groupSet)
  pushInt32(lists.faceSmoothing, reading.smoothing)
  pushInt32(lists.faceMaterials, reading.material)
  readCorners(reading, start, lists.cornerPoints, lists.cornerUvs, lists.cornerNormals)
}

/** What stands behind `l`. */
export function readLine(reading: ObjReading, start: number): void {
  const { lists } = reading
  pushInt32(lists.lineStarts, lists.lineCorners.length)
  pushInt32(lists.lineObjects, reading.object)
  pushInt32(lists.lineGroupSets, reading.groupSet)
  pushInt32(lists.lineMaterials, reading.material)
  readCorners(reading, start, lists.lineCorners, lists.lineUvs, reading.ignored)
}

/** What stands behind `p`; every index is a point of its own. */
export function readPoints(reading: ObjReading, start: number): void {
  const { lists, ignored } = reading
  const read = readCorners(reading, start, lists.pointElements, ignored, ignored)
  for (let element = 0; element < read; element++) {
    pushInt32(lists.pointObjects, reading.object)
    pushInt32(lists.pointGroupSets, reading.groupSet)
    pushInt32(lists.pointMaterials, reading.material)
  }
}
