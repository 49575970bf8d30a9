/**
 * A check: one rule that a model should keep, one file each. It reports findings: places that break the rule,
 * with the very elements, why it matters, and the step that mends it where there is one.
 */
import type { Matrix } from '../base/math/matrix.ts'
import type { Severity } from '../base/messages/catalogue.ts'
import type { MeshFacts } from '../mesh/relations/mesh-facts.ts'
import type { Mesh } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import type { ElementKind } from '../scene/mesh.ts'
import { type CheckSettings } from './settings.ts'
import { WELD_SHARE } from '../mesh/welds/find-welds.ts'

export type CheckArea = 'mesh' | 'uvs' | 'shading' | 'scene' | 'materials'
export const CHECK_AREAS: readonly CheckArea[] = ['mesh', 'uvs', 'shading', 'scene', 'materials']

/** Something a check can find. `{name}` in a text stands for a parameter, `[one|many]` for a word that goes by the count. */
export interface CheckProblem {
  readonly severity: Severity
  readonly text: string
}

export interface CheckElements {
  /** As in the ledger's places; an edge is two points. */
  readonly element: ElementKind
  readonly elements: Uint32Array
  /**
   * Where each place begins among the elements (an edge counts as one), for stepping through them: a border
   * loop, a heap of points. Null: every element is a place of its own.
   */
  readonly placeStarts: Uint32Array | null
}

/** The step that mends a finding, by its id, with its parameters; steps stand above checks and are not known here. */
export interface Mend {
  readonly step: string
  readonly params: Readonly<Record<string, string | number | boolean | null>>
}

/** How a measure is spread, for a chart. */
export interface Distribution {
  readonly title: string
  readonly values: Float64Array
  /** What one value is of: polygons, islands, edges. */
  readonly of: string
  /** The limit beyond which values are findings, null for none. */
  readonly limit: number | null
}

export interface CheckFinding {
  readonly check: string
  readonly problem: string
  readonly severity: Severity
  /** The part it is in; null for the whole file. */
  readonly node: number | null
  /** Other parts concerned. */
  readonly nodes: readonly number[]
  readonly count: number
  readonly parameters: Readonly<Record<string, string | number>>
  readonly places: CheckElements | null
  readonly distribution: Distribution | null
  /** faceCount values to colour the faces by (1 is as it should be), for stretch and density. */
  readonly heat: Float32Array | null
  readonly fix: Mend | null
}

export interface PartContext {
  readonly scene: Scene
  readonly node: number
  readonly mesh: Mesh
  readonly facts: MeshFacts
  readonly world: Matrix
  readonly settings: CheckSettings
}

export interface SceneContext {
  readonly scene: Scene
  readonly worlds: readonly Matrix[]
  readonly settings: CheckSettings
  /** Facts of a mesh, shared with the checks of its parts. */
  readonly factsOf: (mesh: Mesh) => MeshFacts
  readonly settingsKey: string
}

/** What a check tells of one finding; the rest is filled in. */
export interface Report {
  readonly problem: string
  readonly count: number
  readonly node?: number
  readonly nodes?: readonly number[]
  readonly parameters?: Readonly<Record<string, string | number>>
  readonly places?: CheckElements
  readonly distribution?: Distribution
  readonly heat?: Float32Array
  readonly fix?: Mend
}

/** What a check's answer depends on; it runs again only where one of these has changed. */
export type CheckSource =
  keyof Mesh | 'world' | 'space' | 'nodes' | 'materials' | 'images' | 'meshes' | 'extras'

interface CheckBase {
  /** The file's name. */
  readonly id: string
  readonly area: CheckArea
  readonly title: string
  /** Why it matters, in an artist's words. */
  readonly why: string
  readonly reads: readonly CheckSource[]
  readonly problems: Readonly<Record<string, CheckProblem>>
}

export type CheckDescriptor =
  | (CheckBase & {
      readonly scope: 'part'
      readonly run: (context: PartContext, report: (found: Report) => void) => void
    })
  | (CheckBase & {
      readonly scope: 'scene'
      readonly run: (context: SceneContext, report: (found: Report) => void) => void
    })

/** The distance within which points are one, in the part's own unit. */
export const weldDistanceOf = ({ settings, facts }: Pick<PartContext, 'settings' | 'facts'>): number =>
  settings.weldDistance ?? facts.diagonal() * WELD_SHARE

/** Every element a place of its own. */
export const eachElement = (element: ElementKind, elements: ArrayLike<number>): CheckElements => ({
  element,
  elements: Uint32Array.from(elements),
  placeStarts: null,
})

/** Groups of elements, each a place. For edges a group is a flat list of point pairs. */
export function groupedElements(element: ElementKind, groups: readonly (readonly number[])[]): CheckElements {
  const width = element === 'edges' ? 2 : 1
  const starts: number[] = []
  let place = 0
  for (const group of groups) {
    starts.push(place)
    place += group.length / width
  }
  const elements = new Uint32Array(place * width)
  let at = 0
  for (const group of groups) for (const value of group) elements[at++] = value
  return { element, elements, placeStarts: Uint32Array.from(starts) }
}

/** Elements of one place; `place` counts from 0. */
export function placeElements(places: CheckElements, place: number): Uint32Array {
  const width = places.element === 'edges' ? 2 : 1
  if (!places.placeStarts) return places.elements.subarray(place * width, (place + 1) * width)
  const end = places.placeStarts[place + 1] ?? places.elements.length / width
  return places.elements.subarray(places.placeStarts[place]! * width, end * width)
}

/** How many places a finding can be stepped through: an edge is two points. */
export const placeCountOf = (places: CheckElements): number =>
  places.placeStarts
    ? places.placeStarts.length
    : places.elements.length / (places.element === 'edges' ? 2 : 1)
