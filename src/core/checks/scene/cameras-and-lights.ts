import type { CheckDescriptor } from '../check.ts'

export const camerasAndLights: CheckDescriptor = {
  id: 'cameras-and-lights',
  area: 'scene',
  scope: 'scene',
  title: 'Cameras and lights',
  why: 'Whoever receives the model has their own; a light that travels along doubles theirs.',
  reads: ['nodes', 'extras'],
  problems: {
    travel: { severity: 'warning', text: 'Cameras ({cameras}) and lights ({lights}) would travel along.' },
  },
  run({ scene }, report) {
    const count = scene.cameras.length + scene.lights.length
    if (count > 0)
      report({
        problem: 'travel',
        count,
        parameters: { cameras: scene.cameras.length, lights: scene.lights.length },
        fix: { step: 'strip-cameras-and-lights', params: {} },
      })
  },
}
