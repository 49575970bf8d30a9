import { polygonAspects } from '../../mesh/relations/polygon-shapes.ts'
import { countTooLong, MOST_PIECES, splitLong } from '../../mesh/cutting/split-long.ts'
import { changeMeshes, chosenFaces, refuseBeyond, type StepDescriptor } from '../step.ts'

/** Polygons of one part after cutting. */
const MOST_FACES = 2_000_000

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
      const tooLong = countTooLong(facts, limit, chosen)
      const aspects = polygonAspects(facts)
      const long: number[] = []
      let others = 0
      for (let face = 0; face < aspects.length; face++) {
        if (!(aspects[face]! > limit) || !Number.isFinite(aspects[face]) || (chosen && !chosen[face]))
          continue
        if (mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]! !== 4) others++
        else if (aspects[face]! <= limit * MOST_PIECES) long.push(face)
      }
      const notes: string[] = []
      if (others)
        notes.push(
          others === 1
            ? `One long polygon of “${mesh.name}” is no quad and stays.`
            : `${others} long polygons of “${mesh.name}” are no quads and stay.`,
        )
      if (tooLong)
        notes.push(
          `${tooLong === 1 ? 'One polygon' : `${tooLong} polygons`} of “${mesh.name}” would need more than ${MOST_PIECES} pieces and ${tooLong === 1 ? 'stays' : 'stay'}: a corner is astray there, or the polygon has hardly any width.`,
        )
      const split = long.length
        ? splitLong(facts, limit, chosen, (faces) => refuseBeyond(mesh.name, faces, MOST_FACES))
        : null
      // those whose ring isn't cut, since that would make others long
      const left = split ? long.filter((face) => !split.cut.has(face)) : long
      if (left.length)
        notes.push(
          `${left.length === 1 ? 'One long quad' : `${left.length} long quads`} of “${mesh.name}” ${left.length === 1 ? 'stays' : 'stay'}: cutting the rings they stand in would make others long.`,
        )
      const done = long.filter((face) => split?.cut.has(face))
      return split
        ? { mesh: split.mesh, changedCount: done.length, element: 'faces', elements: done, notes }
        : { mesh, changedCount: 0, notes }
    }),
}
