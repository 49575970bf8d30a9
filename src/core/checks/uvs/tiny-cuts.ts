import { findTinyCuts } from '../../uv/find-tiny-cuts.ts'
import { sewIslands } from '../../uv/islands/sew-islands.ts'
import { edgesWithPoints } from '../../uv/seams/given-seams.ts'
import { groupedElements, type CheckDescriptor } from '../check.ts'

/** Cuts of which it is tried whether they can be sewn. */
const MOST_TRIED = 40

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
    const { nicks, slivers, parted } = findTinyCuts(facts, set)
    // a mend is offered where something can be sewn without folds
    const edges = [...nicks, ...slivers, ...parted]
    const canSew =
      edges.length > MOST_TRIED ||
      (edges.length > 0 && sewIslands(facts, set, edgesWithPoints(facts, edges.flat())).sewnEdges > 0)
    const fix = canSew ? { step: 'sew-tiny-cuts', params: {} } : undefined
    if (nicks.length)
      report({
        problem: 'nicks',
        count: nicks.length,
        places: groupedElements('edges', nicks),
        ...(fix ? { fix } : {}),
      })
    if (slivers.length)
      report({
        problem: 'slivers',
        count: slivers.length,
        places: groupedElements('edges', slivers),
        ...(fix ? { fix } : {}),
      })
    if (parted.length)
      report({
        problem: 'parted',
        count: parted.length,
        places: groupedElements('edges', parted),
        ...(fix ? { fix } : {}),
      })
  },
}
