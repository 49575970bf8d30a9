/** Measures a part off the page's thread. */
import { buildEdges } from '../../core/mesh/relations/adjacency.ts'
import { loadScene } from './load-scene.ts'

onmessage = async (event: MessageEvent<{ sceneId: string; node: number; unitMeters: number | null }>) => {
  const { sceneId, node, unitMeters } = event.data
  try {
    const scene = await loadScene(sceneId, () => {})
    const mesh = scene.meshes[scene.nodes[node]!.mesh]!
    const { edgePoints, edgeCount } = buildEdges(mesh)
    const lengths = new Float64Array(edgeCount)
    for (let edge = 0; edge < edgeCount; edge++) {
      const a = 3 * edgePoints[2 * edge]!
      const b = 3 * edgePoints[2 * edge + 1]!
      lengths[edge] =
        Math.hypot(
          mesh.points[a]! - mesh.points[b]!,
          mesh.points[a + 1]! - mesh.points[b + 1]!,
          mesh.points[a + 2]! - mesh.points[b + 2]!,
        ) * (unitMeters ?? 1)
    }
    postMessage({ lengths }, { transfer: [lengths.buffer] })
  } catch (error) {
    postMessage({ failure: (error as Error).message })
  }
}
