import { softAreas } from '../../mesh/smoothing/smoothing-groups.ts'
import { eachElement, type CheckDescriptor } from '../check.ts'

export const inexpressibleHardEdges: CheckDescriptor = {
  id: 'inexpressible-hard-edges',
  area: 'shading',
  scope: 'part',
  title: 'Hard edges that groups can’t express',
  why: 'Smoothing groups part areas. A hard edge that ends inside a soft area is lost where only groups travel.',
  reads: ['faceVertices', 'faceOffsets', 'smoothing'],
  problems: {
    inside: {
      severity: 'warning',
      text: '{count} [hard edge|hard edges] [ends|end] inside a soft area; groups will make them soft.',
    },
  },
  run({ mesh, facts, settings }, report) {
    if (mesh.smoothing?.kind !== 'edges' || settings.smoothingForm === 'edges') return
    const { inexpressible } = softAreas(facts)
    if (inexpressible.length === 0) return
    const { edgePoints } = facts.edges()
    report({
      problem: 'inside',
      count: inexpressible.length,
      places: eachElement(
        'edges',
        inexpressible.flatMap((edge) => [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!]),
      ),
    })
  },
}
