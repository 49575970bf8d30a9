import { beyond } from '../../base/messages/render.ts'
import { computeNormals } from '../../mesh/normals/compute-normals.ts'
import { eachElement, type CheckDescriptor } from '../check.ts'

export const normalsAgainstSmoothing: CheckDescriptor = {
  id: 'normals-against-smoothing',
  area: 'shading',
  scope: 'part',
  title: 'Normals that disagree with the smoothing',
  why: 'Some tools shade by the normals in the file, others by its smoothing; the part looks different in each.',
  reads: ['points', 'faceVertices', 'faceOffsets', 'normals', 'smoothing'],
  problems: {
    differ: {
      severity: 'info',
      text: '{count} [corner|corners] [has|have] a normal that is more than {limit}° from what the smoothing gives (the worst {worst}°).',
    },
    none: { severity: 'warning', text: '{count} [corner|corners] [has|have] a normal without a direction.' },
  },
  run({ mesh, facts, settings }, report) {
    const { normals } = mesh
    if (!normals || !mesh.smoothing) return
    const wanted = computeNormals({ ...mesh, points: facts.points() }, null)
    const limit = Math.cos((settings.normalLimit * Math.PI) / 180)
    const differ: number[] = []
    const none: number[] = []
    let least = 1
    for (let corner = 0; corner < mesh.faceVertices.length; corner++) {
      const own = 3 * normals.indices[corner]!
      if (own < 0) continue
      const other = 3 * wanted.indices[corner]!
      let dot = 0
      let own2 = 0
      let other2 = 0
      for (let axis = 0; axis < 3; axis++) {
        dot += normals.values[own + axis]! * wanted.values[other + axis]!
        own2 += normals.values[own + axis]! ** 2
        other2 += wanted.values[other + axis]! ** 2
      }
      if (!(own2 > 0)) none.push(corner)
      else if (other2 > 0) {
        const cosine = dot / Math.sqrt(own2 * other2)
        if (cosine < limit) {
          differ.push(corner)
          least = Math.min(least, cosine)
        }
      }
    }
    const fix = { step: 'set-normals', params: { mode: 'smoothing' } }
    if (differ.length)
      report({
        problem: 'differ',
        count: differ.length,
        parameters: {
          limit: settings.normalLimit,
          worst: beyond((Math.acos(Math.max(-1, least)) * 180) / Math.PI, settings.normalLimit),
        },
        places: eachElement('corners', differ),
        fix,
      })
    if (none.length)
      report({ problem: 'none', count: none.length, places: eachElement('corners', none), fix })
  },
}
