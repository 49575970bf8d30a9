/** From one picked polygon to all that belong with it. */
import { createMeshFacts, type MeshFacts } from '../mesh/relations/mesh-facts.ts'
import { faceCountOf, type Mesh } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import { findIslands } from '../uv/find-islands.ts'

/** What a click may choose; `material-everywhere` goes over all parts, the others stay on the part that was clicked. */
export const GROW_KINDS = [
  'part',
  'piece',
  'island',
  'group',
  'material',
  'material-everywhere',
  'polygon',
] as const
export type GrowKind = (typeof GROW_KINDS)[number]

/** Polygons of one node's mesh, in rising order. */
export interface ChosenFaces {
  readonly node: number
  readonly faces: Uint32Array
}

/** Faces of the same connected piece, UV island, face groups or material as `face`, in rising order. */
export function growSelection(
  mesh: Mesh,
  face: number,
  kind: GrowKind,
  facts: MeshFacts = createMeshFacts(mesh),
): Uint32Array {
  if (kind === 'polygon' || face >= faceCountOf(mesh)) return Uint32Array.of(face)
  const keys =
    kind === 'piece'
      ? facts.pieces().facePieces
      : kind === 'island'
        ? mesh.uvSets[0]
          ? findIslands(mesh, mesh.uvSets[0]).faceIslands
          : null
        : kind === 'group'
          ? (mesh.groups?.faceSets ?? null)
          : kind === 'material' || kind === 'material-everywhere'
            ? mesh.faceMaterials
            : null
  const found: number[] = []
  for (let other = 0; other < faceCountOf(mesh); other++)
    if (!keys || keys[other] === keys[face]) found.push(other)
  return Uint32Array.from(found)
}

/**
 * The same over the parts of a scene: the clicked one first, the others by their nodes.
 * @param node the clicked part's. Other nodes that show its mesh are parts of their own.
 */
export function growOverScene(
  scene: Scene,
  node: number,
  face: number,
  kind: GrowKind,
  factsOf: (mesh: Mesh) => MeshFacts,
): ChosenFaces[] {
  const mesh = scene.meshes[scene.nodes[node]!.mesh]!
  const own = { node, faces: growSelection(mesh, face, kind, factsOf(mesh)) }
  const material = mesh.faceMaterials?.[face] ?? -1
  if (kind !== 'material-everywhere') return [own]
  const others = scene.nodes.flatMap(({ mesh: index }, other) => {
    const another = scene.meshes[index]
    if (!another || other === node) return []
    const faces: number[] = []
    for (let at = 0; at < faceCountOf(another); at++)
      if ((another.faceMaterials?.[at] ?? -1) === material) faces.push(at)
    return faces.length ? [{ node: other, faces: Uint32Array.from(faces) }] : []
  })
  return [own, ...others]
}
