/** Edits of the hierarchy that keep every part where it is in the world. */
import { invertAffine, multiplyMatrices, type Matrix } from '../base/math/matrix.ts'
import { IDENTITY_MATRIX, type Scene, type SceneNode } from './scene.ts'
import type { Mesh } from './mesh.ts'
import { worldMatrices } from './world.ts'

/** The scene with nodes standing at the given world matrices. Those that stay keep their local matrix's exact numbers. */
export function placeNodes(scene: Scene, worlds: readonly Matrix[]): Scene {
  const before = worldMatrices(scene)
  const same = (a: Matrix, b: Matrix): boolean => a.every((value, at) => value === b[at])
  return {
    ...scene,
    nodes: scene.nodes.map((node, index) => {
      const parentMoved = node.parent >= 0 && !same(before[node.parent]!, worlds[node.parent]!)
      if (!parentMoved && same(before[index]!, worlds[index]!)) return node
      const inverse = node.parent < 0 ? IDENTITY_MATRIX : invertAffine(worlds[node.parent]!)
      // under a parent without extent nothing has a place
      if (!inverse) return node
      return { ...node, local: multiplyMatrices(inverse, worlds[index]!), transform: null }
    }),
  }
}

/** The scene without some nodes; their children go to the nearest parent that stays, in the same place. */
export function removeNodes(scene: Scene, gone: ReadonlySet<number>): Scene {
  if (gone.size === 0) return scene
  const worlds = worldMatrices(scene)
  const newOf = new Int32Array(scene.nodes.length).fill(-1)
  const nodes: SceneNode[] = []
  scene.nodes.forEach((node, index) => {
    if (gone.has(index)) return
    newOf[index] = nodes.length
    let parent = node.parent
    while (parent >= 0 && gone.has(parent)) parent = scene.nodes[parent]!.parent
    if (parent === node.parent) nodes.push({ ...node, parent: parent < 0 ? -1 : newOf[parent]! })
    else {
      const inverse = parent < 0 ? IDENTITY_MATRIX : (invertAffine(worlds[parent]!) ?? IDENTITY_MATRIX)
      nodes.push({
        ...node,
        parent: parent < 0 ? -1 : newOf[parent]!,
        local: multiplyMatrices(inverse, worlds[index]!),
        transform: null,
      })
    }
  })
  return dropUnusedMeshes(renumberNodes({ ...scene, nodes }, newOf))
}

/** Node numbers in cameras, lights and skins after nodes got others; what belonged to a gone node goes. */
export function renumberNodes(scene: Scene, newOf: ArrayLike<number>): Scene {
  const kept = <Item extends { readonly node: number }>(items: readonly Item[]): Item[] =>
    items.flatMap((item) =>
      item.node < 0 ? [item] : newOf[item.node]! >= 0 ? [{ ...item, node: newOf[item.node]! }] : [],
    )
  return {
    ...scene,
    cameras: kept(scene.cameras),
    lights: kept(scene.lights),
    meshes: scene.meshes.map((mesh) =>
      mesh.skin
        ? {
            ...mesh,
            skin: {
              ...mesh.skin,
              jointNodes: mesh.skin.jointNodes.map((node) => (node < 0 ? -1 : newOf[node]!)),
            },
          }
        : mesh,
    ),
  }
}

/** The scene without meshes that no node shows. */
export function dropUnusedMeshes(scene: Scene): Scene {
  const used = new Set(scene.nodes.map((node) => node.mesh))
  if (scene.meshes.every((_mesh, index) => used.has(index))) return scene
  const newOf = new Int32Array(scene.meshes.length).fill(-1)
  const meshes: Mesh[] = []
  scene.meshes.forEach((mesh, index) => {
    if (!used.has(index)) return
    newOf[index] = meshes.length
    meshes.push(mesh)
  })
  return {
    ...scene,
    meshes,
    nodes: scene.nodes.map((node) => (node.mesh < 0 ? node : { ...node, mesh: newOf[node.mesh]! })),
  }
}

/** `name`, or with the first number from 2 that is free among `taken`; adds it there. */
export function freeName(name: string, taken: Set<string>): string {
  let free = name
  for (let number = 2; taken.has(free.toLowerCase()); number++) free = `${name}_${number}`
  taken.add(free.toLowerCase())
  return free
}
