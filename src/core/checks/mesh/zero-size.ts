import { findZeroSize } from '../../mesh/faults/find-zero-size.ts'
import { eachElement, type CheckDescriptor } from '../check.ts'

export const zeroSize: CheckDescriptor = {
  id: 'zero-size',
  area: 'mesh',
  scope: 'part',
  title: 'Polygons without area, edges without length',
  why: 'They have no direction: normals, tangents and baked maps come out black or broken there.',
  reads: ['points', 'faceVertices', 'faceOffsets'],
  problems: {
    faces: { severity: 'error', text: '{count} [polygon|polygons] [has|have] no area.' },
    edges: { severity: 'warning', text: '{count} [edge|edges] [has|have] no length.' },
  },
  run({ facts }, report) {
    const { faces, edges } = findZeroSize(facts)
    const fix = { step: 'remove-zero-size', params: {} }
    if (faces.length)
      report({ problem: 'faces', count: faces.length, places: eachElement('faces', faces), fix })
    if (edges.length)
      report({ problem: 'edges', count: edges.length / 2, places: eachElement('edges', edges), fix })
  },
}
