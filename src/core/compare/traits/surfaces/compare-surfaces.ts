import { type Mesh } from '../../../scene/mesh.ts'
import type { Scene } from '../../../scene/scene.ts'
import { sharedSurface } from '../../../surfaces/wording.ts'
import { usedMaterials } from '../materials/used-materials.ts'
import { surfaceText } from '../../../scene/material-text.ts'
import { compared, NOTHING, type TraitComparison } from '../trait.ts'

/** Parameters and maps of the materials that a part uses, paired by name. */
export function compareSurfaces(masterScene: Scene, master: Mesh, returnedScene: Scene): TraitComparison {
  const materials = usedMaterials(master).map((index) => masterScene.materials[index]!)
  const described = materials.filter((material) => material.properties.length || material.maps.length)
  if (described.length === 0) return NOTHING
  const others = new Map(returnedScene.materials.map((material) => [material.name, material]))
  let changed = 0
  let bare = 0
  for (const material of described) {
    const other = others.get(material.name)
    if (!other || (other.properties.length === 0 && other.maps.length === 0)) bare++
    if (!other || surfaceText(other) !== surfaceText(material)) changed++
  }
  const total = described.length
  const reworded = described.map((material) => {
    const other = others.get(material.name)
    if (!other || other.model === material.model) return null
    const [a, b] = [sharedSurface(material), sharedSurface(other)]
    return a.text === b.text ? Math.max(0, a.own - b.own) : null
  })
  if (changed > 0 && reworded.every((own) => own !== null)) {
    const own = reworded.reduce((sum, more) => sum + more, 0)
    return compared(own ? 'changed' : 'within', own ? 'surfaces-partly' : 'surfaces-reworded', {
      changedCount: changed,
      totalCount: total,
      parameters: { own },
    })
  }
  if (changed === 0) return compared('same', 'same', { totalCount: total })
  if (bare === total) return compared('lost', 'lost', { changedCount: total, totalCount: total })
  return compared('changed', 'surfaces-changed', {
    changedCount: changed,
    totalCount: total,
    parameters: { changed, total },
  })
}
