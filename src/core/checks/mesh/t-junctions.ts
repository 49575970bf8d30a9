import { findTJunctions } from '../../mesh/faults/find-t-junctions.ts'
import { takeablePoints } from '../../mesh/rebuilding/take-in-points.ts'
import { weldDistanceOf, eachElement, type CheckDescriptor } from '../check.ts'

export const tJunctions: CheckDescriptor = {
  id: 't-junctions',
  area: 'mesh',
  scope: 'part',
  title: 'Points in the middle of an edge',
  why: 'A point that sits on a neighbour’s edge without being part of it opens a crack as soon as either moves.',
  reads: ['points', 'faceVertices', 'faceOffsets'],
  problems: {
    junction: {
      severity: 'warning',
      text: '{count} [point|points] [lies|lie] in the middle of an edge that [it does|they do] not belong to.',
    },
  },
  run(context, report) {
    const { facts } = context
    const found = findTJunctions(facts, weldDistanceOf(context))
    const points = new Set([...found.values()].flat().map(({ point }) => point))
    if (points.size)
      report({
        problem: 'junction',
        count: points.size,
        places: eachElement(
          'points',
          [...points].sort((x, y) => x - y),
        ),
        ...(takeablePoints(facts, found).size
          ? { fix: { step: 'take-in-points', params: { distance: weldDistanceOf(context) } } }
          : {}),
      })
  },
}
