import { findDuplicateFaces } from '../../mesh/faults/find-duplicate-faces.ts'
import { eachElement, type CheckDescriptor } from '../check.ts'

export const duplicateFaces: CheckDescriptor = {
  id: 'duplicate-faces',
  area: 'mesh',
  scope: 'part',
  title: 'Doubled polygons',
  why: 'Two polygons over the same points flicker against each other and double the weight of the part.',
  reads: ['faceVertices', 'faceOffsets'],
  problems: {
    doubled: {
      severity: 'error',
      text: '{count} [polygon|polygons] [lies|lie] over the same points as another one.',
    },
  },
  run({ facts }, report) {
    const found = findDuplicateFaces(facts)
    if (found.length)
      report({
        problem: 'doubled',
        count: found.length,
        places: eachElement('faces', found),
        fix: { step: 'remove-doubles', params: {} },
      })
  },
}
