import type { WholeChange } from './whole-change.ts'

/** What happened to a model as a whole, as the rest of a sentence that begins with “it is”. */
export function wholeText({ factor, turn }: WholeChange): string {
  const times = Number(factor.toPrecision(4))
  return [factor === 1 ? '' : `${times} times as large as it was sent`, turn ? turn.text : '']
    .filter(Boolean)
    .join(', ')
}
