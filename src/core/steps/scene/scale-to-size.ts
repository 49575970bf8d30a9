import { sceneHeight } from '../../scene/scene-size.ts'
import { transformScene } from '../../mesh/rebuilding/transform-scene.ts'
import { IDENTITY_MATRIX } from '../../scene/scene.ts'
import { outcome, StepRefusal, type StepDescriptor } from '../step.ts'

export const scaleToSize: StepDescriptor = {
  id: 'scale-to-size',
  area: 'scene',
  title: 'Scale to a known size',
  description: 'Scales the whole model so that it is as tall as the real thing, or by a factor.',
  changes: ['points', 'transforms', 'shapes'],
  parameters: [
    { id: 'height', title: 'Height', kind: 'number', unit: 'metres', default: null, min: 1e-6, max: 1e6 },
    { id: 'factor', title: 'Factor', kind: 'number', default: null, min: 1e-9, max: 1e9 },
  ],
  run: (context) => {
    const { scene } = context
    const wanted = context.numberOrNull('height')
    let factor = context.numberOrNull('factor')
    if (wanted !== null) {
      const height = sceneHeight(scene)
      if (!height) throw new StepRefusal('The model has no height that could be scaled.')
      if (scene.space.unitMeters === null)
        throw new StepRefusal(
          'The unit of this model is not known; set it first, with “Change unit and axes”.',
        )
      factor = wanted / (height * scene.space.unitMeters)
    }
    if (factor === null || factor === 1) return outcome(scene, 0, 'parts')
    return outcome(
      transformScene(scene, IDENTITY_MATRIX, factor),
      Math.max(1, scene.meshes.length),
      'parts',
      { notes: [`Scaled by ${Number(factor.toPrecision(6))}.`] },
    )
  },
}
