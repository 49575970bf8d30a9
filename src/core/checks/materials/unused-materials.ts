import type { CheckDescriptor } from '../check.ts'
import { usedMaterials } from '../../scene/material-use.ts'

export const unusedMaterials: CheckDescriptor = {
  id: 'unused-materials',
  area: 'materials',
  scope: 'scene',
  title: 'Unused materials',
  why: 'They travel with their maps and clutter every list they pass.',
  reads: ['materials', 'meshes'],
  problems: {
    unused: { severity: 'info', text: '{count} [material|materials] [is|are] on no polygon: {names}.' },
  },
  run({ scene }, report) {
    const used = usedMaterials(scene)
    const unused = scene.materials.filter((_material, index) => !used.has(index))
    if (unused.length)
      report({
        problem: 'unused',
        count: unused.length,
        parameters: {
          names:
            unused
              .slice(0, 4)
              .map((material) => `“${material.name}”`)
              .join(', ') + (unused.length > 4 ? ' …' : ''),
        },
        fix: { step: 'remove-unused-materials', params: {} },
      })
  },
}
