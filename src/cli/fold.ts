/** Long lists as the command line prints them: what is alike is counted, unless all is asked for. */

/** Lines of one kind that are printed before the rest is counted. */
const SHOWN = 3

export interface FoldedLine {
  /** What it is alike with. */
  readonly kind: string
  readonly text: string
}

/**
 * Lines in their order; of each kind the first few, and behind them how many more there are.
 *
 * @param more the line behind them, for the number that is left out and one of these.
 */
export function foldLines(
  lines: readonly FoldedLine[],
  all: boolean,
  more: (count: number, line: FoldedLine) => string,
): string[] {
  if (all) return lines.map(({ text }) => text)
  const counts = new Map<string, number>()
  for (const { kind } of lines) counts.set(kind, (counts.get(kind) ?? 0) + 1)
  const met = new Map<string, number>()
  return lines.flatMap((line) => {
    const at = (met.get(line.kind) ?? 0) + 1
    met.set(line.kind, at)
    const count = counts.get(line.kind)!
    // a single line more is no longer than the one that would count it
    if (at <= SHOWN || count === SHOWN + 1) return [line.text]
    return at === SHOWN + 1 ? [more(count - SHOWN, line)] : []
  })
}
