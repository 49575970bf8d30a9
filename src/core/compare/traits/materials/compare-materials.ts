import type { Correspondence } from '../../match/correspondence.ts'
import { faceCountOf, type Mesh } from '../../../scene/mesh.ts'
import type { Scene } from '../../../scene/scene.ts'
import { usedMaterials } from './used-materials.ts'
import { compared, NOTHING, sameWhereMatched, type TraitComparison } from '../trait.ts'
import { compareByFace } from '../compare-by-face.ts'

/** The name of a face’s material; null for none. */
export const materialNameOf =
  (scene: Scene, mesh: Mesh) =>
  (face: number): string | null => {
    const material = mesh.faceMaterials?.[face] ?? -1
    return material < 0 ? null : scene.materials[material]!.name
  }

/** Which material each polygon is made of, by name; new names for the same polygons are told as such. */
export function compareMaterials(
  masterScene: Scene,
  master: Mesh,
  returnedScene: Scene,
  returned: Mesh,
  match: Correspondence,
): TraitComparison {
  const total = faceCountOf(master)
  const used = usedMaterials(master).length
  const usedReturned = usedMaterials(returned).length
  if (used === 0) return usedReturned === 0 ? NOTHING : compared('gained', 'gained', { totalCount: total })
  if (usedReturned === 0) return compared('lost', 'lost', { totalCount: total })
  if (match.matchedFaceCount === 0) return compared('incomparable', 'not-matched', { totalCount: total })
  const { changed, without, places } = compareByFace(
    match,
    materialNameOf(masterScene, master),
    materialNameOf(returnedScene, returned),
  )
  if (changed === 0)
    return without ? sameWhereMatched(without, total) : compared('same', 'same', { totalCount: total })
  // of what has no counterpart nothing is known
  const whole = without ? null : wholeChange(masterScene, master, returnedScene, returned, match)
  return compared('changed', whole?.note ?? 'materials-changed', {
    changedCount: changed,
    totalCount: total,
    parameters: whole?.parameters ?? { changed, total },
    places,
  })
}

/** Names that a sentence lists. */
const LISTED = 3

/**
 * What a tool did to the materials themselves, where that is all: others names for the same polygons, several that
 * became one, one that became several. Null where polygons have another material of the master's.
 */
function wholeChange(
  masterScene: Scene,
  master: Mesh,
  returnedScene: Scene,
  returned: Mesh,
  match: Correspondence,
): { note: string; parameters: Record<string, string | number> } | null {
  const nameOf = materialNameOf(masterScene, master)
  const otherNameOf = materialNameOf(returnedScene, returned)
  const became = new Map<string, Set<string>>()
  const came = new Map<string, Set<string>>()
  const add = (to: Map<string, Set<string>>, key: string, value: string): void =>
    void to.set(key, (to.get(key) ?? new Set()).add(value))
  const see = (face: number, other: number): boolean => {
    const [own, now] = [nameOf(face), otherNameOf(other)]
    if (own === null || now === null) return own === now
    add(became, own, now)
    add(came, now, own)
    return true
  }
  for (let face = 0; face < match.faceToReturned.length; face++) {
    const other = match.faceToReturned[face]!
    if (other >= 0 && !see(face, other)) return null
  }
  for (const [piece, face] of (match.pieceToMaster ?? []).entries())
    if (face >= 0 && !see(face, piece)) return null
  const known = new Set(masterScene.materials.map(({ name }) => name))
  const quoted = (names: Iterable<string>): string => {
    const all = [...names]
    const more = all.length - LISTED
    return `“${all.slice(0, LISTED).join('”, “')}”${more > 0 ? ` and ${more} more` : ''}`
  }
  const merged = [...came].filter(([, owns]) => owns.size > 1)
  const split = [...became].filter(([, nows]) => nows.size > 1)
  const others = [...became].filter(([own, nows]) => !nows.has(own))
  // a name that another material of the master has: polygons changed hands
  if (
    others.some(([, nows]) =>
      [...nows].some((now) => known.has(now) && !(merged.length && came.get(now)!.has(now))),
    )
  )
    return null
  if (merged.length && split.length) return null
  if (merged.length) {
    const [as, owns] = merged[0]!
    // others that were renamed besides are more than one sentence
    return merged.length === 1 && others.every(([own]) => owns.has(own))
      ? { note: 'materials-merged', parameters: { count: owns.size, as, names: quoted(owns) } }
      : null
  }
  if (split.length) {
    const [name, nows] = split[0]!
    return split.length === 1 && others.every(([own]) => own === name)
      ? { note: 'materials-split', parameters: { name, count: nows.size, as: quoted(nows) } }
      : null
  }
  return {
    note: 'materials-named-otherwise',
    parameters: { count: others.length, names: quoted(others.map(([own, [now]]) => `${own} → ${now}`)) },
  }
}
