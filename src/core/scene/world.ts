import { multiplyMatrices, type Matrix } from '../base/math/matrix.ts'
import { remember } from '../base/remembering/remember.ts'
import type { Scene, SceneNode } from './scene.ts'

// worked out once a list of nodes: on its way through a delivery a version was climbed through 27 times
const worldsOf = remember((nodes: readonly SceneNode[]): readonly Matrix[] => {
  const worlds: Matrix[] = []
  for (const node of nodes)
    worlds.push(node.parent < 0 ? node.local : multiplyMatrices(worlds[node.parent]!, node.local))
  return worlds
})

const pathsOf = remember((nodes: readonly SceneNode[]): readonly string[] => {
  const paths: string[] = []
  for (const node of nodes) {
    const name = node.name.replace(/\//g, '\\/')
    paths.push(node.parent < 0 ? name : `${paths[node.parent]!}/${name}`)
  }
  return paths
})

/** World matrix of each node, column-major, in the scene's own unit and axes. */
export const worldMatrices = ({ nodes }: Pick<Scene, 'nodes'>): readonly Matrix[] => worldsOf(nodes)

/** Path of each node: names joined with "/", a "/" inside a name written "\/". */
export const nodePaths = ({ nodes }: Pick<Scene, 'nodes'>): readonly string[] => pathsOf(nodes)

/** Nodes that show a mesh. */
export const partNodes = ({ nodes }: Pick<Scene, 'nodes'>): number[] =>
  nodes.flatMap((node, index) => (node.mesh >= 0 ? [index] : []))
