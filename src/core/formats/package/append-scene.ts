/** Several model files of one package as one scene. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import { mergeMaterials } from '../../scene/merge-materials.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { EMPTY_SCENE, type Scene, type SceneCamera, type SceneNode } from '../../scene/scene.ts'
import { sameSpace } from '../../scene/space.ts'
import { moveToSpace } from '../arrange/arrange-scene.ts'

/** `more` in the space of `scene`, and the unit that is known of the two. Told where numbers were changed or assumed. */
function inOneSpace(
  scene: Scene,
  more: Scene,
  names: { readonly first: string; readonly file: string },
  messages: MessageCollector,
): { scene: Scene; more: Scene } {
  const unitMeters = scene.space.unitMeters ?? more.space.unitMeters
  if ((scene.space.unitMeters === null) !== (more.space.unitMeters === null))
    messages.add('package.unit-assumed', {
      file: scene.space.unitMeters === null ? names.first : names.file,
      other: scene.space.unitMeters === null ? names.file : names.first,
    })
  const base: Scene =
    unitMeters === scene.space.unitMeters ? scene : { ...scene, space: { ...scene.space, unitMeters } }
  if (sameSpace(base.space, more.space)) return { scene: base, more }
  messages.add('package.respaced', { file: names.file, other: names.first })
  const { upAxis, frontAxis, handedness } = base.space
  return {
    scene: base,
    more: moveToSpace(more, {
      unitMeters: base.space.unitMeters,
      upAxis,
      frontAxis,
      mirrored: handedness === 'left',
      unitAs: 'points',
      axesAs: 'points',
      scale: 1,
    }),
  }
}

/**
 * The nodes, meshes and materials of `more` behind those of `scene`, in its space. Materials of one name and another
 * content are kept apart.
 *
 * @param names of the two files, for what is said of them.
 * @param messages gets `package.respaced`, `package.unit-assumed`, `package.material-renamed`.
 */
export function appendScene(
  first: Scene,
  second: Scene,
  names: { readonly first: string; readonly file: string },
  messages: MessageCollector,
): Scene {
  const { scene, more } = inOneSpace(first, second, names, messages)
  const merge = mergeMaterials(scene, more)
  const placed = more.materials.map((_material, index) => merge.materialOf(index))
  for (const { from, to } of merge.renamed())
    messages.add('package.material-renamed', { name: from, to, file: names.file })
  const meshes: Mesh[] = more.meshes.map(({ source: _source, ...mesh }) => ({
    ...mesh,
    ...(mesh.skin
      ? {
          skin: {
            ...mesh.skin,
            jointNodes: mesh.skin.jointNodes.map((node) => (node < 0 ? -1 : node + scene.nodes.length)),
          },
        }
      : {}),
    faceMaterials: mesh.faceMaterials?.map((material) => (material < 0 ? -1 : placed[material]!)) ?? null,
  }))
  // what a second file called its things means others here
  const nodes: SceneNode[] = more.nodes.map(({ source: _source, ...node }) => ({
    ...node,
    parent: node.parent < 0 ? -1 : node.parent + scene.nodes.length,
    mesh: node.mesh < 0 ? -1 : node.mesh + scene.meshes.length,
  }))
  const shifted = ({ source: _source, ...item }: SceneCamera): SceneCamera => ({
    ...item,
    node: item.node < 0 ? -1 : item.node + scene.nodes.length,
  })
  // maps that no material names come along too
  const images = [...merge.images()]
  for (const image of more.images) if (!images.some((known) => known.file === image.file)) images.push(image)
  return {
    ...EMPTY_SCENE,
    ...scene,
    nodes: [...scene.nodes, ...nodes],
    meshes: [...scene.meshes, ...meshes],
    materials: merge.materials(),
    images,
    cameras: [...scene.cameras, ...more.cameras.map(shifted)],
    lights: [...scene.lights, ...more.lights.map(shifted)],
  }
}
