import { renderText } from '../../base/messages/render.ts'
import { groupsFromHardEdges } from '../../mesh/smoothing/smoothing-groups.ts'
import { hardByAngle } from '../../mesh/normals/compute-normals.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { Smoothing } from '../../scene/mesh.ts'
import { changeMeshes, type StepDescriptor, wordChoices } from '../step.ts'

export const setShading: StepDescriptor = {
  id: 'set-shading',
  area: 'shading',
  title: 'Shade flat, smooth or by angle',
  description:
    'Sets which edges are hard, in the form the part stores smoothing in; authored normals give way to it.',
  changes: ['smoothing', 'normals'],
  parameters: [
    {
      id: 'mode',
      title: 'Shading',
      kind: 'choice',
      default: 'angle',
      choices: wordChoices('flat', 'smooth', 'angle'),
    },
    { id: 'angle', title: 'Hard beyond', kind: 'number', unit: 'degrees', default: 40, min: 0, max: 180 },
  ],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts) => {
      if (facts.faceCount === 0) return null
      const mode = context.text('mode')
      const edges = facts.edges()
      const hard =
        mode === 'angle'
          ? hardByAngle(
              edges,
              facts.cornerFaces(),
              facts.faceNormals(),
              (context.number('angle') * Math.PI) / 180,
            )
          : new Uint8Array(edges.edgeCount).fill(mode === 'flat' ? 1 : 0)
      const pairs: number[] = []
      for (let edge = 0; edge < edges.edgeCount; edge++)
        if (hard[edge] && edges.edgeSides[edge] === 2)
          pairs.push(edges.edgePoints[2 * edge]!, edges.edgePoints[2 * edge + 1]!)
      const asEdges: Smoothing = { kind: 'edges', hardEdgePoints: Uint32Array.from(pairs) }
      let smoothing: Smoothing = asEdges
      const notes: string[] = []
      if (mesh.smoothing?.kind !== 'edges') {
        if (mode === 'flat') smoothing = { kind: 'groups', faceGroups: new Int32Array(facts.faceCount) }
        else {
          const { faceGroups, inexpressible } = groupsFromHardEdges(
            createMeshFacts({ ...mesh, smoothing: asEdges }),
          )
          smoothing = { kind: 'groups', faceGroups }
          if (inexpressible.length)
            notes.push(
              renderText(
                '[One hard edge|{count} hard edges] of “{name}” [ends|end] inside a soft area; groups can’t express [it|them].',
                { count: inexpressible.length, name: mesh.name },
              ),
            )
        }
      }
      return { mesh: { ...mesh, smoothing, normals: null }, changedCount: facts.faceCount, notes }
    }),
}
