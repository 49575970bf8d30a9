import { type ContentHash } from '../../../base/bytes/hash.ts'
import type { Mesh } from '../../../scene/mesh.ts'

/** Names of the groups of each face, as one number a face into a list of texts, by first use. */
export function addNamedSets(hash: ContentHash, mesh: Mesh): void {
  const groups = mesh.groups
  // a list of groups that no face is in says nothing
  if (!groups || groups.faceSets.every((set) => set < 0)) return
  const newOf = new Map<number, number>()
  const renumbered = new Int32Array(groups.faceSets.length)
  for (let face = 0; face < renumbered.length; face++) {
    const set = groups.faceSets[face]!
    if (set >= 0 && !newOf.has(set)) {
      newOf.set(set, newOf.size)
      hash.text(JSON.stringify(groups.sets[set]!.map((name) => groups.names[name])))
    }
    renumbered[face] = set < 0 ? -1 : newOf.get(set)!
  }
  hash.numbers(renumbered)
}
