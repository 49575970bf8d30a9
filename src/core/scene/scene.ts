/**
 * The scene: what one file or one version holds, as plain readonly data over typed arrays.
 *
 * Numbers, unit and axes are those of the file it was read from; nothing is converted on reading.
 * Arrays may be shared between scenes and are never written to after a scene was made.
 */
import type { Mesh } from './mesh.ts'
import type { KeptContent, KeptProperty } from './kept.ts'
import type { Material } from './material.ts'

export type Axis = 'x' | 'y' | 'z' | '-x' | '-y' | '-z'

/** The space that a scene's numbers live in. */
export interface Space {
  /** Metres in one unit; null where the file doesn't say. */
  readonly unitMeters: number | null
  readonly upAxis: Axis
  readonly frontAxis: Axis
  readonly handedness: 'right' | 'left'
}

export type RotationOrder = 'xyz' | 'xzy' | 'yxz' | 'yzx' | 'zxy' | 'zyx'

/** A node's transform taken apart, for formats that store it so; the matrix in `local` decides. */
export interface TransformParts {
  readonly translation: readonly [number, number, number]
  /** Radians about the node's own axes, applied in `rotationOrder`. */
  readonly rotation: readonly [number, number, number]
  readonly rotationOrder: RotationOrder
  readonly scale: readonly [number, number, number]
  readonly rotationPivot: readonly [number, number, number]
  readonly scalePivot: readonly [number, number, number]
  readonly rotationOffset: readonly [number, number, number]
  readonly scaleOffset: readonly [number, number, number]
  /** Radians, X first: turns before and after the node's own rotation. */
  readonly preRotation: readonly [number, number, number]
  readonly postRotation: readonly [number, number, number]
  /**
   * How a parent's scale reaches the node: 'scale-then-turn' along the parent's axes (what a product of
   * matrices gives), 'turn-then-scale' along the node's own, 'no-scale' not at all.
   */
  readonly inherits: 'scale-then-turn' | 'turn-then-scale' | 'no-scale'
}

export interface SceneNode {
  /** What it is known by from version to version, see ids.ts; empty while it is being made. */
  readonly id: string
  readonly name: string
  /** Index of the parent in `scene.nodes`, -1 for a root. A parent stands before its children. */
  readonly parent: number
  /** Index into `scene.meshes`, -1 for a node without one. */
  readonly mesh: number
  readonly visible: boolean
  /** 4x4, column-major, parent from own space, in the file's unit and axes. */
  readonly local: readonly number[]
  readonly transform: TransformParts | null
  readonly properties: CustomProperties
  /** What kind of node its file makes of it where it shows no mesh: a limb, a camera, ... */
  readonly role?: string
  /** What its file called it, for what else in the file refers to it. */
  readonly source?: string
  /** Properties that Kelbo doesn't use, as they came. */
  readonly kept?: readonly KeptProperty[]
}

export type CustomProperties = Readonly<Record<string, string | number | boolean | readonly number[]>>

/** A map that a material names, with its bytes where the package held them. */
export interface SceneImage {
  /** The path as the material file writes it. */
  readonly file: string
  /** The entry of the package that it was found as; null where it is missing. */
  readonly entry: string | null
  readonly bytes: Uint8Array | null
  /** Its bytes lay in the model file itself. */
  readonly embedded?: boolean
  /** The tiles that lie there, where the path names tiles (see image-tiles.ts); `bytes` are those of the first. */
  readonly tiles?: readonly { readonly label: string; readonly entry: string; readonly bytes: Uint8Array }[]
}

export interface SceneCamera {
  readonly name: string
  readonly node: number
  readonly properties: CustomProperties
  readonly source?: string
  readonly kept?: readonly KeptProperty[]
}

export type SceneLight = SceneCamera

export interface Scene {
  readonly format: string
  readonly formatVersion: string | null
  readonly space: Space
  readonly nodes: readonly SceneNode[]
  readonly meshes: readonly Mesh[]
  readonly materials: readonly Material[]
  readonly images: readonly SceneImage[]
  readonly cameras: readonly SceneCamera[]
  readonly lights: readonly SceneLight[]
  readonly properties: CustomProperties
  readonly kept?: KeptContent | null
}

export const IDENTITY_MATRIX: readonly number[] = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]

export const DEFAULT_SPACE: Space = { unitMeters: null, upAxis: 'y', frontAxis: 'z', handedness: 'right' }

export const EMPTY_SCENE: Scene = {
  format: 'none',
  formatVersion: null,
  space: DEFAULT_SPACE,
  nodes: [],
  meshes: [],
  materials: [],
  images: [],
  cameras: [],
  lights: [],
  properties: {},
}

/** A visible root node that stands where its world begins. */
export const plainNode = (name: string, more: Partial<SceneNode> = {}): SceneNode => ({
  id: '',
  name,
  parent: -1,
  mesh: -1,
  visible: true,
  local: IDENTITY_MATRIX,
  transform: null,
  properties: {},
  ...more,
})

/** One visible root node for each mesh, where a format has no hierarchy. */
export const rootNodes = (meshes: readonly Mesh[]): SceneNode[] =>
  meshes.map((mesh, index) => plainNode(mesh.name, { mesh: index }))
