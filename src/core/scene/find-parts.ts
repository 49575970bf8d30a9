/** Nodes by the words that people have for them. */
import type { Scene } from './scene.ts'
import { nodePaths } from './world.ts'

export interface FoundParts {
  /** Node numbers, rising. */
  readonly nodes: readonly number[]
  /** The word was a pattern, so that several were meant. */
  readonly byPattern: boolean
}

const escaped = (text: string): string => text.replace(/[.+?^${}()|[\]\\]/g, '\\$&')

/**
 * What a word means in a scene: the nodes of that path, else of that name, else those whose path or name the pattern
 * fits, in which `*` stands for any letters. Letter case counts for paths and names, and not for patterns.
 */
export function findParts(scene: Scene, word: string): FoundParts {
  const paths = nodePaths(scene)
  const all = scene.nodes.map((_node, index) => index)
  const byPath = all.filter((index) => paths[index] === word)
  if (byPath.length) return { nodes: byPath, byPattern: false }
  const byName = all.filter((index) => scene.nodes[index]!.name === word)
  if (byName.length || !word.includes('*')) return { nodes: byName, byPattern: false }
  const pattern = new RegExp(`^${word.split('*').map(escaped).join('.*')}$`, 'is')
  return {
    nodes: all.filter((index) => pattern.test(paths[index]!) || pattern.test(scene.nodes[index]!.name)),
    byPattern: true,
  }
}
