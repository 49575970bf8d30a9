import { findTwoEdgePoints } from '../../mesh/faults/find-two-edge-points.ts'
import { dissolvablePoints } from '../../mesh/rebuilding/dissolve-points.ts'
import { eachElement, type CheckDescriptor } from '../check.ts'

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
        // of a triangle no corner can be spared
        ...(dissolvablePoints(facts).length ? { fix: { step: 'dissolve-two-edge-points', params: {} } } : {}),
      })
  },
}
