import type { CheckDescriptor } from '../check.ts'

export const uvSetNames: CheckDescriptor = {
  id: 'uv-set-names',
  area: 'uvs',
  scope: 'part',
  title: 'Several UV sets, and their names',
  why: 'Many tools take the first set only, or the one whose name they know; the rest is lost or, worse, used.',
  reads: ['uvSets'],
  problems: {
    several: { severity: 'info', text: 'The part has {count} [UV set|UV sets]: {names}.' },
    unknown: {
      severity: 'warning',
      text: 'The UV set “{name}” has a name the destination does not expect ({known}).',
    },
    doubled: { severity: 'warning', text: '{count} [UV set|UV sets] [shares|share] the name “{name}”.' },
  },
  run({ mesh, settings }, report) {
    const names = mesh.uvSets.map((set) => set.name)
    if (names.length > 1)
      report({
        problem: 'several',
        count: names.length,
        parameters: { names: names.map((name) => `“${name}”`).join(', ') },
      })
    for (const name of new Set(names)) {
      const same = names.filter((other) => other === name).length
      if (same > 1) report({ problem: 'doubled', count: same, parameters: { name } })
      if (settings.uvSetNames.length > 0 && !settings.uvSetNames.includes(name))
        report({
          problem: 'unknown',
          count: 1,
          parameters: { name, known: settings.uvSetNames.join(', ') },
          ...(names.length === 1
            ? { fix: { step: 'rename-uv-set', params: { name: settings.uvSetNames[0]! } } }
            : {}),
        })
    }
  },
}
