import { polygonAspects } from '../../mesh/relations/polygon-shapes.ts'
import { splitLong } from '../../mesh/cutting/split-long.ts'
import { changeMeshes, chosenFaces, type StepDescriptor } from '../step.ts'

export const splitLongPolygons: StepDescriptor = {
  id: 'split-long-polygons',
  area: 'polygons',
  title: 'Split long polygons',
  description: 'Cuts long quads across, along the whole ring of quads they stand in.',
  changes: ['topology', 'points'],
  parameters: [
    {
      id: 'aspect',
      title: 'Longer than',
      kind: 'number',
      unit: 'times the width',
      default: 16,
      min: 1.5,
      max: 10000,
    },
  ],
  run: (context) =>
    changeMeshes(context, 'polygons', (mesh, facts, node) => {
      const limit = context.number('aspect')
      const chosen = chosenFaces(context, node, mesh)
      const aspects = polygonAspects(facts)
      const long: number[] = []
      let others = 0
      for (let face = 0; face < aspects.length; face++) {
        if (!(aspects[face]! > limit) || !Number.isFinite(aspects[face]) || (chosen && !chosen[face]))
          continue
        if (mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]! === 4) long.push(face)
        else others++
      }
      const notes = others ? [`${others} long polygons of “${mesh.name}” are no quads and stay.`] : []
      const split = long.length ? splitLong(facts, limit, chosen) : null
      return split
        ? { mesh: split, changedCount: long.length, element: 'faces', elements: long, notes }
        : { mesh, changedCount: 0, notes }
    }),
}
