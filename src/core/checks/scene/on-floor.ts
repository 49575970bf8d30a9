import { counted } from '../../base/messages/render.ts'
import { axisIndex, sceneBounds } from '../../scene/scene-size.ts'
import type { CheckDescriptor } from '../check.ts'

/** Share of the height by which a model may miss the floor. */
const FLOOR_SHARE = 1e-3

export const onFloor: CheckDescriptor = {
  id: 'on-floor',
  area: 'scene',
  scope: 'scene',
  title: 'Not standing on the floor',
  why: 'A model that floats or sinks has to be moved by hand in every scene it is placed in.',
  reads: ['nodes', 'meshes', 'space'],
  problems: {
    floats: { severity: 'info', text: 'The lowest point is {distance} above the floor.' },
    sinks: { severity: 'info', text: 'The lowest point is {distance} below the floor.' },
  },
  run({ scene, settings }, report) {
    const box = sceneBounds(scene)
    if (!box || !settings.wantPartsOnFloor) return
    const up = axisIndex(scene.space.upAxis)
    const down = scene.space.upAxis.startsWith('-')
    const lowest = down ? -box.max[up] : box.min[up]
    const height = box.max[up] - box.min[up]
    if (!(Math.abs(lowest) > Math.max(height, 1e-9) * FLOOR_SHARE)) return
    const unit = scene.space.unitMeters
    const distance =
      unit === null
        ? counted(Number(Math.abs(lowest).toPrecision(3)), 'unit')
        : `${Number((Math.abs(lowest) * unit * 100).toPrecision(3))} cm`
    report({
      problem: lowest > 0 ? 'floats' : 'sinks',
      count: 1,
      parameters: { distance },
      fix: { step: 'to-floor', params: {} },
    })
  },
}
