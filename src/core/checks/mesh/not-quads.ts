import { eachElement, type CheckDescriptor } from '../check.ts'

export const notQuads: CheckDescriptor = {
  id: 'not-quads',
  area: 'mesh',
  scope: 'part',
  title: 'Triangles and n-gons',
  why: 'Sculpting and subdividing tools make the cleanest surface of quads; triangles pinch and n-gons ripple.',
  reads: ['faceOffsets'],
  problems: {
    triangles: { severity: 'info', text: '{count} [triangle|triangles], {share} % of the polygons.' },
    ngons: {
      severity: 'info',
      text: '{count} [polygon|polygons] with more than four corners; the largest has {largest}.',
    },
  },
  run({ mesh, facts, settings }, report) {
    if (!settings.wantQuads) return
    const triangles: number[] = []
    const ngons: number[] = []
    let largest = 0
    for (let face = 0; face < facts.faceCount; face++) {
      const size = mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]!
      if (size === 3) triangles.push(face)
      else if (size > 4) {
        ngons.push(face)
        largest = Math.max(largest, size)
      }
    }
    if (triangles.length)
      report({
        problem: 'triangles',
        count: triangles.length,
        parameters: { share: Math.round((100 * triangles.length) / facts.faceCount) },
        places: eachElement('faces', triangles),
        fix: { step: 'pair-triangles', params: {} },
      })
    if (ngons.length)
      report({
        problem: 'ngons',
        count: ngons.length,
        parameters: { largest },
        places: eachElement('faces', ngons),
        fix: { step: 'triangulate', params: { which: 'ngons' } },
      })
  },
}
