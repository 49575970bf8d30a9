import { inspectScene, type SceneInspection } from '../../core/inspect/inspect-scene.ts'
import { wanted, type Command } from '../command.ts'
import { loadModel, parseReadOptions } from '../load.ts'

function inspectionText(inspection: SceneInspection): string {
  const lines = [
    `${inspection.format}, ${inspection.unitMeters ? `1 unit = ${inspection.unitMeters} m` : 'unit not stated'}, ${inspection.upAxis} up`,
  ]
  for (const node of inspection.nodes) {
    if (node.mesh === null) continue
    const mesh = inspection.meshes[node.mesh]!
    const sets = mesh.uvSets.map((set) => `${set.name} (${set.islands} islands)`).join(', ') || 'none'
    lines.push(
      `${node.path}: ${mesh.vertices} vertices, ${mesh.faces['3']} triangles, ${mesh.faces['4']} quads, ${mesh.faces.n} larger; UVs ${sets}; ${mesh.hardEdges} hard edges; ${mesh.creases.edges} creases; materials ${mesh.materials.map((material) => material.name).join(', ') || 'none'}`,
    )
  }
  return lines.join('\n')
}

/** What a file holds. */
export const inspectCommand: Command = (paths, values) => {
  const [path] = wanted(paths, 'FILE')
  const { scene, findings } = loadModel(path!, parseReadOptions(values.read))
  const inspection = inspectScene(scene, findings)
  const serious = inspection.messages.some((message) => message.severity === 'error')
  return { output: inspection, text: inspectionText(inspection), findings, status: serious ? 1 : 0 }
}
