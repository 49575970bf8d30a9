import { sceneHeight } from '../../scene/scene-size.ts'
import { transformScene } from '../../mesh/rebuilding/transform-scene.ts'
import { IDENTITY_MATRIX } from '../../scene/scene.ts'
import { outcome, StepRefusal, type StepDescriptor } from '../step.ts'

/** What a unit is taken for where the model states none and a height in metres is asked for. */
const ASSUMED_UNIT = 0.01

export const scaleToSize: StepDescriptor = {
  id: 'scale-to-size',
  area: 'scene',
  title: 'Scale to a known size',
  description:
    'Scales the whole model so that it is as tall as the real thing, so that a length measured on it is what it is in truth, or by a factor.',
  changes: ['points', 'transforms', 'shapes', 'scene'],
  parameters: [
    { id: 'height', title: 'Height', kind: 'number', unit: 'metres', default: null, min: 1e-6, max: 1e6 },
    {
      id: 'measured',
      title: 'A length on the model',
      kind: 'number',
      unit: 'file unit',
      default: null,
      min: 1e-12,
      max: 1e12,
    },
    {
      id: 'length',
      title: 'is in truth',
      kind: 'number',
      unit: 'metres',
      default: null,
      min: 1e-9,
      max: 1e6,
    },
    { id: 'factor', title: 'Factor', kind: 'number', default: null, min: 1e-9, max: 1e9 },
  ],
  run: (context) => {
    const { scene } = context
    // a file that states no unit is given one with its size
    const isUnknown = scene.space.unitMeters === null
    const unitMeters = scene.space.unitMeters ?? ASSUMED_UNIT
    const wanted = context.numberOrNull('height')
    let factor = context.numberOrNull('factor')
    if (wanted !== null) {
      const height = sceneHeight(scene)
      if (!height) throw new StepRefusal('The model has no height that could be scaled.')
      factor = wanted / (height * unitMeters)
    }
    const measured = context.numberOrNull('measured')
    const length = context.numberOrNull('length')
    if ((measured === null) !== (length === null))
      throw new StepRefusal('A measured length needs what it is in truth, and the other way round.')
    if (wanted !== null && length !== null)
      throw new StepRefusal('The height and a measured length can’t both say the size.')
    if (measured !== null && length !== null) factor = length / (measured * unitMeters)
    // both are told in metres, which gives the model a unit
    const inMetres = wanted !== null || length !== null
    if (factor === null || (factor === 1 && !(isUnknown && inMetres))) return outcome(scene, 0, 'parts')
    const scaled = transformScene(scene, IDENTITY_MATRIX, factor)
    return outcome(
      isUnknown && inMetres ? { ...scaled, space: { ...scaled.space, unitMeters } } : scaled,
      Math.max(1, scene.meshes.length),
      'parts',
      {
        notes: [
          `Scaled by ${Number(factor.toPrecision(6))}.`,
          ...(isUnknown && inMetres ? ['The model stated no unit: one is a centimetre now.'] : []),
        ],
      },
    )
  },
}
