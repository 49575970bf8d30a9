/** What leaves of a scene and in which space: done before a format's writer sees it, the same for every format. */
import { cutPolygons } from '../../mesh/cutting/cut-polygons.ts'
import { removeNodes } from '../../scene/edit-nodes.ts'
import { scaleRoots, transformScene } from '../../mesh/rebuilding/transform-scene.ts'
import { isIdentity } from '../../base/math/matrix.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { faceCountOf } from '../../scene/mesh.ts'
import type { Scene, Space } from '../../scene/scene.ts'
import { spaceMatrix, targetSpace, type SpaceWish } from '../../scene/space.ts'

export interface ChoiceOptions {
  /** Node indices; null: all. */
  readonly selection: readonly number[] | null
  readonly visibleOnly: boolean
  readonly cameras: boolean
  readonly lights: boolean
}

/** True where a node and all above it are shown. */
export function visibleNodes(scene: Scene): boolean[] {
  const visible: boolean[] = []
  for (const node of scene.nodes) visible.push(node.visible && (node.parent < 0 || visible[node.parent]!))
  return visible
}

/**
 * The scene with the chosen nodes alone, what they hang under (without its own mesh), and the joints that move
 * their skins. Cameras and lights go by their own options whichever parts are chosen, hidden ones not where only
 * what is visible leaves; other nodes without meshes stay with a whole scene.
 */
export function chooseNodes(scene: Scene, options: ChoiceOptions): Scene {
  const { selection, visibleOnly } = options
  const without: Scene = {
    ...scene,
    cameras: options.cameras ? scene.cameras : [],
    lights: options.lights ? scene.lights : [],
  }
  const dropped = new Set([
    ...(options.cameras ? [] : scene.cameras.map((camera) => camera.node)),
    ...(options.lights ? [] : scene.lights.map((light) => light.node)),
  ])
  const holds = new Set(scene.nodes.map((node) => node.parent))
  const removable = (index: number): boolean =>
    dropped.has(index) && scene.nodes[index]!.mesh < 0 && !holds.has(index)
  if (!selection && !visibleOnly)
    return dropped.size ? removeNodes(without, new Set([...dropped].filter(removable))) : without
  const visible = visibleOnly ? visibleNodes(scene) : null
  const chosen = new Set(selection ?? scene.nodes.keys())
  for (const { node } of [...without.cameras, ...without.lights]) chosen.add(node)
  const stays = scene.nodes.map(
    (_node, index) => chosen.has(index) && (!visible || visible[index]!) && !removable(index),
  )
  const shown = [...stays]
  for (let index = scene.nodes.length - 1; index >= 0; index--) {
    const { parent, mesh } = scene.nodes[index]!
    if (!stays[index]) continue
    if (parent >= 0) stays[parent] = true
    if (shown[index] && mesh >= 0)
      for (let joint of scene.meshes[mesh]!.skin?.jointNodes ?? [])
        for (; joint >= 0 && !stays[joint]; joint = scene.nodes[joint]!.parent) stays[joint] = true
  }
  const gone = new Set<number>()
  stays.forEach((stay, index) => stay || gone.add(index))
  const bare: Scene = {
    ...without,
    nodes: without.nodes.map((node, index) => (shown[index] ? node : { ...node, mesh: -1 })),
  }
  return removeNodes(bare, gone)
}

/** Every polygon of more than three corners cut, along the shorter diagonal where there are two. */
export function triangulateScene(scene: Scene): Scene {
  return {
    ...scene,
    meshes: scene.meshes.map((mesh) => {
      const wanted: number[] = []
      for (let face = 0; face < faceCountOf(mesh); face++)
        if (mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]! > 3) wanted.push(face)
      return wanted.length ? cutPolygons(createMeshFacts(mesh), wanted, true) : mesh
    }),
  }
}

export interface TargetSpace extends SpaceWish {
  readonly unitAs: 'metadata' | 'roots' | 'points'
  readonly axesAs: 'metadata' | 'points'
  readonly scale: number
}

/**
 * The scene's numbers in another space. `space` of the result says what the numbers then mean.
 *
 * Unit: 'points': points, places and pivots are multiplied; 'roots': roots get a scale; 'metadata': the numbers
 * stay, and the scene goes on saying its own unit; where it has none, a scale goes into the points. Axes: 'points':
 * everything is turned; 'metadata': nothing is.
 * `scale` makes the model really larger, in the way the unit is treated.
 */
export function moveToSpace(scene: Scene, target: TargetSpace): Scene {
  const own = scene.space
  const wanted = targetSpace(own, target)
  const axes: Space = target.axesAs === 'metadata' ? own : { ...wanted, unitMeters: own.unitMeters }
  const turn = spaceMatrix(own, axes)
  const inPoints = pointsFactor(own, target)
  const onRoots = target.unitAs === 'roots' ? ratioOf(own, target) : 1
  const space: Space =
    target.unitAs === 'metadata'
      ? { ...axes, unitMeters: own.unitMeters === null ? null : own.unitMeters * target.scale }
      : { ...axes, unitMeters: wanted.unitMeters }
  if (isIdentity(turn) && inPoints === 1 && onRoots === 1) return { ...scene, space }
  const moved = transformScene(scene, turn, inPoints)
  return { ...(onRoots === 1 ? moved : scaleRoots(moved, onRoots)), space }
}

function ratioOf(own: Space, target: TargetSpace): number {
  const wanted = targetSpace(own, target)
  return (
    (own.unitMeters !== null && wanted.unitMeters !== null && own.unitMeters !== wanted.unitMeters
      ? own.unitMeters / wanted.unitMeters
      : 1) * target.scale
  )
}

/** What the points of a scene are multiplied by on their way, and with them lengths that lie elsewhere. */
export function pointsFactor(own: Space, target: TargetSpace): number {
  // without a unit there is no metadata to say a scale by
  const unstated = target.unitAs === 'metadata' && own.unitMeters === null
  return target.unitAs === 'points' ? ratioOf(own, target) : unstated ? target.scale : 1
}

/** What was asked for and is left as it is, since it goes into what the file states alone: nothing would be converted. */
export function staysAsStated(own: Space, target: TargetSpace): string[] {
  const wanted = targetSpace(own, target)
  return [
    ...(target.unitAs === 'metadata' && own.unitMeters !== null && wanted.unitMeters !== own.unitMeters
      ? ['unit']
      : []),
    ...(target.axesAs === 'metadata' &&
    (wanted.upAxis !== own.upAxis ||
      wanted.frontAxis !== own.frontAxis ||
      wanted.handedness !== own.handedness)
      ? ['direction of the axes']
      : []),
  ]
}
