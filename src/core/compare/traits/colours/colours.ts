import { type PartTraitDescriptor } from '../trait.ts'
import { addShared } from '../hash-values.ts'
import { carryColours, everyIndex, withComponents } from './carry-colours.ts'
import { compareColours } from './compare-colours.ts'

/** Vertex colours. */
export const colours: PartTraitDescriptor = {
  id: 'colours',
  title: 'colours',
  scope: 'part',
  ofThePart: false,
  notes: {
    'colours-changed': {
      ledger: 'The colours of {changed} of {total} elements changed[?deviation|, the most by {deviation}].',
    },
    'colours-rounded': {
      ledger:
        'Of {total} elements {changed} [has a colour|have colours|changed] off by less than one step of 256, as where 8 bits kept them.',
      otherForm: 'The tool sees colours rounded to 256 steps.',
      toolsOwn: true,
    },
    'colour-sets-lost': {
      ledger: '{lost} of {total} colour sets did not come back: {names}.',
      forecast: 'The file will not carry {lost} of {total} colour sets: {names}.',
    },
    'colours-on-corners': {
      ledger: 'The colours are the same; those of points came back as those of corners.',
      forecast: 'The colours are the same; those of points are written as those of corners.',
      otherForm: 'The tool sees a colour for each corner of a polygon, all alike at a point.',
      toolsOwn: true,
    },
    'colours-on-points': {
      ledger: 'The colours are the same; those of corners came back as those of points.',
      forecast: 'The colours are the same; those of corners are written as those of points.',
      otherForm: 'The tool sees one colour a point.',
      toolsOwn: true,
    },
    'colour-set-renamed': {
      ledger: 'The colours are the same; the set is called “{to}” instead of “{from}”.',
      otherForm: 'The tool knows the set by its other name; Kelbo pairs them again on return.',
      toolsOwn: true,
    },
    'colour-sets-gained': {
      ledger: 'The colours are the same, and further colour sets came back: {names}.',
      forecast: 'The file has further colour sets: {names}.',
      toolsOwn: true,
    },
  },
  fingerprint({ mesh }, hash) {
    for (const set of mesh.colorSets) {
      hash.text(set.name).text(set.per)
      addShared(hash, everyIndex(set), withComponents(set, 4).values, 4)
    }
  },
  compare: ({ master, returned, correspondence }) => compareColours(master, returned, correspondence),
  carry: {
    kind: 'elements',
    carry: (target, source, { map, ontoMaster }) => carryColours(target, source, map, ontoMaster),
  },
}
