import { pairSets } from './pair-sets.ts'

/** Values per corner by index: the source's values first, then those of target corners without counterpart. */
export function carryIndexed(
  target: { values: Float64Array; indices: Int32Array } | null,
  source: { values: Float64Array; indices: Int32Array },
  corners: Int32Array,
  width: number,
): { values: Float64Array; indices: Int32Array } {
  const indices = new Int32Array(corners.length).fill(-1)
  const extra: number[] = []
  const extraOf = new Map<number, number>()
  const sourceCount = source.values.length / width
  for (let corner = 0; corner < corners.length; corner++) {
    const from = corners[corner]!
    if (from >= 0) indices[corner] = source.indices[from]!
    else if (target && target.indices[corner]! >= 0) {
      const old = target.indices[corner]!
      let index = extraOf.get(old)
      if (index === undefined) {
        index = sourceCount + extra.length / width
        extraOf.set(old, index)
        for (let part = 0; part < width; part++) extra.push(target.values[old * width + part]!)
      }
      indices[corner] = index
    }
  }
  if (extra.length === 0) return { values: source.values, indices }
  const values = new Float64Array(source.values.length + extra.length)
  values.set(source.values)
  values.set(extra, source.values.length)
  return { values, indices }
}

/**
 * Sets of a kind, paired as they are compared, under the master's names. Onto the master: what came back for a
 * set, sets that came back new, and those that nothing came back for, since taking one set is no reason to lose
 * another. Onto the returned mesh: the master's sets alone, since nothing of theirs is taken.
 */
export function carrySets<Named extends { readonly name: string }>(
  target: readonly Named[],
  source: readonly Named[],
  ontoMaster: boolean,
  carry: (own: Named | null, set: Named) => Named,
): Named[] {
  if (!ontoMaster)
    return pairSets(source, target).pairs.map(({ from, to }) => ({ ...carry(to, from), name: from.name }))
  const { pairs, gained } = pairSets(target, source)
  return [
    ...pairs.map(({ from, to }) => (to ? { ...carry(from, to), name: from.name } : from)),
    ...gained.map((set) => carry(null, set)),
  ]
}
