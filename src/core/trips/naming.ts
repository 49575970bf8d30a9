import { firstLetters } from '../base/bytes/text.ts'
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
  const cut = firstLetters(letters, Math.max(1, room))
  return `${rules.prefix}${cut || firstLetters(letters, 2)}${rules.suffix}`
}

/** What parts and materials are called here, by what they are called where they go. Only names that differ. */
export interface Renames {
  readonly nodes: ReadonlyMap<string, string>
  readonly materials: ReadonlyMap<string, string>
}

const NO_RENAMES: Renames = { nodes: new Map(), materials: new Map() }

/** Gives each name its own by the rules; clashes get a number. */
function createNamer(rules: NamingRules): { nameOf: (name: string) => string; renames: Map<string, string> } {
  const taken = new Set<string>()
  const renames = new Map<string, string>()
  return {
    renames,
    nameOf(name) {
      let free = nameByRules(name, rules)
      for (let number = 2; taken.has(free.toLowerCase()); number++)
        free = nameByRules(name, { ...rules, suffix: `_${number}${rules.suffix}` })
      taken.add(free.toLowerCase())
      if (free !== name) renames.set(free, name)
      return free
    },
  }
}

/** The scene with the names that a tool takes: of parts, groups and materials. Clashes get a number. */
export function applyNaming(scene: Scene, rules: NamingRules): { scene: Scene; renames: Renames } {
  const isFree = rules.letters === 'any' && rules.longest === null && !rules.prefix && !rules.suffix
  if (isFree) return { scene, renames: NO_RENAMES }
  const nodeNames = createNamer(rules)
  const materialNames = createNamer({ ...rules, prefix: '', suffix: '' })
  const nodes = scene.nodes.map((node) => ({ ...node, name: nodeNames.nameOf(node.name) }))
  // a mesh is called as its first part
  const meshes = scene.meshes.map((mesh, index) => {
    const first = nodes.find((node) => node.mesh === index)
    return first ? { ...mesh, name: first.name } : mesh
  })
  const materials = scene.materials.map((material) => ({
    ...material,
    name: materialNames.nameOf(material.name),
  }))
  return {
    scene: { ...scene, nodes, meshes, materials },
    renames: { nodes: nodeNames.renames, materials: materialNames.renames },
  }
}

/** The scene with parts and materials called as they are here. What a tool named otherwise stays. */
export function undoNaming(scene: Scene, { nodes, materials }: Renames): Scene {
  if (nodes.size === 0 && materials.size === 0) return scene
  const called = <Named extends { readonly name: string }>(
    entry: Named,
    names: ReadonlyMap<string, string>,
  ): Named => (names.has(entry.name) ? { ...entry, name: names.get(entry.name)! } : entry)
  return {
    ...scene,
    nodes: scene.nodes.map((node) => called(node, nodes)),
    meshes: scene.meshes.map((mesh) => called(mesh, nodes)),
    materials: scene.materials.map((material) => called(material, materials)),
  }
}
