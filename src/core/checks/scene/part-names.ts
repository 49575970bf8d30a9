import { SAFE_NAME } from '../../scene/safe-name.ts'
import type { CheckDescriptor } from '../check.ts'

export const partNames: CheckDescriptor = {
  id: 'part-names',
  area: 'scene',
  scope: 'scene',
  title: 'Names that tools refuse',
  why: 'Names are how parts find each other again after a hop; tools silently change those they don’t like.',
  reads: ['nodes', 'materials'],
  problems: {
    empty: { severity: 'error', text: '{count} [part|parts] [has|have] no name.' },
    doubled: { severity: 'error', text: '{count} [part|parts] [is|are] called “{name}”.' },
    characters: {
      severity: 'warning',
      text: '{count} [name|names] [holds|hold] characters that tools replace: {names}.',
    },
    long: { severity: 'warning', text: '{count} [name|names] [is|are] longer than {limit} characters.' },
    materials: {
      severity: 'warning',
      text: '{count} [material name|material names] [holds|hold] characters that tools replace: {names}.',
    },
  },
  run({ scene, settings }, report) {
    const fix = { step: 'clean-names', params: { length: settings.nameLength } }
    const all = scene.nodes.map((node, index) => ({ name: node.name, index }))
    const indices = (list: readonly { index: number }[]): number[] => list.map((entry) => entry.index)
    const empty = all.filter(({ name }) => name.trim() === '')
    if (empty.length) report({ problem: 'empty', count: empty.length, nodes: indices(empty), fix })
    const byName = new Map<string, { name: string; index: number }[]>()
    for (const entry of all) {
      // many tools don't tell capital letters from small ones
      const key = entry.name.toLowerCase()
      const held = byName.get(key)
      if (held) held.push(entry)
      else byName.set(key, [entry])
    }
    for (const list of byName.values())
      if (list.length > 1 && list[0]!.name.trim() !== '')
        report({
          problem: 'doubled',
          count: list.length,
          nodes: indices(list),
          parameters: { name: list[0]!.name },
          fix,
        })
    const some = (names: readonly string[]): string =>
      names
        .slice(0, 3)
        .map((name) => `“${name}”`)
        .join(', ') + (names.length > 3 ? ' …' : '')
    const odd = all.filter(({ name }) => name.trim() !== '' && !SAFE_NAME.test(name))
    if (odd.length)
      report({
        problem: 'characters',
        count: odd.length,
        nodes: indices(odd),
        parameters: { names: some(odd.map((entry) => entry.name)) },
        fix,
      })
    const long = all.filter(({ name }) => name.length > settings.nameLength)
    if (long.length)
      report({
        problem: 'long',
        count: long.length,
        nodes: indices(long),
        parameters: { limit: settings.nameLength },
        fix,
      })
    const materials = scene.materials.map((material) => material.name).filter((name) => !SAFE_NAME.test(name))
    if (materials.length)
      report({ problem: 'materials', count: materials.length, parameters: { names: some(materials) }, fix })
  },
}
