/** One model in several files, and its parts put together again from them. */
import { appendMeshes } from '../mesh/rebuilding/append-meshes.ts'
import { mergePoints, removeFaces } from '../mesh/rebuilding/edit-faces.ts'
import { removeNodes } from '../scene/edit-nodes.ts'
import { findWelds } from '../mesh/welds/find-welds.ts'
import { faceCountOf, type Mesh } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import { nodePaths } from '../scene/world.ts'
import type { Destination } from './destinations/destination.ts'
import { nameByRules } from './naming.ts'

export interface SplitPart {
  /** What the file's name gets behind the model's; empty for a model in one file. */
  readonly suffix: string
  readonly scene: Scene
  readonly selection: readonly number[]
}

/** A name that a file can have on every system. */
export const fileWord = (name: string): string =>
  nameByRules(name, { letters: 'plain', longest: 80, prefix: '', suffix: '' })

/** Materials of a mesh's faces, the lowest first; what has no face has none. */
function materialsOf(mesh: Mesh): number[] {
  const materials = new Set<number>(mesh.faceMaterials ?? [-1])
  return faceCountOf(mesh) === 0 ? [-1] : [...materials].sort((a, b) => a - b)
}

/** The mesh with the faces of one material alone. Lines and points that no face uses are in the first of its files only. */
function onlyMaterial(mesh: Mesh, material: number): Mesh | null {
  const materials = materialsOf(mesh)
  if (!materials.includes(material)) return null
  if (materials.length === 1) return mesh
  const gone = Uint8Array.from(mesh.faceMaterials!, (own) => (own === material ? 0 : 1))
  if (material === materials[0]) return removeFaces(mesh, gone)
  return removeFaces({ ...mesh, lines: null, pointElements: null }, gone, { dropLoose: true })
}

/** @param chosen nodes with meshes that leave. */
export function splitScene(
  scene: Scene,
  split: Destination['split'],
  chosen: readonly number[],
): SplitPart[] {
  const taken = new Set<string>()
  const unique = (word: string): string => {
    let free = word
    for (let number = 2; taken.has(free.toLowerCase()); number++) free = `${word}_${number}`
    taken.add(free.toLowerCase())
    return free
  }
  if (split === 'parts')
    return chosen.map((node) => ({
      suffix: `_${unique(fileWord(scene.nodes[node]!.name))}`,
      scene,
      selection: [node],
    }))
  if (split === 'one') return [{ suffix: '', scene, selection: chosen }]
  const materials = new Set<number>()
  for (const node of chosen)
    for (const material of materialsOf(scene.meshes[scene.nodes[node]!.mesh]!)) materials.add(material)
  return [...materials]
    .sort((a, b) => a - b)
    .map((material) => {
      const pieces = scene.meshes.map((mesh) => onlyMaterial(mesh, material))
      return {
        suffix: `_${unique(material < 0 ? 'no_material' : fileWord(scene.materials[material]!.name))}`,
        scene: { ...scene, meshes: scene.meshes.map((mesh, index) => pieces[index] ?? mesh) },
        selection: chosen.filter((node) => pieces[scene.nodes[node]!.mesh] !== null),
      }
    })
}

/**
 * Parts of one path that came from several files as one part, with points that lie on each other made one: what
 * a tool does that gets such files, and how a forecast tells what arrived.
 */
export function joinSplitParts(scene: Scene): Scene {
  const paths = nodePaths(scene)
  const byPath = new Map<string, number[]>()
  scene.nodes.forEach((node, index) => {
    if (node.mesh < 0) return
    const held = byPath.get(paths[index]!)
    if (held) held.push(index)
    else byPath.set(paths[index]!, [index])
  })
  const meshes = [...scene.meshes]
  const nodes = [...scene.nodes]
  const gone = new Set<number>()
  for (const group of byPath.values()) {
    const [first, ...others] = group
    if (others.length === 0) continue
    const whole = appendMeshes(
      nodes[first!]!.name,
      group.map((node) => scene.meshes[scene.nodes[node]!.mesh]!),
    )
    nodes[first!] = {
      ...nodes[first!]!,
      mesh: meshes.push(mergePoints(whole, findWelds(whole.points, 0))) - 1,
    }
    for (const node of others) gone.add(node)
  }
  return gone.size ? removeNodes({ ...scene, meshes, nodes }, gone) : scene
}
