import { findBorderLoops } from '../../mesh/relations/border-loops.ts'
import { BORDER_SHARE, canWeldBorders } from '../../mesh/welds/weld-borders.ts'
import { groupedElements, type CheckDescriptor } from '../check.ts'

export const openBorders: CheckDescriptor = {
  id: 'open-borders',
  area: 'mesh',
  scope: 'part',
  title: 'Open borders',
  why: 'A hole lets light in and remeshing leak out. Cloth and leaves are open on purpose; a closed prop is not.',
  reads: ['points', 'faceVertices', 'faceOffsets'],
  problems: {
    open: {
      severity: 'info',
      text: '{count} [open border|open borders], {edges} [edge|edges|edges] in all.',
    },
  },
  run({ facts }, report) {
    const { loops } = findBorderLoops(facts)
    if (loops.length === 0) return
    const { edgePoints } = facts.edges()
    const groups = loops.map((loop) =>
      loop.flatMap((edge) => [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!]),
    )
    const edges = loops.reduce((sum, loop) => sum + loop.length, 0)
    report({
      problem: 'open',
      count: loops.length,
      parameters: { edges },
      places: groupedElements('edges', groups),
      // a mend is offered where it would close something
      ...(loops.length > 1 && canWeldBorders(facts, facts.diagonal() * BORDER_SHARE)
        ? { fix: { step: 'weld-borders', params: {} } }
        : {}),
    })
  },
}
