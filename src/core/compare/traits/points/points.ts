import { type PartTraitDescriptor } from '../trait.ts'
import { carryPoints } from './carry-points.ts'
import { comparePoints } from './compare-points.ts'

/** Positions, in the part's own space. */
export const points: PartTraitDescriptor = {
  id: 'points',
  title: 'points',
  scope: 'part',
  ofThePart: false,
  notes: {
    'points-moved': {
      ledger: '{changed} of {total} points moved, the farthest by {deviation}{unit}.',
    },
    'points-nowhere': {
      ledger:
        '{changed} of {total} points moved[?deviation|, the farthest by {deviation}{unit}]; {nowhere} of them [has|have|nowhere] a coordinate that is no number[?without|; {without} [has|have|without] no counterpart].',
    },
    'points-surface': {
      ledger:
        'Its polygons are others[?known|: {known} of {total} [is|are|known] known again]. Measured at the points of both, its surface lies off the master’s by {deviation}{unit} at most, by {mean}{unit} on the average.',
      forecast:
        'The polygons in the file are others. Measured at the points of both, their surface lies off the version’s by {deviation}{unit} at most, by {mean}{unit} on the average.',
    },
    'point-weights': {
      ledger: 'No point moved; {changed} of {total} [has|have|changed] another rational weight.',
      forecast:
        'The points are carried; {changed} of {total} [has|have|changed] another rational weight in the file.',
    },
    'points-partly': {
      ledger:
        '{changed} of {total} points moved, the farthest by {deviation}{unit}; {without} [has|have|without] no counterpart.',
    },
  },
  fingerprint({ mesh }, hash) {
    hash.numbers(mesh.points)
    if (mesh.pointWeights) hash.numbers(mesh.pointWeights)
  },
  compare: ({ master, returned, correspondence, masterScene, ...numbers }) =>
    comparePoints(master, returned, correspondence, masterScene.space.unitMeters, numbers),
  carry: {
    kind: 'elements',
    carry: (target, source, { map, pointTolerance }) => carryPoints(target, source, map, pointTolerance),
  },
}
