/** Whether a name fits a pattern in which `*` stands for any letters; letter case doesn't count. */
export const fitsPattern = (name: string, pattern: string): boolean => patternOf(pattern).test(name)

const patternOf = (pattern: string): RegExp =>
  new RegExp(
    `^${pattern
      .split('*')
      .map((part) => part.replace(/[\\^$.*+?()[\]{}|]/g, '\\$&'))
      .join('(.*)')}$`,
    'is',
  )

/** A name after a rule `from` to `to`, each `*` of `to` filled with what the same one of `from` stood for; null where it doesn't fit. */
export function renamed(name: string, from: string, to: string): string | null {
  const found = patternOf(from).exec(name)
  if (!found) return null
  let at = 0
  return to.replace(/\*/g, () => found[++at] ?? '')
}
