import { type PartTraitDescriptor } from '../trait.ts'
import { carryColours } from './carry-colours.ts'
import { compareColours } from './compare-colours.ts'

/** Vertex colours. */
export const colours: PartTraitDescriptor = {
  id: 'colours',
  title: 'colours',
  scope: 'part',
  ofThePart: false,
  notes: {
    'colours-changed': { ledger: 'The colours of {changed} of {total} elements changed.' },
    'colour-sets-lost': {
      ledger: '{lost} of {total} colour sets did not come back: {names}.',
      forecast: 'The file will not carry {lost} of {total} colour sets: {names}.',
    },
    'colour-sets-gained': {
      ledger: 'The colours are the same, and further colour sets came back: {names}.',
      forecast: 'The file has further colour sets: {names}.',
      toolsOwn: true,
    },
  },
  fingerprint({ mesh }, hash) {
    for (const set of mesh.colorSets)
      hash.text(set.name).integer(set.components).numbers(set.values).numbers(set.indices)
  },
  compare: ({ master, returned, correspondence }) => compareColours(master, returned, correspondence),
  carry: {
    kind: 'elements',
    carry: (target, source, { map, ontoMaster }) => carryColours(target, source, map, ontoMaster),
  },
}
