import { findBentPolygons } from '../../mesh/faults/find-bent-polygons.ts'
import { eachElement, type CheckDescriptor } from '../check.ts'

export const bentPolygons: CheckDescriptor = {
  id: 'bent-polygons',
  area: 'mesh',
  scope: 'part',
  title: 'Concave and bent polygons',
  why: 'Every tool cuts such a polygon into triangles its own way, so it looks different after every hop.',
  reads: ['points', 'faceVertices', 'faceOffsets'],
  problems: {
    concave: { severity: 'warning', text: '{count} [polygon|polygons] [is|are] concave.' },
    bent: { severity: 'info', text: '{count} [polygon|polygons] [is|are] bent by more than {limit}°.' },
  },
  run({ facts, settings }, report) {
    const { concave, bent } = findBentPolygons(facts, (settings.bendLimit * Math.PI) / 180)
    if (concave.length)
      report({
        problem: 'concave',
        count: concave.length,
        places: eachElement('faces', concave),
        fix: { step: 'triangulate', params: { which: 'concave' } },
      })
    if (bent.length)
      report({
        problem: 'bent',
        count: bent.length,
        parameters: { limit: settings.bendLimit },
        places: eachElement('faces', bent),
        fix: { step: 'triangulate', params: { which: 'bent', bend: settings.bendLimit } },
      })
  },
}
