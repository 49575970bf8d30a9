import { eachElement, type CheckDescriptor } from '../check.ts'

export const unassignedFaces: CheckDescriptor = {
  id: 'unassigned-faces',
  area: 'materials',
  scope: 'part',
  title: 'Polygons without a material',
  why: 'They come out in the next tool’s default grey, or not at all.',
  reads: ['faceOffsets', 'faceMaterials'],
  problems: {
    some: {
      severity: 'warning',
      text: '{count} [polygon|polygons] [has|have] no material while others have.',
    },
    all: { severity: 'info', text: 'The part has no material.' },
  },
  run({ mesh, facts }, report) {
    if (facts.faceCount === 0) return
    const bare: number[] = []
    if (mesh.faceMaterials)
      for (let face = 0; face < facts.faceCount; face++) if (mesh.faceMaterials[face]! < 0) bare.push(face)
    if (!mesh.faceMaterials || bare.length === facts.faceCount)
      report({ problem: 'all', count: facts.faceCount })
    else if (bare.length)
      report({
        problem: 'some',
        count: bare.length,
        places: eachElement('faces', bare),
        fix: { step: 'assign-material', params: {} },
      })
  },
}
