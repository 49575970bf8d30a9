/** Which faces of an OBJ file can be taken. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import { INDEX_ZERO, type ObjStatements } from './statements.ts'

/** Checks every corner's indices. @returns faces to leave out as 1, or null if all are sound. */
export function checkFaces(statements: ObjStatements, messages: MessageCollector): Uint8Array | null {
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
