/** From one picked polygon to all that belong with it. */
import { createMeshFacts, type MeshFacts } from '../mesh/relations/mesh-facts.ts'
import { faceCountOf, type Mesh } from '../scene/mesh.ts'
import { findIslands } from '../uv/find-islands.ts'

export const GROW_KINDS = ['part', 'piece', 'island', 'group', 'material', 'polygon'] as const
export type GrowKind = (typeof GROW_KINDS)[number]

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
          : kind === 'material'
            ? mesh.faceMaterials
            : null
  const found: number[] = []
  for (let other = 0; other < faceCountOf(mesh); other++)
    if (!keys || keys[other] === keys[face]) found.push(other)
  return Uint32Array.from(found)
}
