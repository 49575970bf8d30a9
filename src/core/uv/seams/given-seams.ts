/** Seams that are there already in what the model says: hard edges, creases, bends, borders of groups or materials, UVs. */
import { hardByAngle } from '../../mesh/normals/compute-normals.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { UvSet } from '../../scene/mesh.ts'
import { findSeams } from '../uv-measures.ts'

export type GivenSeams = 'hardEdges' | 'creases' | 'groups' | 'materials' | 'angle' | 'existing'

/** Sharpness from which a crease is one that is cut along. */
const LEAST_SHARPNESS = 0.5

/** @param angle radians; bends beyond it are seams. @returns edgeCount flags; edges with one face are none. */
export function givenSeams(facts: MeshFacts, from: GivenSeams, angle: number, set: UvSet | null): Uint8Array {
  const { mesh } = facts
  const edges = facts.edges()
  switch (from) {
    case 'hardEdges':
      return facts.hardEdges().slice()
    case 'creases':
      return creasedEdges(facts)
    case 'angle':
      return hardByAngle(edges, facts.cornerFaces(), facts.faceNormals(), angle)
    case 'groups':
      return between(facts, mesh.groups?.faceSets ?? null)
    case 'materials':
      return between(facts, mesh.faceMaterials)
    case 'existing':
      return set ? findSeams(facts, set) : new Uint8Array(edges.edgeCount)
  }
}

/** edgeCount flags of the edges between faces of different numbers. */
export function between(facts: MeshFacts, numbers: ArrayLike<number> | null): Uint8Array {
  const { edgeCount, edgeSides, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const seams = new Uint8Array(edgeCount)
  if (!numbers) return seams
  for (let edge = 0; edge < edgeCount; edge++)
    if (
      edgeSides[edge] === 2 &&
      numbers[cornerFaces[edgeCorners[2 * edge]!]!] !== numbers[cornerFaces[edgeCorners[2 * edge + 1]!]!]
    )
      seams[edge] = 1
  return seams
}

/** edgeCount flags of the edges whose points are listed two by two. */
export function edgesWithPoints(facts: MeshFacts, pairs: ArrayLike<number>): Uint8Array {
  const { edgeCount, edgePoints } = facts.edges()
  const wanted = new Set<number>()
  const key = (a: number, b: number): number => Math.min(a, b) * facts.pointCount + Math.max(a, b)
  for (let at = 0; at + 1 < pairs.length; at += 2) wanted.add(key(pairs[at]!, pairs[at + 1]!))
  return Uint8Array.from({ length: edgeCount }, (_, edge) =>
    wanted.has(key(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!)) ? 1 : 0,
  )
}

function creasedEdges(facts: MeshFacts): Uint8Array {
  const { creases } = facts.mesh
  if (!creases) return new Uint8Array(facts.edges().edgeCount)
  const pairs: number[] = []
  creases.edgeSharpness.forEach((sharpness, at) => {
    if (sharpness >= LEAST_SHARPNESS) pairs.push(creases.edgePoints[2 * at]!, creases.edgePoints[2 * at + 1]!)
  })
  return edgesWithPoints(facts, pairs)
}
