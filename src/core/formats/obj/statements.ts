/** What the statements of an OBJ file come to, before anything is made of them. */
import { type GrowingFloat64, type GrowingInt32 } from '../../base/bytes/growing.ts'

/** Lists that grow while a file is read. */
export interface ObjLists {
  /** 3 x vertexCount. */
  readonly points: GrowingFloat64
  /** One a vertex; empty unless some vertex has a fourth number. */
  readonly weights: GrowingFloat64
  /** 4 x vertexCount, NaN where a vertex has no colour; empty unless some vertex has one. */
  readonly colors: GrowingFloat64
  /** 2 x uvCount. */
  readonly uvs: GrowingFloat64
  /** One a UV; empty unless some UV has a third number. */
  readonly uvDepths: GrowingFloat64
  readonly normals: GrowingFloat64
  /** Per corner; -1 absent; below -1 or past the end: out of range. */
  readonly cornerPoints: GrowingInt32
  readonly cornerUvs: GrowingInt32
  readonly cornerNormals: GrowingInt32
  /** Start of each face among the corners; the end of the last is `cornerPoints.length`. */
  readonly faceStarts: GrowingInt32
  readonly faceLines: GrowingInt32
  /** State that was in force at each face. */
  readonly faceObjects: GrowingInt32
  readonly faceGroupSets: GrowingInt32
  readonly faceSmoothing: GrowingInt32
  readonly faceMaterials: GrowingInt32
  /** Line elements: start among lineCorners, object, group set, material. */
  readonly lineStarts: GrowingInt32
  readonly lineCorners: GrowingInt32
  readonly lineUvs: GrowingInt32
  readonly lineObjects: GrowingInt32
  readonly lineGroupSets: GrowingInt32
  readonly lineMaterials: GrowingInt32
  readonly pointElements: GrowingInt32
  readonly pointObjects: GrowingInt32
  readonly pointGroupSets: GrowingInt32
  readonly pointMaterials: GrowingInt32
  /** For runs of vertices: first vertex, and the object, group set and material in force when it was declared. */
  readonly ownerRuns: GrowingInt32
}

/** All that an OBJ file states. Indices are 0-based into the file's own lists and not yet checked. */
export interface ObjStatements extends ObjLists {
  readonly colorComponents: 0 | 3 | 4
  /** Names of `o` statements, one for each statement; faces before the first have object -1. */
  readonly objectNames: string[]
  readonly groupNames: string[]
  readonly groupSets: number[][]
  readonly materialNames: string[]
  readonly libraries: { file: string; line: number }[]
  /** [from, to, sharpness] of creases and [vertex, sharpness] of corners, vertices 0-based. */
  readonly creaseTags: number[]
  readonly cornerTags: number[]
  readonly smoothingStated: boolean
  readonly lineCount: number
}

/** Face index of a corner that the file gives as 0; kept apart from -1 for a better message. */
export const INDEX_ZERO = -2147483648

export const FREE_FORM = new Set(
  'vp cstype deg bmat step curv curv2 surf parm trim hole scrv sp end con stech ctech bsp bzp cdc cdp res'.split(
    ' ',
  ),
)

export const DISPLAY_ONLY = new Set(
  'mg bevel c_interp d_interp lod shadow_obj trace_obj maplib usemap call csh'.split(' '),
)
