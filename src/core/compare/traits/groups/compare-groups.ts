import type { Correspondence } from '../../match/correspondence.ts'
import { faceCountOf, type Mesh } from '../../../scene/mesh.ts'
import { compared, NOTHING, sameWhereMatched, type TraitComparison } from '../trait.ts'
import { compareByFace } from '../compare-by-face.ts'

/** The names of a face’s groups as one text, sorted; null for a face in none. */
export function groupTextOf({ groups }: Pick<Mesh, 'groups'>): (face: number) => string | null {
  const texts = groups?.sets.map((set) => set.map((name) => groups.names[name]!).sort().join(' ')) ?? [] // prettier-ignore
  return (face) => {
    const set = groups?.faceSets[face] ?? -1
    return set < 0 ? null : texts[set]!
  }
}

const namesText = (count: number, what: string): string =>
  count === 0 ? '' : `; ${count === 1 ? '1 group name is' : `${count} group names are`} ${what}`

/** Face groups by the names that each polygon is under; a new name for the same polygons is told as such. */
export function compareGroups(master: Mesh, returned: Mesh, match: Correspondence): TraitComparison {
  const total = faceCountOf(master)
  const names = new Set(master.groups?.names ?? [])
  const otherNames = new Set(returned.groups?.names ?? [])
  if (names.size === 0)
    return otherNames.size === 0 ? NOTHING : compared('gained', 'gained', { totalCount: total })
  if (otherNames.size === 0) return compared('lost', 'lost', { totalCount: total })
  if (match.matchedFaceCount === 0) return compared('incomparable', 'not-matched', { totalCount: total })
  const { changed, without, places } = compareByFace(match, groupTextOf(master), groupTextOf(returned))
  if (changed === 0)
    return without ? sameWhereMatched(without, total) : compared('same', 'same', { totalCount: total })
  return compared('changed', 'groups-changed', {
    changedCount: changed,
    totalCount: total,
    parameters: {
      changed,
      total,
      names: [
        namesText([...otherNames].filter((name) => !names.has(name)).length, 'new'),
        namesText([...names].filter((name) => !otherNames.has(name)).length, 'gone'),
      ].join(''),
    },
    places,
  })
}
