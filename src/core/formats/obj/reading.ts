/** The state of reading an OBJ file: what was read so far, and what is in force where it stands. */
import { createNumberScan, type NumberScan } from '../../base/bytes/parse-number.ts'
import { growingFloat64, growingInt32, type GrowingInt32 } from '../../base/bytes/growing.ts'
import { decodeLatin1, decodeUtf8 } from '../../base/bytes/text.ts'
import type { MessageCollector } from '../../base/messages/collector.ts'
import { createCreaseTags, type CreaseTags } from './crease-tags.ts'
import { createGroupSets, createNames, type GroupSets, type Names } from './names.ts'
import type { CornerScan } from './scan-corners.ts'
import type { ObjLists, ObjStatements } from './statements.ts'

/** Stands for what was in force before a piece of a file began: no object, group set, material or smoothing is that. */
export const INHERITED = -2

export interface ObjReading {
  readonly bytes: Uint8Array
  /** What lies before the first byte is not known. */
  readonly isPiece: boolean
  readonly messages: MessageCollector
  readonly lists: ObjLists
  readonly objectNames: string[]
  readonly groups: GroupSets
  readonly materials: Names
  readonly libraries: { file: string; line: number }[]
  readonly tags: CreaseTags
  /** Of the line that is read, counted from 1. */
  line: number
  colorComponents: 0 | 3 | 4
  object: number
  groupSet: number
  material: number
  smoothing: number
  smoothingStated: boolean
  /** An object, group or material was named since the last vertex. */
  ownerStale: boolean
  latin1Told: boolean
  /** Numbers of the statement that is read. */
  readonly numbers: Float64Array
  readonly scan: NumberScan
  readonly corners: CornerScan
  /** Where indices go that an element has no use for. */
  readonly ignored: GrowingInt32
}

/** Nothing read yet of a whole file, or of a piece of one that begins within it. */
export function beginReading(bytes: Uint8Array, messages: MessageCollector, isPiece = false): ObjReading {
  const inForce = isPiece ? INHERITED : -1
  // Room for what a file of this length may hold: pages that are never touched cost nothing, and lists that
  // don't grow are not copied (a quarter of a second on a million quads).
  const room = (bytesEach: number): number => Math.max(1024, Math.ceil(bytes.length / bytesEach))
  const lists: ObjLists = {
    points: growingFloat64(room(16)),
    weights: growingFloat64(0),
    colors: growingFloat64(0),
    uvs: growingFloat64(room(24)),
    uvDepths: growingFloat64(0),
    normals: growingFloat64(room(16)),
    cornerPoints: growingInt32(room(12)),
    cornerUvs: growingInt32(room(12)),
    cornerNormals: growingInt32(room(12)),
    faceStarts: growingInt32(room(40)),
    faceLines: growingInt32(room(40)),
    faceObjects: growingInt32(room(40)),
    faceGroupSets: growingInt32(room(40)),
    faceSmoothing: growingInt32(room(40)),
    faceMaterials: growingInt32(room(40)),
    lineStarts: growingInt32(0),
    lineCorners: growingInt32(0),
    lineUvs: growingInt32(0),
    lineObjects: growingInt32(0),
    lineGroupSets: growingInt32(0),
    lineMaterials: growingInt32(0),
    pointElements: growingInt32(0),
    pointObjects: growingInt32(0),
    pointGroupSets: growingInt32(0),
    pointMaterials: growingInt32(0),
    ownerRuns: growingInt32(16),
  }
  return {
    bytes,
    isPiece,
    messages,
    lists,
    objectNames: [],
    groups: createGroupSets(),
    materials: createNames(),
    libraries: [],
    tags: createCreaseTags(messages),
    line: 0,
    colorComponents: 0,
    object: inForce,
    groupSet: inForce,
    material: inForce,
    smoothing: inForce,
    smoothingStated: false,
    ownerStale: !isPiece,
    latin1Told: false,
    numbers: new Float64Array(16),
    scan: createNumberScan(),
    corners: {
      points: 0,
      uvs: 0,
      normals: 0,
      countedBack: false,
      badStart: -1,
      badEnd: -1,
      end: 0,
      joinedLines: 0,
    },
    ignored: growingInt32(),
  }
}

/** What was read. */
export const statementsOf = (reading: ObjReading): ObjStatements => ({
  ...reading.lists,
  colorComponents: reading.colorComponents,
  objectNames: reading.objectNames,
  groupNames: reading.groups.names,
  groupSets: reading.groups.sets,
  materialNames: reading.materials.names,
  libraries: reading.libraries,
  creaseTags: reading.tags.creases,
  cornerTags: reading.tags.corners,
  smoothingStated: reading.smoothingStated,
  lineCount: reading.line,
})

/** The rest of a statement as a name, UTF-8 or else Latin-1 (told once: `obj.latin1`), with joined lines as blanks. */
export function nameText(reading: ObjReading, start: number, end: number): string {
  let text = decodeUtf8(reading.bytes, start, end)
  if (text === null) {
    text = decodeLatin1(reading.bytes, start, end)
    if (!reading.latin1Told) {
      reading.latin1Told = true
      reading.messages.add('obj.latin1', {}, reading.line)
    }
  }
  if (text.includes('\\')) text = text.replace(/\\\r?\n?$|\\\r?\n/g, ' ')
  return text.trim()
}
