import { counted } from '../../core/base/messages/render.ts'
import { inspectScene, type MeshInspection, type SceneInspection } from '../../core/inspect/inspect-scene.ts'
import { wanted, type Command } from '../command.ts'
import { loadModel, parseReadOptions } from '../load.ts'

/** Each mesh in one line: what every model has, and of the rest what it has. */
function meshText(mesh: MeshInspection): string {
  const sets = mesh.uvSets.map(({ name, islands }) => `${name} (${counted(islands, 'island')})`)
  const rest: [number, string][] = [
    [mesh.hardEdges, 'hard edge'],
    [mesh.creases.edges, 'creased edge'],
    [mesh.creases.corners, 'creased point'],
    [mesh.smoothingGroups.length, 'smoothing group'],
    [mesh.groups.length, 'face group'],
    [mesh.colorSets.length, 'colour set'],
    [mesh.shapes.length, 'blend shape'],
    [mesh.lines, 'line'],
    [mesh.pointElements, 'loose point'],
  ]
  return [
    [
      counted(mesh.vertices, 'vertex', 'vertices'),
      counted(mesh.faces['3'], 'triangle'),
      counted(mesh.faces['4'], 'quad'),
      `${mesh.faces.n} larger`,
    ].join(', '),
    `UVs ${sets.join(', ') || 'none'}`,
    ...rest.filter(([count]) => count > 0).map(([count, word]) => counted(count, word)),
    `materials ${mesh.materials.map(({ name }) => name).join(', ') || 'none'}`,
  ].join('; ')
}

function inspectionText({
  format,
  formatVersion,
  unitMeters,
  upAxis,
  nodes,
  meshes,
}: SceneInspection): string {
  const unit = unitMeters ? `1 unit = ${unitMeters} m` : 'unit not stated'
  return [
    `${format}${formatVersion ? ` ${formatVersion}` : ''}, ${unit}, ${upAxis} up`,
    ...nodes.flatMap(({ mesh, path }) => (mesh === null ? [] : [`${path}: ${meshText(meshes[mesh]!)}`])),
  ].join('\n')
}

/** What a file holds. */
export const inspectCommand: Command = (paths, values) => {
  const [path] = wanted(paths, 'FILE')
  const { scene, findings } = loadModel(path!, parseReadOptions(values.read))
  const inspection = inspectScene(scene, findings)
  const serious = inspection.messages.some((message) => message.severity === 'error')
  return { output: inspection, text: inspectionText(inspection), findings, status: serious ? 1 : 0 }
}
