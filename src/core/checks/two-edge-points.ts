import { eachElement, type CheckDescriptor } from './check.ts'
import type { MeshFacts } from '../scene/mesh-facts.ts'

/**
 * Points with two edges only, between two polygons (or one, inside a border), that could go without the
 * outline changing by more than rounding, or that bend the shading.
 */
export function findTwoEdgePoints(facts: MeshFacts): number[] {
  const counts = facts.pointEdgeCounts()
  const { offsets } = facts.pointCorners()
  const found: number[] = []
  // at a border's corner two edges are as it should be; with two polygons at it, the point lies between them
  for (let point = 0; point < counts.length; point++)
    if (counts[point] === 2 && offsets[point + 1]! - offsets[point]! === 2) found.push(point)
  return found
}

export const twoEdgePoints: CheckDescriptor = {
  id: 'two-edge-points',
  area: 'mesh',
  scope: 'part',
  title: 'Points with only two edges',
  why: 'A point that two polygons share in the middle of one side folds the shading and makes subdividing lumpy.',
  reads: ['faceVertices', 'faceOffsets'],
  problems: { between: { severity: 'warning', text: '{count} [point|points] [has|have] only two edges.' } },
  run({ facts }, report) {
    const found = findTwoEdgePoints(facts)
    if (found.length)
      report({
        problem: 'between',
        count: found.length,
        places: eachElement('points', found),
        fix: { step: 'dissolve-two-edge-points', params: {} },
      })
  },
}
