import type { CheckDescriptor } from '../check.ts'

/** Degrees; up to here the mend makes edges soft. */
const MEND_ANGLE = 40
/** Radians; a soft edge that bends more than this looks inflated. */
const SHARP_BEND = (60 * Math.PI) / 180

export const shadingExtremes: CheckDescriptor = {
  id: 'shading-extremes',
  area: 'shading',
  scope: 'part',
  title: 'All hard or all soft',
  why: 'All hard is how faceted files come back from a hop; all soft on a box makes it look like a pillow.',
  reads: ['points', 'faceVertices', 'faceOffsets', 'smoothing'],
  problems: {
    hard: { severity: 'warning', text: 'All {count} [edge|edges] [is|are] hard: the part is faceted.' },
    soft: {
      severity: 'info',
      text: 'No edge is hard, though {count} [edge|edges] [bends|bend] by more than 60°.',
    },
  },
  run({ mesh, facts }, report) {
    if (!mesh.smoothing || facts.faceCount < 2) return
    const { edgeCount, edgeSides, edgeCorners } = facts.edges()
    const hard = facts.hardEdges()
    const cornerFaces = facts.cornerFaces()
    const normals = facts.faceNormals()
    let shared = 0
    let hardCount = 0
    let sharp = 0
    let gentle = 0
    for (let edge = 0; edge < edgeCount; edge++) {
      if (edgeSides[edge] !== 2) continue
      shared++
      hardCount += hard[edge]!
      const a = 3 * cornerFaces[edgeCorners[2 * edge]!]!
      const b = 3 * cornerFaces[edgeCorners[2 * edge + 1]!]!
      const dot =
        normals[a]! * normals[b]! + normals[a + 1]! * normals[b + 1]! + normals[a + 2]! * normals[b + 2]!
      const lengths =
        Math.hypot(normals[a]!, normals[a + 1]!, normals[a + 2]!) *
        Math.hypot(normals[b]!, normals[b + 1]!, normals[b + 2]!)
      if (lengths > 0 && dot / lengths < Math.cos(SHARP_BEND)) sharp++
      if (lengths > 0 && dot / lengths > Math.cos((MEND_ANGLE * Math.PI) / 180)) gentle++
    }
    const fix = { step: 'set-shading', params: { mode: 'angle', angle: MEND_ANGLE } }
    // where every edge is sharp, as on a box, all hard is right
    if (hardCount === shared && gentle > 0) report({ problem: 'hard', count: shared, fix })
    if (hardCount === 0 && sharp > 0) report({ problem: 'soft', count: sharp, fix })
  },
}
