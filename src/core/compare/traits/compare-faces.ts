/** Materials, surfaces and groups: what faces are assigned to. */
import type { Correspondence } from '../match/correspondence.ts'
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { sharedSurface } from '../../surfaces/wording.ts'
import { surfaceText, usedMaterials } from './fingerprint.ts'
import { compared, NOTHING, type Places, type TraitComparison } from './trait.ts'

/** Compares a text a face; null for a face that has none. */
function compareByFace(
  match: Correspondence,
  textOf: (face: number) => string | null,
  otherTextOf: (face: number) => string | null,
): { changed: number; places: Places } {
  const changed: number[] = []
  const changedReturned: number[] = []
  for (let face = 0; face < match.faceToReturned.length; face++) {
    const other = match.faceToReturned[face]!
    if (other >= 0 && textOf(face) === otherTextOf(other)) continue
    changed.push(face)
    if (other >= 0) changedReturned.push(other)
  }
  return {
    changed: changed.length,
    places: {
      element: 'faces',
      master: Uint32Array.from(changed),
      returned: Uint32Array.from(changedReturned),
    },
  }
}

const materialNameOf =
  (scene: Scene, mesh: Mesh) =>
  (face: number): string | null => {
    const material = mesh.faceMaterials?.[face] ?? -1
    return material < 0 ? null : scene.materials[material]!.name
  }

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
  const { changed, places } = compareByFace(
    match,
    materialNameOf(masterScene, master),
    materialNameOf(returnedScene, returned),
  )
  if (changed === 0) return compared('same', 'same', { totalCount: total })
  return compared('changed', 'materials-changed', {
    changedCount: changed,
    totalCount: total,
    parameters: { changed, total },
    places,
  })
}

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

const groupTextOf =
  (mesh: Mesh) =>
  (face: number): string | null => {
    const set = mesh.groups?.faceSets[face] ?? -1
    return set < 0
      ? null
      : mesh
          .groups!.sets[set]!.map((name) => mesh.groups!.names[name]!)
          .sort()
          .join(' ')
  }

export function compareGroups(master: Mesh, returned: Mesh, match: Correspondence): TraitComparison {
  const total = faceCountOf(master)
  const names = new Set(master.groups?.names ?? [])
  const otherNames = new Set(returned.groups?.names ?? [])
  if (names.size === 0)
    return otherNames.size === 0 ? NOTHING : compared('gained', 'gained', { totalCount: total })
  if (otherNames.size === 0) return compared('lost', 'lost', { totalCount: total })
  if (match.matchedFaceCount === 0) return compared('incomparable', 'not-matched', { totalCount: total })
  const { changed, places } = compareByFace(match, groupTextOf(master), groupTextOf(returned))
  if (changed === 0) return compared('same', 'same', { totalCount: total })
  return compared('changed', 'groups-changed', {
    changedCount: changed,
    totalCount: total,
    parameters: {
      changed,
      total,
      added: [...otherNames].filter((name) => !names.has(name)).length,
      lost: [...names].filter((name) => !otherNames.has(name)).length,
    },
    places,
  })
}
