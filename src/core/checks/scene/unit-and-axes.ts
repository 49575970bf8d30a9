import type { CheckDescriptor } from '../check.ts'

export const unitAndAxes: CheckDescriptor = {
  id: 'unit-and-axes',
  area: 'scene',
  scope: 'scene',
  title: 'Unit and axes',
  why: 'A file whose unit or up axis the receiving tool takes for another comes in huge, tiny or lying on its face.',
  reads: ['space'],
  problems: {
    unknown: { severity: 'info', text: 'The file does not say how long its unit is.' },
    unit: { severity: 'warning', text: 'One unit is {unit} m; the destination expects {wanted} m.' },
    axis: { severity: 'warning', text: 'Up is {axis}; the destination expects {wanted}.' },
    mirrored: { severity: 'warning', text: 'The file is mirrored (left-handed).' },
  },
  run({ scene, settings }, report) {
    const { unitMeters, upAxis, handedness } = scene.space
    if (unitMeters === null) report({ problem: 'unknown', count: 1 })
    else if (settings.unitMeters !== null && unitMeters !== settings.unitMeters)
      report({
        problem: 'unit',
        count: 1,
        parameters: { unit: unitMeters, wanted: settings.unitMeters },
        fix: { step: 'change-space', params: { unitMeters: settings.unitMeters } },
      })
    if (settings.upAxis !== null && upAxis !== settings.upAxis)
      report({
        problem: 'axis',
        count: 1,
        parameters: { axis: upAxis, wanted: settings.upAxis },
        fix: { step: 'change-space', params: { upAxis: settings.upAxis } },
      })
    if (handedness === 'left')
      report({
        problem: 'mirrored',
        count: 1,
        fix: { step: 'change-space', params: { handedness: 'right' } },
      })
  },
}
