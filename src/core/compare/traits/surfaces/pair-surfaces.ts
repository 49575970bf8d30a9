import type { Mesh } from '../../../scene/mesh.ts'
import type { Scene } from '../../../scene/scene.ts'
import type { Correspondence } from '../../match/correspondence.ts'
import { usedMaterials } from '../materials/used-materials.ts'

/**
 * Which material of what came back stands for each one that a part of the master uses: the one of its name; else, where
 * a tool renamed it, the one that most of its polygons have now and that no material of the master is called by.
 *
 * @returns by the master's material number; -1 where there is none.
 */
export function pairSurfaces(
  masterScene: Scene,
  master: Mesh,
  returnedScene: Scene,
  returned: Mesh,
  { faceToReturned }: Pick<Correspondence, 'faceToReturned'>,
): Map<number, number> {
  const byName = new Map(returnedScene.materials.map(({ name }, index) => [name, index]))
  const known = new Set(masterScene.materials.map(({ name }) => name))
  const pairs = new Map<number, number>()
  for (const material of usedMaterials(master)) {
    const named = byName.get(masterScene.materials[material]!.name)
    if (named !== undefined) {
      pairs.set(material, named)
      continue
    }
    const votes = new Map<number, number>()
    master.faceMaterials!.forEach((own, face) => {
      if (own !== material) return
      const other = returned.faceMaterials?.[faceToReturned[face] ?? -1] ?? -1
      if (other >= 0 && !known.has(returnedScene.materials[other]!.name))
        votes.set(other, (votes.get(other) ?? 0) + 1)
    })
    const [best] = [...votes].sort((a, b) => b[1] - a[1] || a[0] - b[0])
    pairs.set(material, best ? best[0] : -1)
  }
  return pairs
}
