import type { Axis } from '../scene/scene.ts'
import type { WholeChange } from './whole-change.ts'

/**
 * How a returned file has to be read for what happened to it as a whole to be undone: the same numbers in a
 * smaller unit are a smaller model. Null where its own unit is not known, so that no other can be said.
 */
export function readingThatUndoes(
  { factor, turn }: WholeChange,
  unitMeters: number | null,
): { unitMeters?: number; upAxis?: Axis; frontAxis?: Axis } | null {
  const options = {
    ...(factor !== 1 && unitMeters !== null ? { unitMeters: unitMeters / factor } : {}),
    ...(turn ? { upAxis: turn.upAxis, frontAxis: turn.frontAxis } : {}),
  }
  return Object.keys(options).length ? options : null
}
