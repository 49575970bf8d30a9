import type { MeshFacts } from '../scene/mesh-facts.ts'
import { eachElement, type CheckDescriptor } from './check.ts'

/**
 * faceCount; longest side by the mean height over it (area by longest side), and so 1 for a square, about
 * 1.15 for an even triangle; infinite for polygons without area.
 */
export function polygonAspects(facts: MeshFacts): Float64Array {
  const { mesh } = facts
  const points = facts.points()
  const areas = facts.faceAreas()
  const aspects = new Float64Array(facts.faceCount)
  for (let face = 0; face < aspects.length; face++) {
    const start = mesh.faceOffsets[face]!
    const end = mesh.faceOffsets[face + 1]!
    let longest = 0
    let from = 3 * mesh.faceVertices[end - 1]!
    for (let corner = start; corner < end; corner++) {
      const to = 3 * mesh.faceVertices[corner]!
      const dx = points[to]! - points[from]!
      const dy = points[to + 1]! - points[from + 1]!
      const dz = points[to + 2]! - points[from + 2]!
      const squared = dx * dx + dy * dy + dz * dz
      if (squared > longest) longest = squared
      from = to
    }
    // a triangle's height over its longest side is twice its area by it
    const height = end - start === 3 ? 2 * areas[face]! : areas[face]!
    aspects[face] = height > 0 ? longest / height : Infinity
  }
  return aspects
}

/** faceCount; area by the mean area of the faces over its edges. */
export function neighbourRatios(facts: MeshFacts): Float64Array {
  const { mesh } = facts
  const areas = facts.faceAreas()
  const { cornerEdges, edgeSides, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const ratios = new Float64Array(facts.faceCount).fill(1)
  for (let face = 0; face < ratios.length; face++) {
    let sum = 0
    let met = 0
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      const edge = cornerEdges[corner]!
      if (edgeSides[edge] !== 2) continue
      const other = edgeCorners[2 * edge] === corner ? edgeCorners[2 * edge + 1]! : edgeCorners[2 * edge]!
      sum += areas[cornerFaces[other]!]!
      met++
    }
    if (met && sum > 0) ratios[face] = areas[face]! / (sum / met)
  }
  return ratios
}

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
      text: '{count} [polygon|polygons] [is|are] more than {limit} times as long as they are wide.',
    },
    uneven: {
      severity: 'info',
      text: '{count} [polygon|polygons] [is|are] more than {limit} times larger or smaller than those around them.',
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
        fix: { step: 'split-long-polygons', params: { aspect: settings.aspectLimit } },
      })
    const ratios = neighbourRatios(facts)
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
