import { uvAreas } from '../../uv/uv-measures.ts'
import { nextCorner, previousCorner } from '../../mesh/relations/mesh-facts.ts'
import { eachElement, type CheckDescriptor } from '../check.ts'
import { packing } from '../settings.ts'

/** Times the square of the tile's side; less is no area that a map could fill. */
const LEAST_UV_AREA = 1e-12

export const zeroUvFaces: CheckDescriptor = {
  id: 'zero-uv-faces',
  area: 'uvs',
  scope: 'part',
  title: 'UV polygons without area',
  why: 'Tangents can’t be worked out there, so normal maps shade wrongly or not at all.',
  reads: ['points', 'faceVertices', 'faceOffsets', 'uvSets'],
  problems: {
    faces: { severity: 'warning', text: '{count} [polygon|polygons] [has|have] no area in the UVs.' },
    corners: {
      severity: 'info',
      text: 'At {count} [corner|corners] of other polygons tangents can’t be worked out.',
    },
  },
  run({ mesh, facts, settings }, report) {
    const set = mesh.uvSets[0]
    if (!set) return
    const areas = uvAreas(mesh, set)
    const faces: number[] = []
    const corners: number[] = []
    const { values, indices } = set
    for (let face = 0; face < areas.length; face++) {
      if (!Number.isFinite(areas[face])) continue
      if (Math.abs(areas[face]!) <= LEAST_UV_AREA) {
        faces.push(face)
        continue
      }
      if (mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]! === 3) continue
      for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
        const a = 2 * indices[previousCorner(mesh, face, corner)]!
        const b = 2 * indices[corner]!
        const c = 2 * indices[nextCorner(mesh, face, corner)]!
        const turn =
          (values[b]! - values[a]!) * (values[c + 1]! - values[b + 1]!) -
          (values[b + 1]! - values[a + 1]!) * (values[c]! - values[b]!)
        if (Math.abs(turn) <= LEAST_UV_AREA) corners.push(corner)
      }
    }
    if (faces.length)
      report({
        problem: 'faces',
        count: faces.length,
        places: eachElement('faces', faces),
        fix: { step: 'relax-uvs', params: { onlyBroken: true, ...packing(settings) } },
      })
    if (corners.length && facts.faceCount)
      report({ problem: 'corners', count: corners.length, places: eachElement('corners', corners) })
  },
}
