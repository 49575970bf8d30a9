import { counted } from '../../base/messages/render.ts'
import { createUnion } from '../../mesh/relations/adjacency.ts'
import { hardByAngle } from '../../mesh/normals/compute-normals.ts'
import { groupFaces } from '../../mesh/relations/group-faces.ts'
import { findIslands } from '../../uv/find-islands.ts'
import { changeMeshes, type StepDescriptor, wordChoices } from '../step.ts'

export const makeFaceGroups: StepDescriptor = {
  id: 'make-face-groups',
  area: 'polygons',
  title: 'Make face groups',
  description:
    'One group for each UV island, material, connected piece, or area between bends. Old groups go.',
  changes: ['groups'],
  parameters: [
    {
      id: 'from',
      title: 'From',
      kind: 'choice',
      default: 'islands',
      choices: wordChoices('islands', 'materials', 'pieces', 'angle'),
    },
    { id: 'angle', title: 'Bends beyond', kind: 'number', unit: 'degrees', default: 40, min: 0, max: 180 },
  ],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts) => {
      if (facts.faceCount === 0) return null
      const from = context.text('from')
      let keys: ArrayLike<number>
      let nameOf = (_key: number, order: number): string =>
        `${from === 'islands' ? 'island' : 'piece'}_${order + 1}`
      if (from === 'islands') {
        if (!mesh.uvSets[0])
          return { mesh, changedCount: 0, notes: [`“${mesh.name}” has no UVs, so it has no islands.`] }
        keys = findIslands(mesh, mesh.uvSets[0]).faceIslands
      } else if (from === 'materials') {
        if (!mesh.faceMaterials) return { mesh, changedCount: 0, notes: [`“${mesh.name}” has no materials.`] }
        keys = mesh.faceMaterials
        nameOf = (key) => context.scene.materials[key]!.name
      } else if (from === 'pieces') keys = facts.pieces().facePieces
      else {
        const edges = facts.edges()
        const bend = (context.number('angle') * Math.PI) / 180
        const hard = hardByAngle(edges, facts.cornerFaces(), facts.faceNormals(), bend)
        const union = createUnion(facts.faceCount)
        const cornerFaces = facts.cornerFaces()
        for (let edge = 0; edge < edges.edgeCount; edge++)
          if (edges.edgeSides[edge] === 2 && !hard[edge])
            union.join(
              cornerFaces[edges.edgeCorners[2 * edge]!]!,
              cornerFaces[edges.edgeCorners[2 * edge + 1]!]!,
            )
        keys = Array.from({ length: facts.faceCount }, (_value, face) => union.rootOf(face))
        nameOf = (_key, order) => `area_${order + 1}`
      }
      const groups = groupFaces(keys, nameOf)
      return {
        mesh: { ...mesh, groups },
        changedCount: facts.faceCount,
        notes: [`“${mesh.name}” has ${counted(groups.names.length, 'group')} now.`],
      }
    }),
}
