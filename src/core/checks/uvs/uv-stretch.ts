import { beyond } from '../../base/messages/render.ts'
import { measureStretch } from '../../uv/uv-measures.ts'
import { eachElement, type CheckDescriptor } from '../check.ts'
import { packing } from '../settings.ts'

/** Means of a part and of an island differ a little. */
const SAFE = 0.9
/** What the step takes at least. */
const LEAST_LIMIT = 1.1

export const uvStretch: CheckDescriptor = {
  id: 'uv-stretch',
  area: 'uvs',
  scope: 'part',
  title: 'Stretched UVs',
  why: 'Where UVs are stretched a painted dot becomes a stripe and detail gets coarse.',
  reads: ['points', 'faceVertices', 'faceOffsets', 'uvSets'],
  problems: {
    area: {
      severity: 'info',
      text: '{count} [polygon|polygons] [has|have] more than {limit} times too much or too little room (the worst {worst}).',
    },
    angle: {
      severity: 'info',
      text: '{count} [polygon|polygons] [is|are] drawn out more than {limit} times one way (the worst {worst}).',
    },
  },
  run({ mesh, facts, settings }, report) {
    const set = mesh.uvSets[0]
    if (!set) return
    const { area, angle } = measureStretch(facts, set)
    const limit = settings.stretchLimit
    const say = (problem: string, title: string, values: Float64Array, endless: string): void => {
      const found: number[] = []
      let worst = 0
      for (let face = 0; face < values.length; face++) {
        const value = values[face]!
        if (Number.isNaN(value)) continue
        const off = value < 1 ? 1 / value : value
        if (off <= limit) continue
        found.push(face)
        worst = Math.max(worst, off)
      }
      if (found.length === 0) return
      report({
        problem,
        count: found.length,
        parameters: {
          limit,
          worst: Number.isFinite(worst) ? `${beyond(worst, limit)} times` : endless,
        },
        places: eachElement('faces', found),
        distribution: {
          title,
          values: values.filter((value) => Number.isFinite(value)),
          of: 'polygons',
          limit,
        },
        heat: Float32Array.from(values),
        fix: {
          step: 'unwrap',
          params: { ...packing(settings), seams: 'existing', worst: Math.max(LEAST_LIMIT, SAFE * limit) },
        },
      })
    }
    say('area', 'Room in the UVs by that of the part', area, 'has none at all')
    say('angle', 'Longer by shorter way', angle, 'is a line')
  },
}
