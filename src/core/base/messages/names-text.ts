/** Names that are listed before the rest of them is counted. */
const MOST_LISTED = 4

/** “one”, “two”, “three”, “four” and 5 more. */
export const namesText = (names: readonly string[]): string =>
  `${names
    .slice(0, MOST_LISTED)
    .map((name) => `“${name}”`)
    .join(', ')}${names.length > MOST_LISTED ? ` and ${names.length - MOST_LISTED} more` : ''}`
