/**
 * A mesh: polygons over points, with what each corner, face, edge and point carries.
 *
 * Index bases are 0 throughout. A face's corners wind counter-clockwise seen from its front. Corner k of
 * face f is number `faceOffsets[f] + k`. Absent indices are -1 in Int32Arrays.
 */

import type { KeptProperty } from './kept.ts'

/** Elements of a mesh; where they are listed, an edge is two points. */
export type ElementKind = 'points' | 'edges' | 'faces' | 'corners'

/** One UV set. V points up. */
export interface UvSet {
  readonly name: string
  /** 2 x uvCount. */
  readonly values: Float64Array
  /** cornerCount; the UV of each corner, -1 where it has none. Corners that share an index share a UV. */
  readonly indices: Int32Array
  /** uvCount third coordinates, where the file had them. */
  readonly depths: Float64Array | null
}

/** Authored corner normals, not necessarily of unit length. */
export interface CornerNormals {
  /** 3 x normalCount. */
  readonly values: Float64Array
  /** cornerCount, -1 where the corner has none. */
  readonly indices: Int32Array
}

/** Smoothing as it came: a number a face, a 32-bit mask a face, or a hard flag an edge. */
export type Smoothing =
  | {
      readonly kind: 'groups'
      /** faceCount. A group number, 0 for none (`off`), -1 where the file has said nothing before the face. */
      readonly faceGroups: Int32Array
    }
  | { readonly kind: 'masks'; readonly faceMasks: Uint32Array }
  | {
      readonly kind: 'edges'
      /** 2 x hardEdgeCount points; edges not listed are soft. */
      readonly hardEdgePoints: Uint32Array
    }

/** Sharpness on OpenSubdiv's scale: 0 smooth, 10 and above infinitely sharp. */
export interface Creases {
  /** 2 x creaseCount points, an edge each. */
  readonly edgePoints: Uint32Array
  readonly edgeSharpness: Float64Array
  readonly cornerPoints: Uint32Array
  readonly cornerSharpness: Float64Array
}

export interface Subdivision {
  readonly scheme: 'none' | 'catmull-clark' | 'loop' | 'bilinear'
  readonly levels: number
  /** Levels for rendering, where the file tells them apart from those for looking. */
  readonly renderLevels?: number
  /** How open borders are refined; absent: not said. */
  readonly boundary?: 'edge-only' | 'edge-and-corner'
}

/** Named sets of faces. A face is in any number of groups; equal combinations are stored once. */
export interface FaceGroups {
  readonly names: readonly string[]
  /** Each a combination of indices into `names`, in the order the file has them. */
  readonly sets: readonly (readonly number[])[]
  /** faceCount; index into `sets`, -1 for a face in no group. */
  readonly faceSets: Int32Array
}

export interface ColorSet {
  readonly name: string
  readonly components: 3 | 4
  /** components x colorCount. */
  readonly values: Float64Array
  /** 'points': one colour a point in point order, `indices` empty. 'corners': `indices` has one a corner. */
  readonly per: 'points' | 'corners'
  readonly indices: Int32Array
}

/** A blend shape: points that move, and by how much. */
export interface BlendShape {
  readonly name: string
  readonly points: Uint32Array
  /** 3 x points.length, in the mesh's own space. */
  readonly offsets: Float64Array
  /** 3 x points.length changes of the points' normals, where the file had them. */
  readonly normals?: Float64Array | null
  /** 3 x points.length changes of the points' tangents, where the file had them. */
  readonly tangents?: Float64Array | null
  /** Shapes of one channel are passed one after the other as its weight grows; absent: a channel of its own. */
  readonly channel?: string
  /** The channel's weight at which the shape is reached, in percent; 100 where absent, less for an in-between. */
  readonly fullWeight?: number
  /** The channel's present weight in percent. */
  readonly weight?: number
  readonly source?: string
}

/** Skin weights by joint. */
export interface Skin {
  readonly jointNodes: Int32Array
  /** 16 x joint count, column-major: each joint's world matrix when it was bound; absent: not said. */
  readonly jointBinds?: Float64Array
  /** 16 x joint count, column-major: the mesh's place seen from each joint when it was bound. */
  readonly meshBinds?: Float64Array
  /** As the file names it: linear, dual quaternion, blended. */
  readonly method?: string
  /** pointCount + 1 offsets into joints and weights. */
  readonly offsets: Uint32Array
  readonly joints: Uint32Array
  readonly weights: Float64Array
}

/** A layer of values over a mesh that Kelbo carries and doesn't work with: tangents, holes, visibility, ... */
export interface KeptLayer {
  /** 'tangents', 'binormals', 'normals' (beyond the first), 'holes', 'visibility', or the file's own word. */
  readonly kind: string
  readonly name: string
  readonly per: 'corners' | 'points' | 'faces' | 'edges' | 'all'
  readonly width: number
  /** width x value count. */
  readonly values: Float64Array
  /** One an element, into the values; null: the element's own number. */
  readonly indices: Int32Array | null
  /** 2 points an element of a layer over edges. */
  readonly edgePoints: Uint32Array | null
  /** Values are whole numbers. */
  readonly whole: boolean
}

/** Line elements, carried and not otherwise used. */
export interface PolyLines {
  /** lineCount + 1. */
  readonly offsets: Uint32Array
  readonly points: Uint32Array
  /** One a line corner, index into the first UV set's values, or -1. */
  readonly uvs: Int32Array
}

export interface Mesh {
  /** What it is known by from version to version, see ids.ts; empty while it is being made. */
  readonly id: string
  readonly name: string
  /** 3 x pointCount, the mesh's own space, the file's unit. */
  readonly points: Float64Array
  /** pointCount rational weights, where the file had them. */
  readonly pointWeights: Float64Array | null
  /** faceCount + 1. */
  readonly faceOffsets: Uint32Array
  /** cornerCount. */
  readonly faceVertices: Uint32Array
  readonly uvSets: readonly UvSet[]
  readonly normals: CornerNormals | null
  readonly smoothing: Smoothing | null
  readonly creases: Creases | null
  readonly subdivision: Subdivision
  /** faceCount; index into `scene.materials`, -1 for none. Null where no face has one. */
  readonly faceMaterials: Int32Array | null
  readonly groups: FaceGroups | null
  readonly colorSets: readonly ColorSet[]
  readonly shapes: readonly BlendShape[]
  readonly skin: Skin | null
  readonly lines: PolyLines | null
  /** Point elements: points drawn as such. */
  readonly pointElements: Uint32Array | null
  /**
   * faceCount; for faces that a step has cut out of larger polygons the number of that polygon, the same for
   * all its pieces, so that it can be put together again. Absent or null where nothing was cut.
   */
  readonly cutFrom?: Uint32Array | null
  /** Only as long as points, polygons and their numbers stay as they are. */
  readonly layers?: readonly KeptLayer[] | null
  readonly source?: string
  /** What its file called the polygons, where that is another name than the part's. */
  readonly ownName?: string
  /** Properties that Kelbo doesn't use, as they came. */
  readonly kept?: readonly KeptProperty[]
}

export const NO_SUBDIVISION: Subdivision = { scheme: 'none', levels: 0 }

export const EMPTY_MESH: Mesh = {
  id: '',
  name: '',
  points: new Float64Array(0),
  pointWeights: null,
  faceOffsets: new Uint32Array(1),
  faceVertices: new Uint32Array(0),
  uvSets: [],
  normals: null,
  smoothing: null,
  creases: null,
  subdivision: NO_SUBDIVISION,
  faceMaterials: null,
  groups: null,
  colorSets: [],
  shapes: [],
  skin: null,
  lines: null,
  pointElements: null,
}

/** Points of a mesh. */
export const pointCountOf = (mesh: Mesh): number => mesh.points.length / 3
/** Polygons of a mesh. */
export const faceCountOf = (mesh: Mesh): number => mesh.faceOffsets.length - 1
/** Corners of all polygons of a mesh. */
export const cornerCountOf = (mesh: Mesh): number => mesh.faceVertices.length

/** Whether any shape says how it changes tangents. */
export const turnsTangents = ({ shapes }: Mesh): boolean =>
  shapes.some(({ tangents }) => tangents?.some((value) => value !== 0))
