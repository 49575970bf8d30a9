import { findBentPolygons } from '../../mesh/faults/find-bent-polygons.ts'
import { cutPolygons } from '../../mesh/cutting/cut-polygons.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { changeMeshes, chosenFaces, refuseBeyond, type StepDescriptor, wordChoices } from '../step.ts'

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
      id: 'which',
      title: 'Which',
      kind: 'choice',
      default: 'all',
      choices: wordChoices('all', 'ngons', 'concave', 'bent'),
    },
    {
      id: 'diagonal',
      title: 'Diagonal',
      kind: 'choice',
      default: 'shortest',
      choices: wordChoices('fixed', 'shortest'),
    },
    { id: 'bend', title: 'Bent beyond', kind: 'number', unit: 'degrees', default: 20, min: 0, max: 180 },
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
      refuseBeyond(
        mesh.name,
        wanted.reduce(
          (sum, face) => sum + mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]! - 3,
          facts.faceCount,
        ),
      )
      const cut = cutPolygons(facts, wanted, context.text('diagonal') === 'shortest')
      return { mesh: cut, changedCount: wanted.length, element: 'faces', elements: wanted }
    }),
}
