import type { Scene } from '../scene/scene.ts'
import type { NamingRules } from './destinations/destination.ts'

/** Letters with marks without them, everything else that isn't plain as an underscore. */
const plain = (name: string): string =>
  name
    .normalize('NFD')
    .replace(/\p{M}+/gu, '')
    .replace(/[^A-Za-z0-9_]+/g, '_')
    .replace(/^_+|_+$/g, '') || 'part'

/** A name by the rules. Prefix and suffix count towards the longest length and are never cut. */
export function nameByRules(name: string, rules: NamingRules): string {
  const letters = rules.letters === 'plain' ? plain(name) : name
  const room = rules.longest === null ? Infinity : rules.longest - rules.prefix.length - rules.suffix.length
  return `${rules.prefix}${letters.slice(0, Math.max(1, room))}${rules.suffix}`
}

/** The scene with the names that a tool takes: of parts, groups and materials. Clashes get a number. */
export function applyNaming(scene: Scene, rules: NamingRules): Scene {
  const isFree = rules.letters === 'any' && rules.longest === null && !rules.prefix && !rules.suffix
  if (isFree) return scene
  const taken = new Set<string>()
  const unique = (name: string): string => {
    let free = nameByRules(name, rules)
    for (let number = 2; taken.has(free.toLowerCase()); number++)
      free = nameByRules(name, { ...rules, suffix: `_${number}${rules.suffix}` })
    taken.add(free.toLowerCase())
    return free
  }
  const nodes = scene.nodes.map((node) => ({ ...node, name: unique(node.name) }))
  // a mesh is called as its first part
  const meshes = scene.meshes.map((mesh, index) => {
    const first = nodes.find((node) => node.mesh === index)
    return first ? { ...mesh, name: first.name } : mesh
  })
  const plainRules = { ...rules, prefix: '', suffix: '' }
  const materials = scene.materials.map((material) => ({
    ...material,
    name: nameByRules(material.name, plainRules),
  }))
  return { ...scene, nodes, meshes, materials }
}
