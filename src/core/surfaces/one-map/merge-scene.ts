/** The model with one material and one UV set where both were drawn. */
import { dropStaleLayers } from '../../mesh/rebuilding/stale-layers.ts'
import { completeIds } from '../../scene/ids.ts'
import type { Material } from '../../scene/material.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { setOf, type DrawnSurface } from './drawn-surface.ts'

/**
 * @returns the scene, in which material 0 is the new one, and which of the old ones each other place holds. A part that
 * is drawn whole keeps the drawn UV set alone; one with polygons left out keeps all as they were, since maps of these
 * that name no set lie on the first. `isFirst`: the drawn set is the first of every part that was drawn.
 */
export function mergeScene(
  scene: Scene,
  surface: DrawnSurface,
  name: string,
): { scene: Scene; kept: readonly number[]; isFirst: boolean } {
  const stay = new Set<number>()
  scene.meshes.forEach((mesh, index) => {
    const drawn = surface.drawnFaces[index]
    mesh.faceMaterials?.forEach((material, face) => {
      if (material >= 0 && !drawn?.[face]) stay.add(material)
    })
  })
  const kept = [...stay].sort((a, b) => a - b)
  const placeOf = new Map(kept.map((material, at) => [material, at + 1]))
  const one: Material = { id: '', name, model: '', properties: [], maps: [], kept: [] }
  let isFirstOfAll = true
  const meshes = scene.meshes.map((mesh, index): Mesh => {
    const drawn = surface.drawnFaces[index]
    if (!drawn && !mesh.faceMaterials) return mesh
    const faceCount = mesh.faceOffsets.length - 1
    const faceMaterials = new Int32Array(faceCount).fill(-1)
    for (let face = 0; face < faceCount; face++)
      faceMaterials[face] = drawn?.[face] ? 0 : (placeOf.get(mesh.faceMaterials?.[face] ?? -1) ?? -1)
    if (!drawn) return { ...mesh, faceMaterials }
    const set = setOf(mesh, surface.set)!
    const isFirst = mesh.uvSets[0] === set
    if (!drawn.every((one) => one === 1)) {
      if (!isFirst) isFirstOfAll = false
      return { ...mesh, faceMaterials }
    }
    return {
      ...mesh,
      faceMaterials,
      uvSets: [set],
      // numbers of the first set's UVs mean others now
      lines: mesh.lines && !isFirst ? { ...mesh.lines, uvs: mesh.lines.uvs.map(() => -1) } : mesh.lines,
    }
  })
  const materials = [one, ...kept.map((material) => scene.materials[material]!)]
  const named = new Set(materials.flatMap((material) => material.maps.map(({ file }) => file)))
  return {
    // tangents of a set that went say nothing of the one that stays
    scene: dropStaleLayers(
      scene,
      completeIds({
        ...scene,
        materials,
        meshes,
        images: scene.images.filter(({ file }) => named.has(file)),
      }),
    ),
    kept,
    isFirst: isFirstOfAll,
  }
}
