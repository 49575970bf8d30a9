/** Parameters and maps of materials taken from what came back, for all parts that have them or for some. */
import type { MessageCollector } from '../base/messages/collector.ts'
import { freeName } from '../scene/edit-nodes.ts'
import { isBare, surfaceText } from '../scene/material-text.ts'
import type { Material } from '../scene/material.ts'
import type { Mesh } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'

export interface SurfacesTaken {
  readonly materials: readonly Material[]
  /** The mesh with the materials it has now; itself where none of its own was parted from another part's. */
  readonly withMaterials: (node: number, mesh: Mesh) => Mesh
  /** Files of maps that were taken along. */
  readonly files: ReadonlySet<string>
}

/**
 * A material that all its parts take is replaced where it stands. One that only some of its parts take becomes another
 * material for these, under a name that is free, so that the others keep theirs; that is told.
 *
 * @param takers the master's nodes that take surfaces, with the mesh each has now; materials by the result's numbers.
 * @param pairOf the returned material that stands for one of the master's; -1 for none.
 * @param others meshes of the nodes that don't.
 * @param messages gets `reconcile.own-material`.
 */
export function takeSurfaces(
  scene: Scene,
  materialsBefore: readonly Material[],
  returned: Scene,
  takers: ReadonlyMap<number, Mesh>,
  pairOf: (material: number) => number,
  others: readonly Mesh[],
  messages: MessageCollector,
): SurfacesTaken {
  const materials = [...materialsBefore]
  const usedBy = (meshes: Iterable<Mesh>): Set<number> => {
    const used = new Set<number>()
    for (const mesh of meshes) for (const material of mesh.faceMaterials ?? []) used.add(material)
    return used
  }
  const elsewhere = usedBy(others)
  const names = new Set(materials.map((material) => material.name.toLowerCase()))
  const files = new Set<string>()
  const partedTo = new Map<number, number>()
  for (const material of usedBy(takers.values())) {
    if (material < 0) continue
    const own = materials[material]!
    const found = returned.materials[pairOf(material)]
    // what describes nothing replaces no description; lines that were not understood replace only such lines
    if (!found || (isBare(found) && (!isBare(own) || found.kept.length === 0))) continue
    if (surfaceText(found) === surfaceText(own)) continue
    for (const map of found.maps) files.add(map.file)
    const taken: Material = { ...found, id: own.id, name: own.name }
    if (!elsewhere.has(material)) {
      materials[material] = taken
      continue
    }
    const to = freeName(own.name, names)
    partedTo.set(material, materials.push({ ...taken, id: '', name: to }) - 1)
    const parts = [...takers].flatMap(([node, mesh]) =>
      mesh.faceMaterials?.includes(material) ? [scene.nodes[node]!.name] : [],
    )
    messages.add('reconcile.own-material', {
      name: own.name,
      to,
      parts: `${parts
        .slice(0, 3)
        .map((name) => `“${name}”`)
        .join(', ')}${parts.length > 3 ? ` and ${parts.length - 3} more` : ''}`,
    })
  }
  return {
    materials,
    files,
    withMaterials(node, mesh) {
      if (!takers.has(node) || partedTo.size === 0 || !mesh.faceMaterials) return mesh
      if (!mesh.faceMaterials.some((material) => partedTo.has(material))) return mesh
      return {
        ...mesh,
        faceMaterials: mesh.faceMaterials.map((material) => partedTo.get(material) ?? material),
      }
    },
  }
}
