import { multiplyMatrices, type Matrix } from '../base/math/matrix.ts'
import type { Scene } from './scene.ts'

/** World matrix of each node, column-major, in the scene's own unit and axes. */
export function worldMatrices(scene: Scene): Matrix[] {
  const worlds: Matrix[] = []
  for (const node of scene.nodes)
    worlds.push(node.parent < 0 ? node.local : multiplyMatrices(worlds[node.parent]!, node.local))
  return worlds
}

/** Path of each node: names joined with "/", a "/" inside a name written "\/". */
export function nodePaths(scene: Scene): string[] {
  const paths: string[] = []
  for (const node of scene.nodes) {
    const name = node.name.replace(/\//g, '\\/')
    paths.push(node.parent < 0 ? name : `${paths[node.parent]!}/${name}`)
  }
  return paths
}
