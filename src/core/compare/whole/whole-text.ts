/** What is told of a whole; what is not said did not happen. */
export interface WholeWords {
  readonly factor: number
  readonly turn: { readonly text: string } | null
  readonly mirror?: string | null | undefined
  readonly move?: { readonly text: string } | null | undefined
  /** 'surfaces' or 'boxes': as far as these tell; else points that correspond. */
  readonly by?: string | undefined
}

/** What happened to a model as a whole, as the rest of a sentence that begins with “it came back”. */
export function wholeText({ factor, turn, mirror, move }: WholeWords): string {
  const times = Number(factor.toPrecision(4))
  const texts = [
    factor === 1 ? '' : `${times} times as large as it was sent`,
    mirror ? `mirrored across ${mirror}` : '',
    turn ? turn.text : '',
    move ? move.text : '',
  ].filter(Boolean)
  return texts.join(', ')
}
