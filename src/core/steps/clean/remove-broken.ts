import { removeNodes } from '../../scene/edit-nodes.ts'
import { rebuildMesh, invert, plainSources } from '../../mesh/rebuilding/rebuild-mesh.ts'
import { changeMeshes, outcome, type StepDescriptor } from '../step.ts'

export const removeBroken: StepDescriptor = {
  id: 'remove-broken',
  area: 'clean',
  title: 'Remove what has no place',
  description:
    'Takes away points whose coordinates are no finite numbers, the polygons on them, and empty parts.',
  changes: ['topology', 'points', 'names'],
  parameters: [],
  run: (context) => {
    const cleaned = changeMeshes(context, 'points', (mesh, facts) => {
      const broken = facts.brokenPoints()
      if (broken.length === 0) return null
      const gone = new Uint8Array(facts.pointCount)
      for (const point of broken) gone[point] = 1
      const pointSources = Int32Array.from({ length: facts.pointCount }, (_value, point) => point).filter(
        (point) => !gone[point],
      )
      const newOf = invert(pointSources, facts.pointCount)
      const corners: number[] = []
      const faces: number[] = []
      const faceOffsets = [0]
      for (let face = 0; face < facts.faceCount; face++) {
        const own = Array.from(
          { length: mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]! },
          (_value, at) => mesh.faceOffsets[face]! + at,
        )
        if (own.some((corner) => gone[mesh.faceVertices[corner]!])) continue
        corners.push(...own)
        faces.push(face)
        faceOffsets.push(corners.length)
      }
      return {
        mesh: rebuildMesh(mesh, {
          pointSources: plainSources(pointSources),
          faceOffsets: Uint32Array.from(faceOffsets),
          faceVertices: Uint32Array.from(corners, (corner) => newOf[mesh.faceVertices[corner]!]!),
          cornerSources: plainSources(Int32Array.from(corners)),
          faceSources: Int32Array.from(faces),
        }),
        changedCount: broken.length,
        element: 'points',
        elements: broken,
      }
    })
    const empty = new Set(
      context.nodes.filter(
        (node) => cleaned.scene.meshes[cleaned.scene.nodes[node]!.mesh]!.points.length === 0,
      ),
    )
    return outcome(removeNodes(cleaned.scene, empty), cleaned.changedCount + empty.size, 'points and parts', {
      places: cleaned.places,
    })
  },
}
