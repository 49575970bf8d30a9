/** What the page and the viewer's worker tell each other. */
import type { Places } from '../../core/compare/traits/trait.ts'
import type { Scene } from '../../core/scene/scene.ts'

export type Slot = 'master' | 'returned'
export type ViewName = 'solid' | 'flat'

export interface HighlightItem {
  readonly slot: Slot
  readonly node: number
  readonly element: Places['element']
  readonly elements: Uint32Array
  /** faceCount; values about 1 to colour the part's faces by. */
  readonly heat?: Float32Array | null
  /** pointCount values from 0 to `most`, to colour the part's surface by; NaN: not known. */
  readonly field?: { readonly values: Float32Array; readonly most: number } | null
  /** What the artist chose, told apart from what is marked as a finding. */
  readonly chosen?: boolean
}

export interface ViewSettings {
  readonly edges: boolean
  readonly backFaces: boolean
  readonly maps: boolean
  /** How many times as large all of what came back is, where it is drawn as large as the master and in its place; null: as it came. */
  readonly returnedFactor: number | null
  /** Show only the selected part. */
  readonly isolate: boolean
  /** Share of the width that shows the master; null: no wipe, the shown slot only. */
  readonly wipe: number | null
  readonly shown: Slot
  /** Of lit materials one parameter of glTF alone, as flat colour; null: all, lit. */
  readonly parameter: string | null
  /** A checker on the model and under the islands, in place of the maps. */
  readonly checker: boolean
  /** What of the chosen a hand moves in the flat view; null: nothing. */
  readonly placing: 'islands' | 'corners' | null
  /** How far from drawn corners others give way, tiles; null: they stay. */
  readonly givesWay: number | null
}

/** How chosen UVs are placed by hand: about the middle of their box, then moved. Tiles, degrees, times. */
export interface HandPlacing {
  readonly moveU: number
  readonly moveV: number
  readonly turn: number
  readonly scaleU: number
  readonly scaleV: number
}

export type ToViewer =
  | {
      readonly type: 'init'
      readonly solid: OffscreenCanvas
      /** Null: no flat view. */
      readonly flat: OffscreenCanvas | null
      /** Materials are glTF's, drawn with all their maps under the light set. */
      readonly lit: boolean
    }
  | {
      readonly type: 'resize'
      readonly view: ViewName
      readonly width: number
      readonly height: number
      readonly ratio: number
    }
  | { readonly type: 'load'; readonly slot: Slot; readonly sceneId: string | null }
  | { readonly type: 'settings'; readonly settings: ViewSettings }
  | { readonly type: 'select'; readonly node: number | null; readonly face: number | null }
  | { readonly type: 'highlight'; readonly items: readonly HighlightItem[] }
  | { readonly type: 'frame'; readonly node: number | null }
  /** Brings what is marked close, in both views. */
  | { readonly type: 'focus' }
  /** Asks how long the edges of a part of the master are. */
  | { readonly type: 'lengths'; readonly id: number; readonly node: number }
  /** Asks for a piece of the map of normals of a material of what came back, by its number. */
  | { readonly type: 'normals'; readonly id: number; readonly material: number; readonly size: number }
  /** Asks how long one picture of the solid view takes. */
  | { readonly type: 'measure'; readonly times: number }
  /** Leads to the Bench's worker: it sends the draft, and asks for the model so that it is fetched once. */
  | { readonly type: 'port'; readonly port: MessagePort }
  /** World positions that the ruler lies between; fewer than two: none. */
  | { readonly type: 'ruler'; readonly ends: readonly (readonly [number, number, number])[] }
  | {
      readonly type: 'drag'
      readonly view: ViewName
      readonly dx: number
      readonly dy: number
      readonly pan: boolean
      /** Where the hand is now. */
      readonly x: number
      readonly y: number
      /** Without snapping. */
      readonly free: boolean
    }
  /** The hand goes down in the flat view: on what is chosen it holds that. */
  | { readonly type: 'grab'; readonly x: number; readonly y: number }
  /** It lets go; what it held is told as placed. */
  | { readonly type: 'release' }
  /** The model as it was before the draft, for as long as a key is held. */
  | { readonly type: 'before'; readonly on: boolean }
  | {
      readonly type: 'zoom'
      readonly view: ViewName
      readonly x: number
      readonly y: number
      readonly steps: number
    }
  | {
      readonly type: 'pick'
      readonly view: ViewName
      readonly x: number
      readonly y: number
      readonly add: boolean
    }

/** What the Bench's worker tells the viewer's, and is answered. */
export type ToViewerFromBench =
  | { readonly type: 'draft'; readonly scene: Scene | null }
  | { readonly type: 'want'; readonly sceneId: string }
export type ToBenchFromViewer = { readonly sceneId: string; readonly scene: Scene | null }

export type FromViewer =
  | { readonly type: 'progress'; readonly slot: Slot; readonly share: number; readonly stage: string }
  | { readonly type: 'loaded'; readonly slot: Slot; readonly faceCount: number }
  | {
      readonly type: 'picked'
      readonly node: number | null
      readonly face: number | null
      /** Number of the polygon's material in its scene; -1: none. */
      readonly material: number
      /** Which of the two models it is of. */
      readonly slot: Slot
      /** World position of the polygon's corner nearest to the click; null in the flat view. */
      readonly corner: readonly [number, number, number] | null
      /** The polygon's corner nearest to the click, and the one that begins its nearest side; null beside the model. */
      readonly nearest: { readonly corner: number; readonly side: number } | null
      readonly add: boolean
    }
  | { readonly type: 'placed'; readonly placing: HandPlacing }
  | { readonly type: 'failed'; readonly text: string }
  /** One an edge, the file's unit; null where there is no such part. */
  | { readonly type: 'lengths'; readonly id: number; readonly lengths: Float64Array | null }
  /** size × size pixels, rows from the top, green up; null where it has no such map. */
  | {
      readonly type: 'normals'
      readonly id: number
      readonly pixels: Uint8ClampedArray<ArrayBuffer> | null
    }
  /** How far apart the two models look as they stand here, CIEDE2000; null where there is nothing to compare. */
  | { readonly type: 'apart'; readonly apart: { readonly mean: number; readonly largest: number } | null }
  /** Milliseconds. */
  | { readonly type: 'measured'; readonly milliseconds: number }
  | { readonly type: 'drawn'; readonly view: ViewName; readonly frames: number }
