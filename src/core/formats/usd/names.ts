/** Names of prims: letters, digits and underscores, not beginning with a digit. Source: OpenUSD, SdfPath identifiers. */

export interface UsdNames {
  /** A name like a wish that none of those taken has; it is taken then. */
  readonly unique: (wish: string, taken: Set<string>) => string
}

export const identifierOf = (wish: string): string =>
  wish
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[^A-Za-z0-9_]/g, '_')
    .replace(/^(?=\d|$)/, '_')

export const usdNames: UsdNames = {
  unique: (wish, taken) => {
    const plain = identifierOf(wish)
    let name = plain
    for (let number = 2; taken.has(name); number++) name = `${plain}_${number}`
    taken.add(name)
    return name
  },
}
