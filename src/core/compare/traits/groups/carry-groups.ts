import { type FaceGroups, type Mesh } from '../../../scene/mesh.ts'
import type { CarryMap } from '../trait.ts'

/** The target with the source’s face groups; faces without counterpart stay in their own. */
export function carryGroups(target: Mesh, source: Mesh, map: CarryMap): Mesh {
  const names: string[] = []
  const sets: number[][] = []
  const setIds = new Map<string, number>()
  const intern = (groups: FaceGroups | null, set: number): number => {
    if (!groups || set < 0) return -1
    const words = groups.sets[set]!.map((name) => groups.names[name]!)
    const key = JSON.stringify(words)
    let id = setIds.get(key)
    if (id === undefined) {
      id = sets.length
      setIds.set(key, id)
      sets.push(
        words.map((word) => {
          if (!names.includes(word)) names.push(word)
          return names.indexOf(word)
        }),
      )
    }
    return id
  }
  const faceSets = Int32Array.from(map.faces, (face, index) =>
    face >= 0
      ? intern(source.groups, source.groups ? source.groups.faceSets[face]! : -1)
      : intern(target.groups, target.groups ? target.groups.faceSets[index]! : -1),
  )
  return { ...target, groups: sets.length ? { names, sets, faceSets } : null }
}
