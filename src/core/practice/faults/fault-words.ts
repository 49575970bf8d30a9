import type { FaultName } from './mesh-faults.ts'
import type { SceneFault } from './scene-faults.ts'

/** What else may be done to parts, of which no point's way is kept. */
export type OtherFault = 'subdivided' | 'newUvs' | 'layoutTurned' | 'otherPieces'

export type AnyFault = FaultName | SceneFault | OtherFault

/** Each fault as something that may be done, and as something that was. */
export const FAULT_WORDS: Readonly<Record<AnyFault, readonly [does: string, done: string]>> = {
  sculpted: ['Moves all points a little', 'All points were moved a little.'],
  bumped: ['Pulls a bump out of each part', 'Each part was given a bump.'],
  rounded: ['Rounds to four digits', 'Positions were rounded to four digits.'],
  renumbered: ['Gives new numbers', 'Vertices and polygons were given new numbers.'],
  triangulated: ['Cuts into triangles', 'Polygons were cut into triangles.'],
  unwelded: ['Splits points at UV seams', 'Points were split where UVs meet.'],
  deleted: ['Deletes a polygon of each part', 'A polygon of each part was deleted.'],
  extruded: ['Pulls out a polygon of each part', 'A polygon of each part was pulled out.'],
  looped: ['Cuts in an edge loop', 'An edge loop was cut into each part.'],
  turnedOver: ['Turns polygons over', 'All polygons were turned over.'],
  withoutUvs: ['Forgets the UVs', 'The UVs were forgotten.'],
  subdivided: ['Subdivides once', 'Everything was subdivided once.'],
  newUvs: ['Lays the UVs anew', 'The UVs were laid anew.'],
  layoutTurned: ['Turns the UVs upside down', 'The UVs were turned upside down.'],
  otherPieces: ['Other materials on every other polygon', 'Every other polygon was given another material.'],
  merged: ['Merges parts', 'Parts were merged.'],
  cutUp: ['Cuts up a part', 'A part was cut up.'],
  renamed: ['Renames all parts', 'All parts were renamed.'],
  swapped: ['Swaps two names', 'The names of two parts were swapped.'],
  reordered: ['Puts parts in another order', 'The parts were put in another order.'],
  added: ['Adds a part', 'A part was added.'],
  dropped: ['Leaves a part out', 'A part was left out.'],
  sized: ['Changes the size', 'The size of all of it was changed.'],
  mirrored: ['Mirrors all of it', 'All of it was mirrored.'],
  turned: ['Lays it on its back', 'All of it was turned by a quarter.'],
  moved: ['Moves all of it', 'All of it was moved.'],
}
