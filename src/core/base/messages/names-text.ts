/** A name as it is shown: what has none is not left blank. */
export const shownName = (name: string): string => (name.trim() === '' ? '(no name)' : name)

/** “name”, or (no name). */
export const quotedName = (name: string): string => (name.trim() === '' ? '(no name)' : `“${name}”`)

/** Names that are listed before the rest of them is counted. */
const MOST_LISTED = 4

/** “one”, “two”, “three”, “four” and 5 more. */
export const namesText = (names: readonly string[]): string =>
  `${names
    .slice(0, MOST_LISTED)
    .map(quotedName)
    .join(', ')}${names.length > MOST_LISTED ? ` and ${names.length - MOST_LISTED} more` : ''}`
