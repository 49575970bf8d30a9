import { findTinyCuts } from '../../uv/find-tiny-cuts.ts'
import { groupedElements, type CheckDescriptor } from '../check.ts'

export const tinyCuts: CheckDescriptor = {
  id: 'tiny-cuts',
  area: 'uvs',
  scope: 'part',
  title: 'Tiny cuts',
  why: 'A cut of an edge or two is mostly a slip: it shows as a seam in the paint and gains nothing in the UVs.',
  reads: ['faceVertices', 'faceOffsets', 'uvSets'],
  problems: {
    nicks: { severity: 'info', text: '{count} [seam|seams] of an edge or two [nicks|nick] an island.' },
    parted: {
      severity: 'info',
      text: '{count} [pair|pairs] of islands [is|are] parted by a seam of an edge or two only.',
    },
    slivers: {
      severity: 'info',
      text: '{count} [island|islands] of a polygon or two [is|are] cut out of a larger one.',
    },
  },
  run({ mesh, facts }, report) {
    const set = mesh.uvSets[0]
    if (!set) return
    const fix = { step: 'sew-tiny-cuts', params: {} }
    const { nicks, slivers, parted } = findTinyCuts(facts, set)
    if (nicks.length)
      report({ problem: 'nicks', count: nicks.length, places: groupedElements('edges', nicks), fix })
    if (slivers.length)
      report({ problem: 'slivers', count: slivers.length, places: groupedElements('edges', slivers), fix })
    if (parted.length)
      report({ problem: 'parted', count: parted.length, places: groupedElements('edges', parted), fix })
  },
}
