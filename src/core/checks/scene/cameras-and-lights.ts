import { counted } from '../../base/messages/render.ts'
import type { CheckDescriptor } from '../check.ts'

export const camerasAndLights: CheckDescriptor = {
  id: 'cameras-and-lights',
  area: 'scene',
  scope: 'scene',
  title: 'Cameras and lights',
  why: 'Whoever receives the model has their own; a light that travels along doubles theirs.',
  reads: ['nodes', 'extras'],
  problems: {
    travel: { severity: 'warning', text: '{what} would travel along.' },
  },
  run({ scene }, report) {
    const count = scene.cameras.length + scene.lights.length
    if (count > 0)
      report({
        problem: 'travel',
        count,
        parameters: {
          what: [counted(scene.cameras.length, 'camera'), counted(scene.lights.length, 'light')]
            .filter((words) => !words.startsWith('0'))
            .join(' and '),
        },
        fix: { step: 'strip-cameras-and-lights', params: {} },
      })
  },
}
