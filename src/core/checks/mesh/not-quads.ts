import { DEFAULT_SKEW, pairTriangles } from '../../mesh/cutting/pair-triangles.ts'
import { findSeams } from '../../uv/uv-measures.ts'
import { eachElement, type CheckDescriptor } from '../check.ts'

export const notQuads: CheckDescriptor = {
  id: 'not-quads',
  area: 'mesh',
  scope: 'part',
  title: 'Triangles and n-gons',
  why: 'Sculpting and subdividing tools make the cleanest surface of quads; triangles pinch and n-gons ripple.',
  reads: [
    'points',
    'faceVertices',
    'faceOffsets',
    'faceMaterials',
    'groups',
    'smoothing',
    'creases',
    'uvSets',
  ],
  problems: {
    triangles: {
      severity: 'info',
      text: '{count} [triangle|triangles], {share} % of the polygons; {pairable} can be paired to quads.',
    },
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
    const radians = Math.PI / 180
    const pairable = triangles.length
      ? pairTriangles(facts, {
          chosen: null,
          borders: mesh.uvSets.map((set) => findSeams(facts, set)),
          mostBend: settings.bendLimit * radians,
          mostSkew: DEFAULT_SKEW * radians,
        }).joined.length
      : 0
    if (triangles.length)
      report({
        problem: 'triangles',
        count: triangles.length,
        parameters: {
          share: Math.round((100 * triangles.length) / facts.faceCount),
          pairable: pairable || 'none',
        },
        places: eachElement('faces', triangles),
        ...(pairable ? { fix: { step: 'pair-triangles', params: { bend: settings.bendLimit } } } : {}),
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
