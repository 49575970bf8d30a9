import { sceneHeight } from '../../scene/scene-size.ts'
import type { CheckDescriptor } from '../check.ts'

/** Metres; a prop or a character outside is mostly a wrong unit. */
const SMALLEST = 0.002
const LARGEST = 200
/** A size this close to the known one is right. */
const NEAR = 0.01

const round = (value: number): number => Number(value.toPrecision(4))

export const realSize: CheckDescriptor = {
  id: 'real-size',
  area: 'scene',
  scope: 'scene',
  title: 'Size in the real world',
  why: 'Light, physics and hair are tuned in real sizes; a hundredfold model renders wrong everywhere at once.',
  reads: ['meshes', 'nodes', 'space'],
  problems: {
    known: {
      severity: 'error',
      text: 'The model is {height} m tall instead of {wanted} m; the factor that mends it is {factor}.',
    },
    odd: {
      severity: 'warning',
      text: 'The model is {height} m tall, which is odd for a prop or a character.',
    },
  },
  run({ scene, settings }, report) {
    const units = sceneHeight(scene)
    if (units === null || scene.space.unitMeters === null) return
    const height = units * scene.space.unitMeters
    if (settings.heightMeters !== null) {
      const factor = settings.heightMeters / height
      if (!(Math.abs(factor - 1) <= NEAR))
        report({
          problem: 'known',
          count: 1,
          parameters: { height: round(height), wanted: settings.heightMeters, factor: round(factor) },
          fix: { step: 'scale-to-size', params: { height: settings.heightMeters } },
        })
    } else if (height > LARGEST || (height < SMALLEST && height > 0))
      report({ problem: 'odd', count: 1, parameters: { height: round(height) } })
  },
}
