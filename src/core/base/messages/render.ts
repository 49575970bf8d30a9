/** The one renderer of sentences: catalogue, ledger, forecast, checks, steps and refusals all use it. */

export type TextParameters = Readonly<Record<string, string | number>>

/** Counts as they are, measures with four significant digits; the largest of all numbers stands for an endless one. */
export function readableNumber(value: number): string {
  if (value === Number.MAX_VALUE) return '∞'
  if (Number.isInteger(value) && Math.abs(value) < 1e15) return value.toLocaleString('en-US')
  return Number(value.toPrecision(4)).toString()
}

/**
 * A sentence from its template.
 *
 * `{name}` stands for a parameter; `[one|many]` for a word that goes by the parameter `count`, `[one|many|name]` for
 * one that goes by another parameter. A parameter that is not given is shown as a question mark, so that a sentence is
 * never lost for it. Numbers that are names (a version, a year) are passed as text.
 */
export function renderText(template: string, parameters: TextParameters): string {
  return template
    .replace(
      /\[([^|\]]*)\|([^|\]]*)(?:\|(\w+))?\]/g,
      (_whole, single: string, many: string, name: string | undefined) =>
        Number(parameters[name ?? 'count']) === 1 ? single : many,
    )
    .replace(/\{(\w+)\}/g, (_whole, name: string) => {
      const value = parameters[name]
      return typeof value === 'number' ? readableNumber(value) : String(value ?? '?')
    })
}
