import { edgesWithPoints } from '../../uv/seams/given-seams.ts'
import { outcome, type StepDescriptor } from '../step.ts'
import { UV_SET } from '../shared/place-on-tiles.ts'
import { sewAlong } from '../shared/sew-along.ts'

export const sewUvs: StepDescriptor = {
  id: 'sew-uvs',
  area: 'uvs',
  title: 'Sew the UVs',
  description:
    'Puts islands together along chosen seams: the smaller one comes to the larger, and what is near gives way. What would fold or lie over itself stays apart.',
  changes: ['uvs'],
  parameters: [UV_SET],
  run: (context) =>
    context.only
      ? sewAlong(context, (_mesh, facts, _set, node) => {
          const limit = context.only!.get(node)
          if (!limit) return null
          if (limit.element === 'edges') return edgesWithPoints(facts, limit.elements)
          if (limit.element !== 'faces') return null
          // all sides of chosen faces
          const { edgeCount, cornerEdges } = facts.edges()
          const { faceOffsets } = facts.mesh
          const flags = new Uint8Array(edgeCount)
          for (const face of limit.elements)
            for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++)
              flags[cornerEdges[corner]!] = 1
          return flags
        })
      : outcome(context.scene, 0, 'polygons', { notes: ['No seams are chosen.'] }),
}
