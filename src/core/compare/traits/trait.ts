/** The kinds of information that a model carries and a hop can lose, and what can become of them. */
export const TRAITS = [
  'topology',
  'points',
  'uvs',
  'smoothing',
  'normals',
  'creases',
  'transforms',
  'names',
  'materials',
  'surfaces',
  'groups',
  'colours',
  'shapes',
  'scene',
] as const

export type Trait = (typeof TRAITS)[number]

export const STATES = ['same', 'within', 'changed', 'lost', 'gained', 'incomparable'] as const
/** same: equal to the last bit; within: equal within the trait's tolerance. */
export type TraitState = (typeof STATES)[number]

export const STATE_WORDS: Readonly<Record<TraitState, string>> = {
  same: 'same',
  within: 'same within tolerance',
  changed: 'changed',
  lost: 'lost',
  gained: 'gained',
  incomparable: 'not comparable',
}

/** Elements where a difference lies, for showing them in the views. */
export interface Places {
  readonly element: 'points' | 'edges' | 'faces' | 'corners'
  /** In the master's numbering; an edge is two points. */
  readonly master: Uint32Array
  /** In the returned part's numbering. */
  readonly returned: Uint32Array
}

export type NoteParameters = Readonly<Record<string, string | number>>

/** What became of one trait of one part. */
export interface TraitComparison {
  readonly state: TraitState
  /** Neither side has anything of this trait. */
  readonly empty: boolean
  /** Largest deviation, in the master's unit (points), UV units, or radians (normals); null where none applies. */
  readonly deviation: number | null
  readonly changedCount: number
  readonly totalCount: number
  readonly note: NoteCode
  readonly parameters: NoteParameters
  readonly places: Places | null
}

/** Sentences of the ledger. `{name}` stands for a parameter. */
export const NOTES = {
  none: 'Neither file has any.',
  same: 'Unchanged, to the last bit.',
  within: 'Unchanged within the tolerance; the largest deviation is {deviation}.',
  'not-matched': 'The polygons could not be matched, so this can’t be compared.',
  'part-lost': 'This part did not come back; the master still has it.',
  'part-gained': 'This part is new; the master has none like it.',
  lost: 'None of it came back; it can be restored from the master.',
  gained: 'The returned file has this; the master does not.',
  renumbered: 'The same polygons, with the vertices or polygons in another order.',
  'topology-changed': '{changed} of {total} polygons are not in the returned part, and {added} are new.',
  'points-added': 'The polygons are the same; {lost} loose vertices are gone and {added} are new.',
  'points-welded':
    'The polygons are the same; {welded} vertices were welded to others, {lost} loose ones are gone and {added} are new.',
  'points-moved': '{changed} of {total} points moved, the farthest by {deviation}{unit}.',
  'points-partly': '{changed} of {total} points moved or have no counterpart.',
  'uvs-moved': '{changed} of {total} corners have another UV, the farthest by {deviation}.',
  'uv-sets-lost': '{lost} of {total} UV sets did not come back: {names}.',
  'uv-sets-gained': 'The UVs are the same, and further UV sets came back: {names}.',
  'uv-set-renamed': 'The coordinates are the same; the UV set is called “{to}” instead of “{from}”.',
  'edges-softened': '{changed} of {total} hard edges came back soft, {added} are new; they can be restored.',
  'smoothing-lost': '{total} hard edges came back without smoothing; they can be restored.',
  'smoothing-renumbered': 'The hard edges are the same; the group numbers differ.',
  'normals-turned': '{changed} of {total} corner normals turned, the farthest by {degrees}°.',
  'creases-changed':
    '{changed} of {total} creased edges and corners changed, {added} are new; they can be restored.',
  'creases-lost': '{total} creased edges and corners came back smooth; they can be restored.',
  'placed-otherwise': 'It stands in the same place, by another transform.',
  'pivots-changed': 'It stands in the same place; its pivots or the order of its turning changed.',
  'transforms-baked': 'It stands in the same place: its transform is in its points.',
  'polygons-cut': 'All {total} polygons are there, {changed} of them cut into smaller ones{split}.',
  'points-split':
    'The polygons are the same; {count} points were split off others, as at seams and hard edges.',
  'surfaces-reworded': 'The same values under another format’s names.',
  'surfaces-partly': 'The same values under another format’s names; {own} more have none there.',
  'shapes-partly': '{changed} of {total} blend shapes or skin weights changed.',
  'size-changed': 'Everything came back {factor} times as large{turned}.{also}',
  'turned-whole': 'Everything came back {turned}.{also}',
  moved: 'The part’s transform or its place in the hierarchy changed.',
  renamed: 'It came back as “{to}”.',
  'materials-changed': '{changed} of {total} polygons have another material.',
  'surfaces-changed': 'The parameters or maps of {changed} of {total} materials changed.',
  'groups-changed':
    '{changed} of {total} polygons are in other groups; {added} group names are new and {lost} are gone.',
  'colours-changed': 'The colours of {changed} of {total} elements changed.',
  'colour-sets-lost': '{lost} of {total} colour sets did not come back: {names}.',
  'colour-sets-gained': 'The colours are the same, and further colour sets came back: {names}.',
  'shapes-changed': 'The blend shapes or skin weights changed.',
  'scene-changed': 'Changed: {what}.',
  'scene-respaced': 'The numbers are in another space ({what}); the model is as large and stands as it did.',
  'unit-unknown': 'The returned file states no unit, so its size was taken as sent.',
} as const

export type NoteCode = keyof typeof NOTES

/** What tools do to a file of their own accord: a change, and no work of the artist's that a hop was for. */
export const TOOLS_OWN_NOTES: ReadonlySet<NoteCode> = new Set([
  'polygons-cut',
  'points-split',
  'uv-sets-gained',
  'uv-set-renamed',
  'colour-sets-gained',
])

/** The sentence of a note; `words` says it otherwise, with the same parameters. */
export function noteText(note: NoteCode, parameters: NoteParameters, words: string = NOTES[note]): string {
  return words.replace(/\{(\w+)\}/g, (_whole, name: string) => {
    const value = parameters[name]
    return typeof value === 'number' ? readableNumber(value) : String(value ?? '?')
  })
}

/** Counts as they are, measures with four significant digits. */
export function readableNumber(value: number): string {
  if (Number.isInteger(value) && Math.abs(value) < 1e15) return value.toLocaleString('en-US')
  return Number(value.toPrecision(4)).toString()
}

/** What a trait is called where people read it. */
export const traitLabel = (trait: Trait): string => (trait === 'uvs' ? 'UVs' : trait)

export const compared = (
  state: TraitState,
  note: NoteCode,
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
