import { eachElement, type CheckDescriptor } from '../check.ts'

export const looseElements: CheckDescriptor = {
  id: 'loose-elements',
  area: 'mesh',
  scope: 'part',
  title: 'Loose points and edges',
  why: 'Points and edges without a polygon are forgotten rests; they stretch bounds and break other tools’ counts.',
  reads: ['points', 'faceVertices', 'lines', 'pointElements'],
  problems: {
    points: { severity: 'warning', text: '{count} [point|points] [belongs|belong] to no polygon.' },
    edges: { severity: 'warning', text: '{count} [edge|edges] [belongs|belong] to no polygon.' },
  },
  run({ mesh, facts }, report) {
    const used = new Uint8Array(facts.pointCount)
    for (const point of mesh.faceVertices) used[point] = 1
    const edges: number[] = []
    if (mesh.lines)
      for (let line = 0; line + 1 < mesh.lines.offsets.length; line++)
        for (let at = mesh.lines.offsets[line]!; at + 1 < mesh.lines.offsets[line + 1]!; at++)
          edges.push(mesh.lines.points[at]!, mesh.lines.points[at + 1]!)
    for (const point of mesh.lines?.points ?? []) used[point] = 1
    // a cloud of points or lines without polygons is meant as such
    if (facts.faceCount === 0) return
    const loose: number[] = []
    for (let point = 0; point < used.length; point++) if (!used[point]) loose.push(point)
    const fix = { step: 'remove-loose', params: {} }
    if (loose.length)
      report({ problem: 'points', count: loose.length, places: eachElement('points', loose), fix })
    if (edges.length)
      report({ problem: 'edges', count: edges.length / 2, places: eachElement('edges', edges), fix })
  },
}
