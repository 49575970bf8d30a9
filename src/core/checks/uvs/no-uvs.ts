import { isMapped } from '../../uv/uv-measures.ts'
import { eachElement, type CheckDescriptor } from '../check.ts'
import { packing } from '../settings.ts'

export const noUvs: CheckDescriptor = {
  id: 'no-uvs',
  area: 'uvs',
  scope: 'part',
  title: 'Polygons without UVs',
  why: 'Nothing can be painted or baked where the surface has no place on a map.',
  reads: ['faceVertices', 'faceOffsets', 'uvSets'],
  problems: {
    none: { severity: 'warning', text: 'The part has no UVs.' },
    some: { severity: 'warning', text: '{count} [polygon|polygons] [has|have] no UVs in “{set}”.' },
  },
  run({ mesh, facts, settings }, report) {
    if (facts.faceCount === 0) return
    const fix = { step: 'unwrap', params: packing(settings) }
    if (mesh.uvSets.length === 0) return report({ problem: 'none', count: facts.faceCount, fix })
    for (const set of mesh.uvSets) {
      const unmapped: number[] = []
      for (let face = 0; face < facts.faceCount; face++) if (!isMapped(mesh, set, face)) unmapped.push(face)
      if (unmapped.length === facts.faceCount && mesh.uvSets.length === 1)
        report({ problem: 'none', count: facts.faceCount, fix })
      else if (unmapped.length)
        report({
          problem: 'some',
          count: unmapped.length,
          parameters: { set: set.name },
          places: eachElement('faces', unmapped),
          fix: { step: 'unwrap', params: { ...fix.params, onlyMissing: true, set: set.name } },
        })
    }
  },
}
