import { findSeams } from '../../uv/uv-measures.ts'
import { eachElement, type CheckDescriptor } from '../check.ts'

export const seamsAndHardEdges: CheckDescriptor = {
  id: 'seams-and-hard-edges',
  area: 'uvs',
  scope: 'part',
  title: 'Seams and hard edges',
  why: 'A hard edge that is no seam bakes with a dark line; a seam that is soft needs its tangents to match.',
  reads: ['faceVertices', 'faceOffsets', 'uvSets', 'smoothing'],
  problems: {
    unseamed: { severity: 'warning', text: '{count} [hard edge|hard edges] [is|are] not seams.' },
    soft: { severity: 'info', text: '{count} [seam is not a hard edge|seams are not hard edges].' },
  },
  run({ mesh, facts }, report) {
    const set = mesh.uvSets[0]
    if (!set || !mesh.smoothing) return
    const seams = findSeams(facts, set)
    const hard = facts.hardEdges()
    const { edgeCount, edgePoints, edgeSides } = facts.edges()
    const unseamed: number[] = []
    const soft: number[] = []
    for (let edge = 0; edge < edgeCount; edge++) {
      if (edgeSides[edge] !== 2) continue
      if (hard[edge] && !seams[edge]) unseamed.push(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!)
      if (!hard[edge] && seams[edge]) soft.push(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!)
    }
    if (unseamed.length)
      report({ problem: 'unseamed', count: unseamed.length / 2, places: eachElement('edges', unseamed) })
    if (soft.length) report({ problem: 'soft', count: soft.length / 2, places: eachElement('edges', soft) })
  },
}
