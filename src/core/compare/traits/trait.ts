/**
 * A trait: one kind of information that a model carries and a hop can lose. Each has a folder of its own with how it
 * is told apart (fingerprint), compared, and carried from one mesh to another, and with its sentences.
 */
import type { ContentHash } from '../../base/bytes/hash.ts'
import type { Matrix } from '../../base/math/matrix.ts'
import { renderText, type TextParameters } from '../../base/messages/render.ts'
import type { ElementKind, Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import type { Correspondence } from '../match/correspondence.ts'
import type { PartMatch } from '../match/match-parts.ts'
import type { WholeTold } from '../whole/whole-change.ts'

export const STATES = [
  'same',
  'within',
  'changed',
  'guess',
  'lost',
  'gained',
  'without',
  'incomparable',
] as const
/**
 * same: equal to the last bit; within: equal within the trait's tolerance; guess: changed, as far as the guess at which
 * element is which is right; without: nothing changed on what has a counterpart, and some has none.
 */
export type TraitState = (typeof STATES)[number]

export const STATE_WORDS: Readonly<Record<TraitState, string>> = {
  same: 'same',
  within: 'same within tolerance',
  changed: 'changed',
  guess: 'changed, by a guess',
  lost: 'lost',
  gained: 'gained',
  without: 'without counterpart',
  incomparable: 'not comparable',
}

/** Elements where a difference lies, for showing them in the views. */
export interface Places {
  readonly element: ElementKind
  /** In the master's numbering; an edge is two points. */
  readonly master: Uint32Array
  /** In the returned part's numbering. */
  readonly returned: Uint32Array
  /** How far each point moved, in the master's unit, in the numbering of either side; NaN without counterpart. */
  readonly field?: { readonly master: Float32Array; readonly returned: Float32Array }
}

/** What became of one trait of one part. */
export interface TraitComparison {
  readonly state: TraitState
  /** Neither side has anything of this trait. */
  readonly empty: boolean
  /** Largest deviation, in the master's unit (points), UV units, or radians (normals); null where none applies. */
  readonly deviation: number | null
  readonly changedCount: number
  readonly totalCount: number
  readonly note: string
  readonly parameters: TextParameters
  readonly places: Places | null
}

/** A sentence that a comparison may end in. */
export interface NoteDescriptor {
  /** Said of a file that came back. `{name}` stands for a parameter. */
  readonly ledger: string
  /** Said of a file about to leave, where the ledger's words would not fit. */
  readonly forecast?: string
  /** The difference says the same in another form: what that costs. */
  readonly otherForm?: string
  /** What tools do to a file of their own accord: no work of the artist's that a hop was for. */
  readonly toolsOwn?: boolean
}

/** A pair of parts with everything that comparing and carrying need to know. */
export interface MatchedPart {
  readonly match: PartMatch
  readonly master: Mesh
  /**
   * The returned mesh with its points and normals brought into the master part's own space, and its polygons over
   * joined points where they were split; its elements keep their numbers.
   */
  readonly returned: Mesh
  readonly correspondence: Correspondence
  /** Where the numbers of the returned part count from, in the master part's own space: they are rounded the more the farther from there. */
  readonly countedFrom: readonly [number, number, number]
  /** The returned part's transform where it stood in the master's unit and axes. */
  readonly returnedLocal: Matrix
  /** The part stands where it stood, though the returned file says so by other transforms. */
  readonly placedOtherwise: boolean
}

/** What one part is compared with. */
export interface PartComparison extends MatchedPart {
  readonly masterScene: Scene
  readonly returnedScene: Scene
}

/** How far from a place of a part a point may lie and not have moved, in the part's unit. */
export type PointTolerance = (x: number, y: number, z: number) => number

/** Target element to source element, -1 for none. */
export interface CarryMap {
  readonly points: Int32Array
  /** Source point to target point; points that one side has welded share one. */
  readonly sourcePoints: Int32Array
  readonly faces: Int32Array
  readonly corners: Int32Array
}

/** What carrying a trait from one mesh onto another needs to know besides the two. */
export interface CarryContext {
  readonly map: CarryMap
  /** The target is the master, taking from what came back; else what came back, given back what the master has. */
  readonly ontoMaster: boolean
  /** Source material to the material of the target's scene; -1 for none. */
  readonly materialOf: (material: number) => number
  /** Points that lie closer than this keep the target's exact numbers. */
  readonly pointTolerance: PointTolerance
}

/**
 * How a trait is taken. Every trait has to say it: what could be ticked and is then not carried would be counted as
 * taken.
 *
 * 'elements': it lies on elements of the mesh and goes from a source mesh to a target mesh; elements of the target
 * without counterpart keep what the target has. 'base': the returned mesh itself becomes the part's, and other traits
 * are carried onto it. 'part' and 'scene': it belongs to a part, or to the scene, as a whole; reconciling knows how.
 */
export type TraitCarry =
  | { readonly kind: 'elements'; readonly carry: (target: Mesh, source: Mesh, context: CarryContext) => Mesh }
  | { readonly kind: 'base' }
  | { readonly kind: 'part'; readonly take: 'name' | 'transform' | 'surfaces' }
  | { readonly kind: 'scene' }

/** What a trait is told apart by: everything of it that a file can carry, and nothing else. */
export interface FingerprintSource {
  readonly scene: Scene
  readonly node: number
  readonly mesh: Mesh
  readonly world: Matrix
}

interface TraitBase {
  /** The folder's name. */
  readonly id: string
  /** What it is called where people read it. */
  readonly title: string
  /** It comes back whatever became of the polygons. */
  readonly ofThePart: boolean
  readonly notes: Readonly<Record<string, NoteDescriptor>>
  readonly fingerprint: (source: FingerprintSource, hash: ContentHash) => void
  readonly carry: TraitCarry
}

export interface PartTraitDescriptor extends TraitBase {
  readonly scope: 'part'
  readonly compare: (parts: PartComparison) => TraitComparison
}

export interface SceneTraitDescriptor extends TraitBase {
  readonly scope: 'scene'
  readonly compareScene: (
    master: Scene,
    returned: Scene,
    whole: WholeTold | null,
    pairs: readonly (readonly [number, number])[],
  ) => TraitComparison
  /** What all parts of a scene share beside what each has. */
  readonly fingerprintScene: (scene: Scene, hash: ContentHash) => void
}

export type TraitDescriptor = PartTraitDescriptor | SceneTraitDescriptor

/** Sentences that any trait may end in. */
export const COMMON_NOTES = {
  none: { ledger: 'Neither file has any.', forecast: 'The part has none.' },
  same: { ledger: 'Unchanged, to the last bit.', forecast: 'Carried, to the last bit.' },
  'same-where-matched': {
    ledger: 'Unchanged wherever there is a counterpart; {without} of {total} [has|have|without] none.',
    forecast: 'Carried wherever there is a counterpart; {without} of {total} [has|have|without] none.',
  },
  within: {
    ledger: 'Unchanged within the tolerance; the largest deviation is {deviation}.',
    forecast: 'Carried; the largest deviation is {deviation}.',
  },
  'not-matched': {
    ledger: 'The polygons could not be matched, so this can’t be compared.',
    forecast: 'The polygons in the file could not be matched, so this can’t be compared.',
  },
  'part-lost': {
    ledger: 'This part did not come back; the master still has it.',
    forecast: 'The file will not carry this part.',
  },
  'part-gained': {
    ledger: 'This part is new; the master has none like it.',
    forecast: 'The file has this part, and the version does not.',
  },
  lost: {
    ledger: 'None of it came back; it can be restored from the master.',
    forecast: 'The file will not carry this.',
  },
  'lost-apart': {
    ledger:
      'None of it came back, and no polygon was found again that it could be carried over to as it was.',
    forecast: 'The file will not carry this.',
  },
  'lost-partly': {
    ledger:
      'None of it came back; it can be restored on the {found} of {total} polygons that [was|were|found] found again.',
    forecast: 'The file will not carry this.',
  },
  gained: {
    ledger: 'The returned file has this; the master does not.',
    forecast: 'The file has this, and the version does not.',
  },
} as const satisfies Record<string, NoteDescriptor>

/** A comparison’s answer with what is not said left empty. */
export const compared = (
  state: TraitState,
  note: string,
  more: Partial<Omit<TraitComparison, 'state' | 'note'>> = {},
): TraitComparison => ({
  state,
  note,
  empty: false,
  deviation: null,
  changedCount: 0,
  totalCount: 0,
  parameters: {},
  places: null,
  ...more,
})

export const NOTHING: TraitComparison = compared('same', 'none', { empty: true })

/** Nothing changed on what has a counterpart; `without` of `total` have none, and are neither changed nor the same. */
export const sameWhereMatched = (without: number, total: number): TraitComparison =>
  compared('without', 'same-where-matched', { totalCount: total, parameters: { without, total } })

/** Deviations below are not told in digits: what rounding leaves is no measure that anybody reads. */
const LEAST_TOLD = 1e-6

/** A deviation as a sentence tells it. */
export const toldDeviation = (deviation: number): number | string =>
  deviation > 0 && deviation < LEAST_TOLD ? `below ${LEAST_TOLD.toFixed(6)}` : deviation

/** A comparison that found nothing changed: to the last bit, or with a largest deviation. */
export const unchanged = (
  deviation: number,
  more: Partial<Omit<TraitComparison, 'state' | 'note'>> = {},
): TraitComparison =>
  deviation > 0
    ? compared('within', 'within', {
        ...more,
        deviation,
        parameters: { deviation: toldDeviation(deviation) },
      })
    : compared('same', 'same', { ...more, deviation })

/** The sentence of a note about a file that came back. */
export const ledgerText = (note: NoteDescriptor, parameters: TextParameters): string =>
  renderText(note.ledger, parameters)
