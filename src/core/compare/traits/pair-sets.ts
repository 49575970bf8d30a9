/** Sets of a kind that two meshes have, by name and then by their order. */
export interface PairedSets<Named> {
  /** One entry for each of the master's sets; null where the returned mesh has none for it. */
  readonly pairs: readonly { readonly from: Named; readonly to: Named | null }[]
  /** Sets of the returned mesh that no set of the master is like. */
  readonly gained: readonly Named[]
}

/** Sets of the two sides by name, then by place; what is over is lost or gained. */
export function pairSets<Named extends { readonly name: string }>(
  master: readonly Named[],
  returned: readonly Named[],
): PairedSets<Named> {
  const open = new Set(returned)
  const named = master.map((from) => {
    const to = [...open].find((set) => set.name === from.name) ?? null
    if (to) open.delete(to)
    return { from, to }
  })
  const rest = [...open]
  const pairs = named.map((pair) => (pair.to ? pair : { from: pair.from, to: rest.shift() ?? null }))
  return { pairs, gained: rest }
}

/** Names of sets as a ledger's sentence lists them. */
export const setNames = (sets: readonly { readonly name: string }[]): string =>
  sets.map((set) => set.name || 'one without a name').join(', ')
