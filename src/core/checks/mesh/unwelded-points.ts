import { countWelds, findWelds, weldGroups } from '../../mesh/welds/find-welds.ts'
import { refineWelds } from '../../mesh/welds/refine-welds.ts'
import { groupedElements, weldDistanceOf, type CheckDescriptor } from '../check.ts'

export const unweldedPoints: CheckDescriptor = {
  id: 'unwelded-points',
  area: 'mesh',
  scope: 'part',
  title: 'Unwelded points',
  why: 'Points on one spot that are not one point split the surface: it tears when sculpted and shades in facets.',
  reads: ['points', 'faceVertices', 'faceOffsets'],
  problems: {
    coincident: {
      severity: 'warning',
      text: '{count} [point|points] [lies|lie] within {distance} of another one, at {spots} [spot|spots|spots].',
    },
  },
  run(context, report) {
    const distance = weldDistanceOf(context)
    const near = findWelds(context.facts.points(), distance)
    if (countWelds(near) === 0) return
    // surfaces that only touch are no tear
    const target = refineWelds(context.facts, near)
    const count = countWelds(target)
    if (count === 0) return
    const groups = weldGroups(target)
    report({
      problem: 'coincident',
      count,
      parameters: { distance: Number(distance.toPrecision(2)), spots: groups.length },
      places: groupedElements('points', groups),
      fix: { step: 'weld-by-distance', params: { distance } },
    })
  },
}
