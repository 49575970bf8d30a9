/** Parts of a scene where they stand in the world, for formats that know no hierarchy; and what goes of it on the way. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import { isIdentity, multiplyMatrices } from '../../base/math/matrix.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene, SceneNode, Space } from '../../scene/scene.ts'
import { nodeMatricesIn } from '../../scene/space.ts'
import { visibleNodes } from './arrange-scene.ts'
import { lossesOfKept } from './losses-of-kept.ts'

export interface WorldPart {
  readonly name: string
  /** Its points are in the world, in the space that was asked for. */
  readonly mesh: Mesh
}

/** What a part that is written as its points in the world loses, as the end of a sentence. */
export function lossesOfPlace(node: SceneNode, isShown: boolean): string[] {
  return [
    ...(node.parent >= 0 || !isIdentity(node.local) ? ['transforms and hierarchy'] : []),
    ...(Object.keys(node.properties).length ? ['properties of parts'] : []),
    ...(isShown ? [] : ['that parts are hidden']),
  ]
}

/** What a scene loses that is written as parts alone. @param isWhole nothing less than all of it was asked for. */
export function lossesOfStage(scene: Scene, isWhole: boolean): string[] {
  const placed = new Set([...scene.cameras, ...scene.lights].map(({ node }) => node))
  return [
    ...(scene.cameras.length ? ['cameras'] : []),
    ...(scene.lights.length ? ['lights'] : []),
    // where parts were chosen nothing else was asked for
    ...(isWhole && scene.nodes.some(({ mesh }, index) => mesh < 0 && !placed.has(index))
      ? ['nodes without polygons']
      : []),
  ]
}

/**
 * @param isEmpty a mesh that the format has nothing to write of.
 * @param lost is told what goes: ends of sentences.
 * Findings: `write.part-skipped`.
 */
export function partsInWorld(
  scene: Scene,
  space: Space,
  settings: {
    readonly selection: readonly number[] | null
    readonly visibleOnly: boolean
    readonly scale: number
  },
  isEmpty: (mesh: Mesh) => boolean,
  messages: MessageCollector,
  lost: Set<string>,
): WorldPart[] {
  const chosen = settings.selection ? new Set(settings.selection) : null
  const shown = visibleNodes(scene)
  const { scale } = settings
  const larger = scale === 1 ? null : [scale, 0, 0, 0, 0, scale, 0, 0, 0, 0, scale, 0, 0, 0, 0, 1]
  const matrices = nodeMatricesIn(scene, space)
  const parts: WorldPart[] = []
  scene.nodes.forEach((node, index) => {
    if (node.mesh < 0 || (chosen && !chosen.has(index)) || (settings.visibleOnly && !shown[index])) return
    const mesh = scene.meshes[node.mesh]!
    if (isEmpty(mesh)) {
      messages.add('write.part-skipped', { name: node.name })
      return
    }
    for (const what of lossesOfPlace(node, shown[index]!)) lost.add(what)
    const { matrix } = matrices[index]!
    parts.push({
      name: node.name,
      mesh: transformMesh(mesh, larger ? multiplyMatrices(larger, matrix) : matrix),
    })
  })
  for (const what of lossesOfStage(scene, !chosen)) lost.add(what)
  for (const what of lossesOfKept(scene, null)) lost.add(what)
  return parts
}
