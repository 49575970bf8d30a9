import { renderText, type TextParameters } from '../base/messages/render.ts'
import type { Trait } from '../compare/traits/registry.ts'
import { costOf, fateOf, isRefused, type CellOfTrait, type FateDestination, type TraitKinds } from './fate.ts'

/** The sentence of a note, as it is said of a file that was written and has been nowhere. */
export const writtenText = (note: string, parameters: TextParameters, { notes }: TraitKinds): string =>
  renderText(notes[note]?.forecast ?? notes[note]?.ledger ?? note, parameters)

/**
 * What a forecast says of one trait: the fact, and what it costs or who keeps it.
 * Source of the facts: the comparison of the file read back with the version.
 */
export function forecastText(
  trait: Trait,
  cell: CellOfTrait & { readonly note: string; readonly parameters: TextParameters },
  destination: FateDestination,
  kinds: TraitKinds,
): string {
  const { note } = cell
  const fate = fateOf(trait, cell, destination, kinds)
  const kept = fate === 'kept' ? ' The master keeps it all for the return.' : ''
  if (isRefused(trait, cell, destination, kinds))
    return `The file carries it, and this tool has no room for it.${kept}`
  if (trait === 'scene' && note === 'same')
    return 'Unit, axes, cameras, lights and custom properties as they are.'
  const said = writtenText(note, cell.parameters, kinds)
  if (fate === 'otherwise') return `In another form. ${said} ${costOf(note, kinds) ?? ''}`.trim()
  return `${said}${kept}${fate === 'lost' ? ' It can’t be put back on polygons that the tool makes anew.' : ''}`
}
