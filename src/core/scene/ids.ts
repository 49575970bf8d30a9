/**
 * Ids: what a node, a mesh and a material are known by from version to version. Names and paths are for people and may
 * be doubled; numbers in a scene's lists change with every edit.
 */
import { createContentHash } from '../base/bytes/hash.ts'
import type { Scene } from './scene.ts'
import { nodePaths } from './world.ts'

/** What is newly made has no id yet; `completeIds` gives it one when the operation that made it has ended. */
export const NEW_ID = ''

const DIGITS = 12

const idOf = (kind: string, words: string): string =>
  `${kind}-${createContentHash().text(kind).text(words).digest().slice(0, DIGITS)}`

/**
 * Ids by what a thing is called, each once: those that stand already stay with the first that has them; a copy and
 * what is new get one of their own. The same file read twice gets the same ids, and a version stored before there were ids
 * gets the same ones each time it is read.
 */
function completed<Item extends { readonly id: string }>(
  kind: string,
  items: readonly Item[],
  wordsOf: (index: number) => string,
): readonly Item[] {
  const taken = new Set<string>()
  const lacking: number[] = []
  items.forEach((item, index) => {
    // stored before there were ids: the field is not there at all
    if (!item.id || taken.has(item.id)) lacking.push(index)
    else taken.add(item.id)
  })
  if (lacking.length === 0) return items
  const whole = [...items]
  const met = new Map<string, number>()
  for (const index of lacking) {
    const words = wordsOf(index)
    // twins named alike: counting from where the last one was found keeps thousands of them linear
    let copy = met.get(words) ?? 1
    let id = idOf(kind, copy > 1 ? `${words}\n${copy}` : words)
    while (taken.has(id)) id = idOf(kind, `${words}\n${++copy}`)
    met.set(words, copy + 1)
    taken.add(id)
    whole[index] = { ...items[index]!, id }
  }
  return whole
}

/** The scene with an id on every node, mesh and material, each once in its list; itself where all have one. */
export function completeIds(scene: Scene): Scene {
  const paths = nodePaths(scene)
  const nodes = completed('node', scene.nodes, (index) => paths[index]!)
  const shown = new Map<number, string>()
  scene.nodes.forEach(({ mesh }, index) => {
    if (mesh >= 0 && !shown.has(mesh)) shown.set(mesh, paths[index]!)
  })
  const meshes = completed('mesh', scene.meshes, (index) => shown.get(index) ?? scene.meshes[index]!.name)
  const materials = completed('material', scene.materials, (index) => scene.materials[index]!.name)
  return nodes === scene.nodes && meshes === scene.meshes && materials === scene.materials
    ? scene
    : { ...scene, nodes, meshes, materials }
}

/** Node number by id; -1 where the scene has no such node. */
export const nodeWithId = (scene: Scene, id: string): number =>
  scene.nodes.findIndex((node) => node.id === id)
