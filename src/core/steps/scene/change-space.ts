import { transformScene } from '../../mesh/rebuilding/transform-scene.ts'
import type { Axis } from '../../scene/scene.ts'
import { axesFit, spaceMatrix, targetSpace } from '../../scene/space.ts'
import { outcome, StepRefusal, type StepDescriptor, wordChoices } from '../step.ts'

const AXES = ['keep', 'x', 'y', 'z', '-x', '-y', '-z'] as const

export const changeSpace: StepDescriptor = {
  id: 'change-space',
  area: 'scene',
  title: 'Change unit and axes',
  description:
    'Turns and scales the numbers into another unit and other axes; in the world everything stays as it is.',
  changes: ['points', 'normals', 'transforms', 'topology', 'shapes', 'scene'],
  parameters: [
    {
      id: 'unitMeters',
      title: 'One unit is',
      kind: 'number',
      unit: 'metres',
      default: null,
      min: 1e-9,
      max: 1e9,
    },
    { id: 'upAxis', title: 'Up', kind: 'choice', default: 'keep', choices: wordChoices(...AXES) },
    { id: 'frontAxis', title: 'Front', kind: 'choice', default: 'keep', choices: wordChoices(...AXES) },
    {
      id: 'handedness',
      title: 'Handedness',
      kind: 'choice',
      default: 'keep',
      choices: wordChoices('keep', 'right', 'left'),
    },
  ],
  run: (context) => {
    const { scene } = context
    const from = scene.space
    const axis = (name: string): Axis | null =>
      context.text(name) === 'keep' ? null : (context.text(name) as Axis)
    const handedness = context.text('handedness')
    const wish = {
      unitMeters: context.numberOrNull('unitMeters'),
      upAxis: axis('upAxis'),
      frontAxis: axis('frontAxis'),
      mirrored: handedness === 'keep' ? null : handedness === 'left',
    }
    if (wish.frontAxis && !axesFit(wish.upAxis ?? from.upAxis, wish.frontAxis))
      throw new StepRefusal('Up and front can’t be the same axis.')
    const to = targetSpace(from, wish)
    if (JSON.stringify(to) === JSON.stringify(from)) return outcome(scene, 0, 'parts')
    const turn = spaceMatrix(from, { ...to, unitMeters: from.unitMeters })
    const ratio = from.unitMeters !== null && to.unitMeters !== null ? from.unitMeters / to.unitMeters : 1
    const moved = transformScene(scene, turn, ratio)
    return outcome({ ...moved, space: to }, Math.max(1, scene.meshes.length), 'parts', {
      notes:
        from.unitMeters === null && to.unitMeters !== null
          ? ['The unit was not known before, so the numbers stay as they are.']
          : [],
    })
  },
}
