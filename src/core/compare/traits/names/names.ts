import { compared, type PartTraitDescriptor } from '../trait.ts'

/** The part's name. */
export const names: PartTraitDescriptor = {
  id: 'names',
  title: 'names',
  scope: 'part',
  ofThePart: true,
  notes: {
    'name-within': {
      ledger: 'It came back inside “{as}”; the master’s name is kept.',
      forecast: 'It leaves inside “{as}”.',
      toolsOwn: true,
    },
    'name-in-pieces': {
      ledger: 'It came back in {count} parts, “{as}”; the master’s name is kept.',
      forecast: 'It leaves in {count} parts, “{as}”.',
      toolsOwn: true,
    },
    renamed: {
      ledger: 'It came back as “{to}”.',
      forecast: 'It leaves as “{to}”.',
      otherForm: 'The part goes under a name that the tool takes; Kelbo knows it again on return.',
    },
  },
  fingerprint({ scene, node }, hash) {
    hash.text(scene.nodes[node]!.name)
  },
  compare({ masterScene, returnedScene, match }) {
    const from = masterScene.nodes[match.masterNode]!.name
    if (match.by === 'pieces')
      return compared('lost', match.from?.length === 1 ? 'name-within' : 'name-in-pieces', {
        parameters: { as: (match.from ?? []).slice(0, 3).join('”, “'), count: match.from?.length ?? 0 },
      })
    const to = returnedScene.nodes[match.returnedNode]!.name
    return from === to ? compared('same', 'same') : compared('changed', 'renamed', { parameters: { to } })
  },
  carry: { kind: 'part', take: 'name' },
}
