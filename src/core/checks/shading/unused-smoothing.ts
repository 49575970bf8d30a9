import { eachElement, type CheckDescriptor } from '../check.ts'

export const unusedSmoothing: CheckDescriptor = {
  id: 'unused-smoothing',
  area: 'shading',
  scope: 'part',
  title: 'Missing or unused smoothing',
  why: 'Polygons in no group shade in facets among smooth ones; groups that join nothing are rests of old edits.',
  reads: ['faceVertices', 'faceOffsets', 'smoothing'],
  problems: {
    none: { severity: 'info', text: 'The part says nothing about its smoothing.' },
    zero: {
      severity: 'warning',
      text: '{count} [polygon|polygons] [is|are] in no smoothing group while others are.',
    },
    lone: {
      severity: 'info',
      text: '{count} [smoothing group|smoothing groups] [joins|join] no two polygons.',
    },
  },
  run({ mesh, facts }, report) {
    const { smoothing } = mesh
    if (facts.faceCount < 2) return
    if (!smoothing) {
      if (!mesh.normals)
        report({
          problem: 'none',
          count: facts.faceCount,
          fix: { step: 'set-shading', params: { mode: 'angle', angle: 40 } },
        })
      return
    }
    if (smoothing.kind === 'edges') return
    const groupsOf = (face: number): number =>
      smoothing.kind === 'groups' ? smoothing.faceGroups[face]! : smoothing.faceMasks[face]!
    const zero: number[] = []
    for (let face = 0; face < facts.faceCount; face++)
      if (smoothing.kind === 'groups' ? groupsOf(face) <= 0 : groupsOf(face) === 0) zero.push(face)
    if (zero.length > 0 && zero.length < facts.faceCount)
      report({
        problem: 'zero',
        count: zero.length,
        places: eachElement('faces', zero),
        fix: { step: 'set-shading', params: { mode: 'angle', angle: 40 } },
      })
    // groups that join two polygons over some edge
    const { edgeCount, edgeSides, edgeCorners } = facts.edges()
    const cornerFaces = facts.cornerFaces()
    const all = new Set<number>()
    const joining = new Set<number>()
    const each = (value: number, into: Set<number>): void => {
      if (smoothing.kind === 'groups') {
        if (value > 0) into.add(value)
      } else for (let bit = 0; bit < 32; bit++) if (value & (1 << bit)) into.add(bit + 1)
    }
    for (let face = 0; face < facts.faceCount; face++) each(groupsOf(face), all)
    for (let edge = 0; edge < edgeCount; edge++) {
      if (edgeSides[edge] !== 2) continue
      const a = groupsOf(cornerFaces[edgeCorners[2 * edge]!]!)
      const b = groupsOf(cornerFaces[edgeCorners[2 * edge + 1]!]!)
      each(smoothing.kind === 'groups' ? (a === b ? a : 0) : a & b, joining)
    }
    const lone = [...all].filter((group) => !joining.has(group)).length
    if (lone > 0) report({ problem: 'lone', count: lone })
  },
}
