import { canSplitLong } from '../../mesh/cutting/split-long.ts'
import { neighborRatios, polygonAspects } from '../../mesh/relations/polygon-shapes.ts'
import { eachElement, type CheckDescriptor } from '../check.ts'

export const unevenPolygons: CheckDescriptor = {
  id: 'uneven-polygons',
  area: 'mesh',
  scope: 'part',
  title: 'Very long or uneven polygons',
  why: 'Long slivers and sudden changes of size subdivide unevenly, carve badly and stretch what is painted on them.',
  reads: ['points', 'faceVertices', 'faceOffsets'],
  problems: {
    long: {
      severity: 'info',
      text: '{count} [polygon|polygons] [is|are] more than {limit} times as long as [it is|they are] wide.',
    },
    uneven: {
      severity: 'info',
      text: '{count} [polygon|polygons] [is|are] more than {limit} times larger or smaller than those around [it|them].',
    },
  },
  run({ facts, settings }, report) {
    if (facts.faceCount === 0) return
    const aspects = polygonAspects(facts)
    const long: number[] = []
    for (let face = 0; face < aspects.length; face++)
      if (aspects[face]! > settings.aspectLimit && Number.isFinite(aspects[face])) long.push(face)
    if (long.length)
      report({
        problem: 'long',
        count: long.length,
        parameters: { limit: settings.aspectLimit },
        places: eachElement('faces', long),
        distribution: {
          title: 'Length by width',
          values: aspects.filter((aspect) => Number.isFinite(aspect)),
          of: 'polygons',
          limit: settings.aspectLimit,
        },
        ...(canSplitLong(facts, settings.aspectLimit)
          ? { fix: { step: 'split-long-polygons', params: { aspect: settings.aspectLimit } } }
          : {}),
      })
    const ratios = neighborRatios(facts)
    const uneven: number[] = []
    for (let face = 0; face < ratios.length; face++) {
      const ratio = ratios[face]!
      if (ratio > settings.areaRatioLimit || (ratio > 0 && ratio < 1 / settings.areaRatioLimit))
        uneven.push(face)
    }
    if (uneven.length)
      report({
        problem: 'uneven',
        count: uneven.length,
        parameters: { limit: settings.areaRatioLimit },
        places: eachElement('faces', uneven),
        distribution: {
          title: 'Area by that of the neighbours',
          values: ratios,
          of: 'polygons',
          limit: settings.areaRatioLimit,
        },
      })
  },
}
