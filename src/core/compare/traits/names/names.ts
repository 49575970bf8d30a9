import { compared, type PartTraitDescriptor } from '../trait.ts'

/** The part's name. */
export const names: PartTraitDescriptor = {
  id: 'names',
  title: 'names',
  scope: 'part',
  ofThePart: true,
  notes: {
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
    const to = returnedScene.nodes[match.returnedNode]!.name
    return from === to ? compared('same', 'same') : compared('changed', 'renamed', { parameters: { to } })
  },
  carry: { kind: 'part', take: 'name' },
}
