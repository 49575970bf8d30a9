import { canonicalText } from '../canonical-text.ts'
import { type PartTraitDescriptor } from '../trait.ts'
import { compareTransforms } from './compare-transforms.ts'
import { transformText } from './transform-text.ts'

/** Hierarchy, translation, rotation with its order, scale, pivots, whether it is shown. */
export const transforms: PartTraitDescriptor = {
  id: 'transforms',
  title: 'transforms',
  scope: 'part',
  ofThePart: true,
  notes: {
    'placed-otherwise': {
      ledger: 'It stands in the same place, by another transform.',
      otherForm: 'The part stands where it stood; its own numbers for place and size are others.',
    },
    'pivots-changed': {
      ledger: 'It stands in the same place; its pivots or the order of its turning changed.',
      otherForm: 'The part stands where it stood; it turns about another point.',
    },
    'transforms-baked': {
      ledger: 'It stands in the same place: its transform is in its points.',
      otherForm: 'The part stands where it stood; the tool can’t tell its place from its points.',
    },
    'visibility-changed': {
      ledger: 'It stands where it stood; it was {from} and came back {to}.',
      forecast: 'It is {from} here and {to} in the file.',
    },
    moved: { ledger: 'The part’s transform or its place in the hierarchy changed.' },
  },
  fingerprint({ scene, node: index, world }, hash) {
    const node = scene.nodes[index]!
    const parent = node.parent < 0 ? null : scene.nodes[node.parent]!.name
    hash.text(canonicalText([parent, node.local, transformText(node.transform), node.visible]))
    hash.numbers(Float64Array.from(world))
  },
  compare: compareTransforms,
  carry: { kind: 'part', take: 'transform' },
}
