import { eachElement, type CheckDescriptor } from '../check.ts'

export const brokenPoints: CheckDescriptor = {
  id: 'broken-points',
  area: 'mesh',
  scope: 'part',
  title: 'Points without a place',
  why: 'A coordinate that is no finite number makes other tools drop the part or draw spikes across the scene.',
  reads: ['points', 'faceVertices', 'lines', 'pointElements'],
  problems: {
    infinite: {
      severity: 'error',
      text: '{count} [point|points] [has|have] a coordinate that is not a finite number.',
    },
    empty: { severity: 'warning', text: 'The part has no polygons, lines or points.' },
  },
  run({ mesh, facts }, report) {
    const broken = facts.brokenPoints()
    if (broken.length)
      report({
        problem: 'infinite',
        count: broken.length,
        places: eachElement('points', broken),
        fix: { step: 'remove-broken', params: {} },
      })
    if (facts.faceCount === 0 && !mesh.lines && !mesh.pointElements && facts.pointCount === 0)
      report({ problem: 'empty', count: 1, fix: { step: 'remove-broken', params: {} } })
  },
}
