import { pairTriangles } from '../../mesh/cutting/pair-triangles.ts'
import { findSeams } from '../../uv/uv-measures.ts'
import { changeMeshes, chosenFaces, type StepDescriptor } from '../step.ts'

export const pairTrianglesStep: StepDescriptor = {
  id: 'pair-triangles',
  area: 'polygons',
  title: 'Pair triangles to quads',
  description:
    'Joins neighbouring triangles to quads, the squarest first; never over a seam, a hard or creased edge, or where material or groups change.',
  changes: ['topology'],
  parameters: [
    { id: 'bend', title: 'Bent at most', kind: 'number', unit: 'degrees', default: 40, min: 0, max: 180 },
    {
      id: 'skew',
      title: 'Corners off square at most',
      kind: 'number',
      unit: 'degrees',
      default: 45,
      min: 0,
      max: 90,
    },
  ],
  run: (context) =>
    changeMeshes(context, 'triangles', (mesh, facts, node) => {
      const paired = pairTriangles(facts, {
        chosen: chosenFaces(context, node, mesh),
        borders: mesh.uvSets.map((set) => findSeams(facts, set)),
        mostBend: (context.number('bend') * Math.PI) / 180,
        mostSkew: (context.number('skew') * Math.PI) / 180,
      })
      return (
        paired && {
          mesh: paired.mesh,
          changedCount: paired.joined.length,
          element: 'faces',
          elements: paired.joined,
        }
      )
    }),
}
