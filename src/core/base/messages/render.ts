/** The one renderer of sentences: catalogue, ledger, forecast, checks, steps and refusals all use it. */

export type TextParameters = Readonly<Record<string, string | number>>

/** Counts as they are, measures with four significant digits; the largest of all numbers stands for an endless one. */
export function readableNumber(value: number): string {
  if (value === Number.MAX_VALUE) return '∞'
  if (Number.isInteger(value) && Math.abs(value) < 1e15) return value.toLocaleString('en-US')
  return Number(value.toPrecision(4)).toString()
}

/**
 * A measure that lies beyond a limit, with as many significant digits as it takes to be seen to, three or more. The
 * endless stays what it is.
 */
export function beyond(value: number, limit: number): number {
  for (let digits = 3; digits < 15; digits++) {
    const rounded = Number(value.toPrecision(digits))
    if (Math.sign(rounded - limit) === Math.sign(value - limit)) return rounded
  }
  return value
}

/** “a”, “a and b”, “a, b and c”. */
export const listedWords = (items: readonly string[]): string =>
  items.length < 2 ? items.join('') : `${items.slice(0, -1).join(', ')} and ${items.at(-1)}`

/** A number of things, with the word in its number: “1 unit”, “1,200 units”. */
export const counted = (count: number, one: string, many = `${one}s`): string =>
  `${readableNumber(count)} ${count === 1 ? one : many}`

/**
 * A sentence from its template.
 *
 * `[?name|text]` is there only where the parameter `name` is given and not nothing. `{name}` stands for a parameter; `[one|many]` for a word that goes by the parameter `count`, `[one|many|name]` for
 * one that goes by another parameter. An empty name in quotes is told as none. A parameter that is not given is shown as a question mark, so that a sentence is
 * never lost for it. Numbers that are names (a version, a year) are passed as text.
 */
export function renderText(template: string, parameters: TextParameters): string {
  return template
    .replace(/\[\?(\w+)\|((?:\[[^\]]*\]|[^\]])*)\]/g, (_whole, name: string, text: string) =>
      parameters[name] ? text : '',
    )
    .replace(
      /\[([^|\]]*)\|([^|\]]*)(?:\|(\w+))?\]/g,
      (_whole, single: string, many: string, name: string | undefined) =>
        Number(parameters[name ?? 'count']) === 1 ? single : many,
    )
    .replace(/\{(\w+)\}/g, (_whole, name: string) => {
      const value = parameters[name]
      return typeof value === 'number' ? readableNumber(value) : String(value ?? '?')
    })
    .replaceAll('“”', '(no name)')
}
