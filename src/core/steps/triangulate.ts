import { findBentPolygons } from '../checks/bent-polygons.ts'
import { faceCorners, replaceFaces, type NewFace } from '../edit/edit-faces.ts'
import { triangulateFace } from '../view/prepare-mesh.ts'
import type { MeshFacts } from '../scene/mesh-facts.ts'
import type { Mesh } from '../scene/mesh.ts'
import { changeMeshes, chosenFaces, type StepDescriptor } from './step.ts'

/**
 * Triangles of a face as corners of the mesh, the one with the face's first corner first, beginning with it,
 * so that putting them together again gives the polygon as it was.
 */
export function cutFace(facts: MeshFacts, face: number, shortest: boolean, into: number[]): number[][] {
  const { mesh } = facts
  const start = mesh.faceOffsets[face]!
  into.length = 0
  if (shortest && mesh.faceOffsets[face + 1]! - start === 4) {
    const points = facts.points()
    const distance = (a: number, b: number): number => {
      const p = 3 * mesh.faceVertices[start + a]!
      const q = 3 * mesh.faceVertices[start + b]!
      return (
        (points[p]! - points[q]!) ** 2 +
        (points[p + 1]! - points[q + 1]!) ** 2 +
        (points[p + 2]! - points[q + 2]!) ** 2
      )
    }
    triangulateFace(mesh, face, facts.faceNormals(), into)
    const forced = into[1] === 2
    // a concave quad has one diagonal only; among two the shorter is taken, the first where they are equal
    const other = [0, 1, 3, 1, 2, 3]
    if (!forced && distance(1, 3) < distance(0, 2) && sound(facts, face, other)) into.splice(0, 6, ...other)
  } else triangulateFace(mesh, face, facts.faceNormals(), into)
  const triangles: number[][] = []
  for (let at = 0; at < into.length; at += 3) triangles.push([into[at]!, into[at + 1]!, into[at + 2]!])
  const first = triangles.findIndex((triangle) => triangle.includes(0))
  const [head] = triangles.splice(first, 1)
  while (head![0] !== 0) head!.push(head!.shift()!)
  return [head!, ...triangles].map((triangle) => triangle.map((corner) => start + corner))
}

/** True where both halves of a cut face the way the polygon does. */
function sound(facts: MeshFacts, face: number, cut: readonly number[]): boolean {
  const { mesh } = facts
  const points = facts.points()
  const normals = facts.faceNormals()
  const start = mesh.faceOffsets[face]!
  for (let at = 0; at < cut.length; at += 3) {
    const [p, q, r] = [0, 1, 2].map((k) => 3 * mesh.faceVertices[start + cut[at + k]!]!) as [
      number,
      number,
      number,
    ]
    const [ux, uy, uz] = [0, 1, 2].map((k) => points[q + k]! - points[p + k]!) as [number, number, number]
    const [vx, vy, vz] = [0, 1, 2].map((k) => points[r + k]! - points[p + k]!) as [number, number, number]
    const dot =
      (uy * vz - uz * vy) * normals[3 * face]! +
      (uz * vx - ux * vz) * normals[3 * face + 1]! +
      (ux * vy - uy * vx) * normals[3 * face + 2]!
    if (!(dot > 0)) return false
  }
  return true
}

function wantedFaces(facts: MeshFacts, which: string, bend: number, chosen: Uint8Array | null): number[] {
  const { mesh } = facts
  const size = (face: number): number => mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]!
  const all = Array.from({ length: facts.faceCount }, (_value, face) => face).filter(
    (face) => size(face) > 3 && (!chosen || chosen[face]),
  )
  if (which === 'all') return all
  if (which === 'ngons') return all.filter((face) => size(face) > 4)
  const { concave, bent } = findBentPolygons(facts, (bend * Math.PI) / 180)
  const found = new Set(which === 'concave' ? concave : bent)
  return all.filter((face) => found.has(face))
}

export const triangulate: StepDescriptor = {
  id: 'triangulate',
  area: 'polygons',
  title: 'Cut into triangles',
  description:
    'Cuts polygons into triangles, quads along a fixed or the shorter diagonal. What was cut is remembered and can be put together again.',
  changes: ['topology'],
  parameters: [
    {
      name: 'which',
      title: 'Which',
      type: 'choice',
      unit: null,
      default: 'all',
      choices: ['all', 'ngons', 'concave', 'bent'],
    },
    {
      name: 'diagonal',
      title: 'Diagonal',
      type: 'choice',
      unit: null,
      default: 'shortest',
      choices: ['fixed', 'shortest'],
    },
    { name: 'bend', title: 'Bent beyond', type: 'number', unit: 'degrees', default: 20, min: 0, max: 180 },
  ],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts, node) => {
      const wanted = wantedFaces(
        facts,
        context.text('which'),
        context.number('bend'),
        chosenFaces(context, node, mesh),
      )
      if (wanted.length === 0) return null
      const cut = cutPolygons(facts, wanted, context.text('diagonal') === 'shortest')
      return { mesh: cut, changedCount: wanted.length, element: 'faces', elements: wanted }
    }),
}

/** The mesh with some faces cut, and `cutFrom` telling which pieces belong together. */
export function cutPolygons(facts: MeshFacts, wanted: readonly number[], shortest: boolean): Mesh {
  const { mesh } = facts
  const flags = new Uint8Array(facts.faceCount)
  for (const face of wanted) flags[face] = 1
  const faces: NewFace[] = []
  const cutFrom: number[] = []
  const scratch: number[] = []
  let nextNumber = 0
  for (const number of mesh.cutFrom ?? []) nextNumber = Math.max(nextNumber, number + 1)
  for (let face = 0; face < facts.faceCount; face++) {
    if (flags[face]) {
      for (const corners of cutFace(facts, face, shortest, scratch)) {
        faces.push({ corners, from: face })
        cutFrom.push(nextNumber)
      }
      nextNumber++
      continue
    }
    faces.push({ corners: faceCorners(mesh, face), from: face })
    // every face has a number; one that stands alone is a polygon of its own
    const before = mesh.cutFrom?.[face]
    if (before === undefined) cutFrom.push(nextNumber++)
    else cutFrom.push(before)
  }
  return { ...replaceFaces(mesh, faces), cutFrom: Uint32Array.from(cutFrom) }
}
