import { NOTES, noteText, type NoteCode, type NoteParameters, type Trait } from '../compare/traits/trait.ts'
import { costOf, fateOf, isRefused, type CellOfTrait, type FateDestination } from './fate.ts'

/** A forecast's words where a comparison speaks of a file that came back. */
export const FORECAST_NOTES: Readonly<Partial<Record<NoteCode, string>>> = {
  none: 'The part has none.',
  same: 'Carried, to the last bit.',
  within: 'Carried; the largest deviation is {deviation}.',
  lost: 'The file will not carry this.',
  gained: 'The file has this, and the version does not.',
  'not-matched': 'The polygons in the file could not be matched, so this can’t be compared.',
  'part-lost': 'The file will not carry this part.',
  'part-gained': 'The file has this part, and the version does not.',
  'topology-changed': '{changed} of {total} polygons are not in the file, and {added} are new.',
  'uv-sets-lost': 'The file will not carry {lost} of {total} UV sets: {names}.',
  'uv-sets-gained': 'The file has further UV sets: {names}.',
  'colour-sets-lost': 'The file will not carry {lost} of {total} colour sets: {names}.',
  'colour-sets-gained': 'The file has further colour sets: {names}.',
  'edges-softened': '{changed} of {total} hard edges leave soft, {added} are new.',
  'smoothing-lost': 'The file will not carry the {total} hard edges.',
  'creases-changed':
    '{changed} of {total} creased edges and corners leave with another sharpness, {added} are new.',
  'creases-lost': 'The file will not carry the {total} creases.',
  'size-changed': 'Everything leaves {factor} times as large{turned}.{also}',
  'turned-whole': 'Everything leaves {turned}.{also}',
  renamed: 'It leaves as “{to}”.',
  'unit-unknown': 'The file states no unit; the tool takes the numbers for its own.',
}

/**
 * What a forecast says of one trait: the fact, and what it costs or who keeps it.
 * Source of the facts: the comparison of the file read back with the version.
 */
export function forecastText(
  trait: Trait,
  cell: CellOfTrait & { readonly note: string; readonly parameters: NoteParameters },
  destination: FateDestination,
): string {
  const note = cell.note as NoteCode
  const fate = fateOf(trait, cell, destination)
  const kept = fate === 'kept' ? ' The master keeps it all for the return.' : ''
  if (isRefused(trait, cell, destination))
    return `The file carries it, and this tool has no room for it.${kept}`
  if (trait === 'scene' && note === 'same')
    return 'Unit, axes, cameras, lights and custom properties as they are.'
  const said = noteText(note, cell.parameters, FORECAST_NOTES[note] ?? NOTES[note])
  if (fate === 'otherwise') return `In another form. ${said} ${costOf(note) ?? ''}`.trim()
  return `${said}${kept}${fate === 'lost' ? ' It can’t be put back on polygons that the tool makes anew.' : ''}`
}
