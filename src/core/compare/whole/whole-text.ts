import type { WholeTold } from './whole-change.ts'

/** What happened to a model as a whole, as the rest of a sentence that begins with “it came back”. */
export function wholeText({ factor, turn, mirror, move }: Omit<WholeTold, 'by'>): string {
  const times = Number(factor.toPrecision(4))
  const texts = [
    factor === 1 ? '' : `${times} times as large as it was sent`,
    mirror ? `mirrored across ${mirror}` : '',
    turn ? turn.text : '',
    move ? move.text : '',
  ].filter(Boolean)
  return texts.join(', ')
}
