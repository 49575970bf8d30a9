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
  return compared('changed', 'materials-changed', {
    changedCount: changed,
    totalCount: total,
    parameters: { changed, total },
    places,
  })
}
