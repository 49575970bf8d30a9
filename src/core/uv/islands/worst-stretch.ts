import { createMeshFacts, type MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { EMPTY_MESH, type Mesh } from '../../scene/mesh.ts'
import { measureStretch } from '../uv-measures.ts'
import type { LaidIsland } from './laid-island.ts'

/** The most that a polygon is larger, smaller or longer one way than even, as the Bench measures it. */
export function worstStretch(facts: MeshFacts, { net, flat }: LaidIsland): number {
  const { faceOffsets, faceVertices } = facts.mesh
  const corners = Array.from({ length: net.faces.length }, (_, at) =>
    faceVertices.subarray(faceOffsets[net.faces[at]!], faceOffsets[net.faces[at]! + 1]),
  )
  const mesh: Mesh = {
    ...EMPTY_MESH,
    points: facts.points(),
    faceOffsets: net.faceStarts,
    faceVertices: Uint32Array.from(corners.flatMap((own) => Array.from(own))),
  }
  const set = { name: '', values: flat, indices: Int32Array.from(net.vertices), depths: null }
  const { area, angle } = measureStretch(createMeshFacts(mesh), set)
  let most = 1
  for (const values of [area, angle])
    for (const value of values) if (!Number.isNaN(value)) most = Math.max(most, value < 1 ? 1 / value : value)
  return most
}
