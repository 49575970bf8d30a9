import type { CheckDescriptor } from '../check.ts'
import { usedMaterials } from '../../scene/material-use.ts'

export const severalMaterials: CheckDescriptor = {
  id: 'several-materials',
  area: 'materials',
  scope: 'scene',
  title: 'Several materials where one is wanted',
  why: 'Each material is drawn on its own in a real-time engine, and a painting tool makes a map set of each.',
  reads: ['materials', 'meshes'],
  problems: {
    several: {
      severity: 'warning',
      text: 'The model has {count} [material|materials]; the destination wants one.',
    },
  },
  run({ scene, settings }, report) {
    const { size } = usedMaterials(scene)
    if (settings.oneMaterial && size > 1)
      report({ problem: 'several', count: size, fix: { step: 'one-material', params: {} } })
  },
}
